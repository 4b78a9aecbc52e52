import { eastAsianWidth } from 'get-east-asian-width';
import { segmenterFor } from './segments.ts';

const segmenter = segmenterFor('und', 'grapheme');
/** Addresses as networks find them in a text: up to the last sign that is not closing punctuation. */
const ADDRESS = /https?:\/\/\S*[^\s.,;:!?)\]}"'…]/gu;

/**
 * The weight of a text where wide characters (UAX #11: wide and fullwidth) and emoji (UTS #51: shown as pictures) weigh
 * two and everything else one, grapheme by grapheme (UAX #29).
 *
 * @param linkWeight what an address weighs, however long it is; null when it weighs what its characters do
 */
export function weightedLength(text: string, linkWeight: number | null): number {
  if (linkWeight === null) return weightOf(text);
  let weight = 0;
  let from = 0;
  for (const match of text.matchAll(ADDRESS)) {
    weight += weightOf(text.slice(from, match.index)) + linkWeight;
    from = match.index + match[0].length;
  }
  return weight + weightOf(text.slice(from));
}

/**
 * Stretches that have to be looked at grapheme by grapheme: anything but signs that certainly weigh one and join with
 * nothing (Latin and its marks of their own, dashes, quotation marks, currency), with a neighbour on each side.
 */
const LOOK_AT = /[^\n\x20-\u02ff\u2010-\u2027\u20a0-\u20bf]/;
const STRETCH =
  /[\s\S]?[^\n\x20-\u02ff\u2010-\u2027\u20a0-\u20bf](?:[\s\S]?[^\n\x20-\u02ff\u2010-\u2027\u20a0-\u20bf])*[\s\S]?/g;

/** A picture by itself, or made one by what follows it (UTS #51, ED-6 and ED-9a). */
const SHOWN_AS_PICTURE = /\p{Emoji_Presentation}|\p{Emoji}\ufe0f/u;

function weightOf(text: string): number {
  if (!LOOK_AT.test(text)) return text.length;
  let weight = text.length;
  for (const [stretch] of text.matchAll(STRETCH)) {
    weight -= stretch.length;
    for (const { segment } of segmenter.of(stretch))
      weight += SHOWN_AS_PICTURE.test(segment) ? 2 : eastAsianWidth(segment.codePointAt(0)!);
  }
  return weight;
}
