import { eastAsianWidth } from 'get-east-asian-width';

const segmenter = new Intl.Segmenter('und', { granularity: 'grapheme' });

/** Characters as a reader counts them (UAX #29). */
export const graphemes = (text: string): number => [...segmenter.segment(text)].length;

/** Wide characters (UAX #11) and emoji weigh two, links always the same, all else one. */
export function weighted(text: string, linkWeight: number): number {
  return text
    .split(/(https?:\/\/\S*[^\s.,;:!?)\]}"'])/u)
    .reduce(
      (sum, part, index) =>
        sum +
        (index % 2 ? linkWeight : [...segmenter.segment(part)].reduce((all, each) => all + weight(each.segment), 0)),
      0,
    );
}

function weight(grapheme: string): number {
  if (/\p{Emoji_Presentation}|\ufe0f/u.test(grapheme)) return 2;
  return eastAsianWidth(grapheme.codePointAt(0)!, { ambiguousAsWide: false });
}
