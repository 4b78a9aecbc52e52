// Sentences by UAX #29 section 5, as Intl.Segmenter cuts them, with one addition: an abbreviation that the standard
// would take for an end ("Dr. Silva") is joined to what follows.

import { remembering } from './memo.ts';

const segmenters = new Map<string, Intl.Segmenter>();

function segmenterFor(locale: string): Intl.Segmenter {
  let segmenter = segmenters.get(locale);
  if (!segmenter) segmenters.set(locale, (segmenter = new Intl.Segmenter(locale, { granularity: 'sentence' })));
  return segmenter;
}

const ABBREVIATION = /(?:^|[\s(])(?:Mr|Mrs|Ms|Dr|Prof|St|No|vs|etc|approx|e\.g|i\.e|\p{Lu})\.\s*$/u;

/**
 * The first sentences of a text, without the white space around them. A line break ends a sentence (UAX #29 SB4), since
 * descriptions put headings and lists on lines of their own.
 *
 * @param most how many sentences at most, at least 1
 */
export function firstSentences(text: string, locale = 'en', most = 1): string {
  const key = `${locale} ${most}`;
  let first = known.get(key);
  if (!first) known.set(key, (first = remembering(2000, (each) => cutSentences(each, locale, most))));
  return first(text);
}
const known = new Map<string, (text: string) => string>();

function cutSentences(text: string, locale: string, most: number): string {
  const start = text.trimStart();
  if (start === '') return '';
  let end = 0;
  let begun = 0;
  let found = 0;
  for (const part of segmenterFor(locale).segment(start)) {
    end = part.index + part.segment.length;
    if (!part.segment.endsWith('\n') && ABBREVIATION.test(start.slice(begun, end))) continue;
    if (start.slice(begun, end).trim() !== '' && ++found >= most) break;
    begun = end;
  }
  return start.slice(0, end).trim();
}

/** The first sentence of a text. */
export const firstSentence = (text: string, locale = 'en'): string => firstSentences(text, locale);
