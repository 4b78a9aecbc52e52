// Sentences by UAX #29 section 5, as Intl.Segmenter cuts them, with one addition: an abbreviation that the standard
// would take for an end ("Dr. Silva") is joined to what follows.

import { remembering } from './memo.ts';
import { segmenterFor } from './segments.ts';

const ABBREVIATION = /(?:^|[\s(])(?:Mr|Mrs|Ms|Dr|Prof|St|No|vs|etc|approx|e\.g|i\.e|\p{Lu})\.\s*$/u;

/**
 * The first sentences of a text, without the white space around them. A line break ends a sentence (UAX #29 SB4), since
 * descriptions put headings and lists on lines of their own.
 *
 * @param most how many sentences at most, at least 1
 */
export function firstSentences(text: string, locale = 'en', most = 1): string {
  if (most === 1) {
    const start = text.trimStart();
    const end = plainEnd(start, 0);
    // What is found this quickly need not be remembered.
    if (end > 0 && (start[end - 1] === '\n' || !ABBREVIATION.test(start.slice(0, end))))
      return start.slice(0, end).trim();
  }
  const key = `${locale} ${most}`;
  let first = known.get(key);
  if (!first) known.set(key, (first = remembering(2000, (each) => cutSentences(each, locale, most))));
  return first(text);
}
const known = new Map<string, (text: string) => string>();

function cutSentences(text: string, locale: string, most: number): string {
  const start = text.trimStart();
  let begun = 0;
  let found = 0;
  for (const end of sentenceEnds(start, locale)) {
    if (start[end - 1] !== '\n' && ABBREVIATION.test(start.slice(begun, end))) continue;
    if (start.slice(begun, end).trim() !== '' && ++found >= most) return start.slice(0, end).trim();
    begun = end;
  }
  return start.trim();
}

/** Where the sentences of a text end, with the white space behind them. */
export function* sentenceEnds(text: string, locale: string): Generator<number> {
  let end = 0;
  let next = 0;
  // Line by line, since no sentence goes on over the end of one (SB4): the segmenter takes in all that it is given.
  for (let line = 0; line < text.length; line = end) {
    if (next <= line) next = text.indexOf('\n', line) + 1 || text.length;
    const plain = plainEnd(text, line);
    if (plain > 0) {
      // What follows is at the beginning of a sentence, where the rules begin anew.
      yield (end = plain);
      continue;
    }
    for (const { segment } of segmenterFor(locale, 'sentence').of(text.slice(line, next)))
      yield (end += segment.length);
  }
}

/**
 * A sentence about whose end the rules leave no doubt in any language, with nothing in it that they look at: it ends with
 * its line (SB4), or with a stop, one space and a capital letter (SB11; SB6 to SB8a do not apply).
 */
const PLAIN = /[A-Za-z\u00c0-\u017f0-9 ,'"()#@&/+\u2013\u2014\u2018-\u201d-]*(?:\n|[.!?] (?=[A-Z]))/y;

/** Where a plain sentence ends, 0 when it is not plain: a segmenter costs more than all that else is done to a field. */
function plainEnd(text: string, from: number): number {
  PLAIN.lastIndex = from;
  return PLAIN.test(text) ? PLAIN.lastIndex : 0;
}

/** The first sentence of a text. */
export const firstSentence = (text: string, locale = 'en'): string => firstSentences(text, locale);
