import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Segmenter } from './segments.ts';

/** What makes boundaries hard: joiners, marks, flags, apostrophes, stops, abbreviations, brackets, small letters. */
const PARTS = [
  'a',
  'B',
  ' ',
  '\n',
  '.',
  "'",
  ',',
  '(',
  ')',
  '"',
  '9',
  '🏊',
  '\u200d',
  '👩',
  '🇵',
  '\u0301',
  '\r',
  'é',
  '!',
  'can’t',
  ' e.g. ',
  '\ufe0f',
];
const text = fc.array(fc.constantFrom(...PARTS), { maxLength: 400 }).map((parts) => parts.join(''));

describe('segments by windows', () => {
  it.each(['grapheme', 'word', 'sentence'] as const)('of every %s are those of the whole text', (granularity) => {
    const whole = new Intl.Segmenter('en', { granularity });
    // Windows far smaller than in earnest, so that boundaries fall everywhere.
    const windows = new Segmenter(
      'en',
      granularity,
      granularity === 'grapheme' ? 8 : granularity === 'word' ? 100 : 600,
    );
    fc.assert(
      fc.property(text, (each) => {
        expect(Array.from(windows.of(each), (part) => part.segment)).toEqual(
          Array.from(whole.segment(each), (part) => part.segment),
        );
      }),
      { numRuns: 400 },
    );
  });

  it('know where they stand, and which are words', () => {
    const words = new Segmenter('en', 'word', 80);
    const said = 'To swim is to fly. '.repeat(20);
    for (const { segment, index, isWordLike } of words.of(said)) {
      expect(said.slice(index, index + segment.length)).toBe(segment);
      expect(isWordLike).toBe(/\w/.test(segment));
    }
  });

  it('are found in one that is longer than any window', () => {
    const long = `e${'\u0301'.repeat(5000)}x`;
    expect(Array.from(new Segmenter('und', 'grapheme').of(long), (part) => part.segment.length)).toEqual([5001, 1]);
  });
});
