// Counting what a reader would call characters: extended grapheme clusters of UAX #29, by Intl.Segmenter. The segmenter
// costs about a microsecond a character, and a rehearsal counts thousands of captions, so stretches in which every code
// unit is certainly a cluster of its own are counted by their length.
import { segmenterFor } from './segments.ts';

const segmenter = segmenterFor('und', 'grapheme');
/** For a single question about a short text. */
const boundaries = new Intl.Segmenter('und', { granularity: 'grapheme' });

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
    for (const _ of segmenter.of(run)) clusters++;
    sum += clusters - run.length;
  }
  return sum;
}

/** The clusters themselves, in order. */
export function graphemes(text: string): string[] {
  return Array.from(segmenter.of(text), (part) => part.segment);
}

/**
 * The first clusters of a text, at most so many. What comes behind them is not looked at.
 *
 * @example cutGraphemes('👩‍👩‍👧 swims', 1) // '👩‍👩‍👧'
 */
export function cutGraphemes(text: string, most: number): string {
  if (text.length <= most) return text;
  const plain = text.slice(0, most + 1);
  // Where nothing can join, clusters are code units.
  if (!MAY_JOIN.test(plain)) return plain.slice(0, most);
  let count = 0;
  for (const { index } of segmenter.of(text)) if (count++ === most) return text.slice(0, index);
  return text;
}

/** A boundary is looked for within so many code units: no cluster that is written in earnest is longer. */
const LONGEST_CLUSTER = 256;

/**
 * The beginning of a text, at most so many UTF-16 code units, that ends with a whole cluster; for columns and lists with
 * a limit of their own. A cluster that is longer than the whole limit is cut between code points.
 *
 * @example cutUnits('🏊🏊', 3) // '🏊'
 */
export function cutUnits(text: string, most: number): string {
  if (text.length <= most) return text;
  if (!MAY_JOIN.test(text.slice(Math.max(0, most - 1), most + 1))) return text.slice(0, most);
  const from = Math.max(0, most - LONGEST_CLUSTER);
  const cluster = boundaries.segment(text.slice(from, most + LONGEST_CLUSTER)).containing(most - from);
  const end = from + (cluster?.index ?? 0);
  if (end > from) return text.slice(0, end);
  const before = text.charCodeAt(most - 1);
  return text.slice(0, before >= 0xd800 && before < 0xdc00 ? most - 1 : most);
}
