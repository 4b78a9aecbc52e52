// Counting what a reader would call characters: extended grapheme clusters of UAX #29, by Intl.Segmenter. The segmenter
// costs about a microsecond a character, and a rehearsal counts thousands of captions, so stretches in which every code
// unit is certainly a cluster of its own are counted by their length.

const segmenter = new Intl.Segmenter('und', { granularity: 'grapheme' });

/**
 * Runs that need the segmenter: any code unit that might join with a neighbour (combining marks, joiners, surrogates,
 * Hangul, prepended marks, CR), together with the neighbour on each side. Below U+0300, and among the dashes, quotation
 * marks and ellipses of U+2010 to U+2027 and the currency signs, nothing joins but CR LF.
 */
const MAY_JOIN = /[^\n\x20-\u02ff\u2010-\u2027\u20a0-\u20bf]/;
const JOINING_RUN =
  /[\s\S]?[^\n\x20-\u02ff\u2010-\u2027\u20a0-\u20bf](?:[\s\S]?[^\n\x20-\u02ff\u2010-\u2027\u20a0-\u20bf])*[\s\S]?/g;

/** The number of extended grapheme clusters (UAX #29 section 3) in a text. */
export function countGraphemes(text: string): number {
  // One caption is counted for itself and again for each outlet.
  if (text !== lastText) {
    lastCount = count(text);
    lastText = text;
  }
  return lastCount;
}

let lastText = '';
let lastCount = 0;

function count(text: string): number {
  if (!MAY_JOIN.test(text)) return text.length;
  let sum = text.length;
  for (const [run] of text.matchAll(JOINING_RUN)) {
    let clusters = 0;
    for (const _ of segmenter.segment(run)) clusters++;
    sum += clusters - run.length;
  }
  return sum;
}

/** The clusters themselves, in order. */
export function graphemes(text: string): string[] {
  return Array.from(segmenter.segment(text), (part) => part.segment);
}
