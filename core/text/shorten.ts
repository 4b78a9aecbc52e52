import { countGraphemes, cutGraphemes, cutUnits } from './graphemes.ts';
import { segmenterFor } from './segments.ts';
import { sentenceEnds } from './sentences.ts';

const ELLIPSIS = '…';
/** So many code units behind a cut decide where words and sentences end. */
const NEAR = 400;

/**
 * A text of at most so many graphemes: whole if it fits, else up to the end of a sentence if that leaves at least half,
 * else up to the end of a word with an ellipsis, else cut between graphemes. An address, a hashtag or a mention is kept
 * whole or left out.
 *
 * @param most graphemes (UAX #29), at least 1
 */
export function shorten(text: string, most: number, locale = 'en'): string {
  const trimmed = text.trim();
  const room = cutGraphemes(trimmed, most);
  if (room === trimmed) return trimmed;
  if (most <= 1) return most < 1 ? '' : ELLIPSIS;
  // Where sentences and words end depends on what stands near, not on all that follows.
  const whole = cutUnits(trimmed, room.length + NEAR);
  const sentence = sentenceEnd(room, whole, locale);
  if (sentence > 0 && countGraphemes(whole.slice(0, sentence)) * 2 >= most) return whole.slice(0, sentence).trimEnd();
  const beforeEllipsis = cutGraphemes(room, most - 1);
  const cut = wordEnd(beforeEllipsis.length, whole, locale);
  const kept = withoutStops(whole.slice(0, cut));
  return (kept === '' ? beforeWhole(beforeEllipsis, whole) : kept) + ELLIPSIS;
}

/** Without the white space and the stops at its end that an ellipsis takes the place of. */
function withoutStops(text: string): string {
  let end = text.length;
  while (end > 0 && /[\s,;:–—-]/u.test(text[end - 1]!)) end--;
  return text.slice(0, end);
}

/** Where the last whole sentence within a beginning ends; 0 when none does. */
function sentenceEnd(beginning: string, whole: string, locale: string): number {
  let end = 0;
  let begun = 0;
  for (const next of sentenceEnds(whole, locale)) {
    const stop = begun + whole.slice(begun, next).trimEnd().length;
    if (stop > beginning.length) break;
    if (/[.!?…。！？]["'”’»)\]]*$/u.test(whole.slice(begun, stop)) || whole[next - 1] === '\n') end = stop;
    begun = next;
  }
  return end;
}

/** Where the last whole word, address, hashtag or mention up to an offset ends. */
function wordEnd(offset: number, whole: string, locale: string): number {
  let end = 0;
  for (const part of segmenterFor(locale, 'word').of(whole)) {
    const stop = part.index + part.segment.length;
    if (stop > offset) break;
    if (part.isWordLike) end = stop;
  }
  return outsideOf(whole, end);
}

/** The same offset, or the beginning of the address, hashtag or mention that it lies in. */
function outsideOf(whole: string, offset: number): number {
  for (const match of whole.matchAll(/https?:\/\/\S+|[#＃@][\p{XID_Continue}.-]+/gu)) {
    const stop = match.index + match[0].length;
    if (match.index < offset && offset < stop) return match.index;
    if (match.index >= offset) break;
  }
  return offset;
}

/** A beginning without the address or hashtag that it would cut; for texts that are one long word. */
function beforeWhole(beginning: string, whole: string): string {
  return whole.slice(0, outsideOf(whole, beginning.length)).trimEnd();
}
