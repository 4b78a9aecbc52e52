// Counting and cutting against the Unicode Character Database, version 15.0, as Debian's package unicode-data carries it:
// GraphemeBreakTest.txt, SentenceBreakTest.txt and WordBreakTest.txt (UAX #29), EastAsianWidth.txt (UAX #11) and
// emoji-test.txt (UTS #51). What newer versions of Unicode changed is named where it is left out.
import { existsSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { countGraphemes, graphemes } from '../text/graphemes.ts';
import { sentenceEnds } from '../text/sentences.ts';
import { shorten } from '../text/shorten.ts';
import { weightedLength } from '../text/weighted.ts';

const DATABASE = '/usr/share/unicode';
const read = (file: string): string[] => {
  if (!existsSync(DATABASE)) throw new Error('These tests need the Debian package unicode-data: npm test installs it.');
  return readFileSync(`${DATABASE}/${file}`, 'utf8')
    .split('\n')
    .map((line) => line.replace(/#.*/, '').trim())
    .filter(Boolean);
};
const signs = (hex: string) =>
  hex
    .trim()
    .split(/\s+/)
    .map((each) => String.fromCodePoint(parseInt(each, 16)))
    .join('');
/** Lines of a break test: "÷ 0020 × 0308 ÷ 0020 ÷", as the pieces between the breaks. */
const breakTest = (file: string) =>
  read(`auxiliary/${file}`).map((line) =>
    line
      .split('÷')
      .filter((part) => part.trim() !== '')
      .map((part) => signs(part.replaceAll('×', ' '))),
  );

describe('grapheme clusters (UAX #29 section 3)', () => {
  /** ✁ ceased to be an Extended_Pictographic after Unicode 15, so a joiner no longer joins two of them. */
  const SINCE_CHANGED = ['✁\u200d✁'];
  const cases = breakTest('GraphemeBreakTest.txt').filter((parts) => !SINCE_CHANGED.includes(parts.join('')));
  it('break where the database says, and are counted the same without a segmenter', () => {
    expect(cases.length).toBeGreaterThan(600);
    for (const parts of cases) {
      const text = parts.join('');
      expect(graphemes(text)).toEqual(parts);
      expect(countGraphemes(text)).toBe(parts.length);
      // Also in the middle of a sentence, where stretches are counted without the segmenter.
      expect(countGraphemes(`Cold ${text}`)).toBe(graphemes(`Cold ${text}`).length);
    }
  });
  it('are never cut by shortening', () => {
    for (const parts of cases) {
      const text = parts.join('').trim();
      if (text === '') continue;
      const whole = new Set(graphemes(text));
      for (const most of [1, 2, 3])
        for (const each of graphemes(shorten(text, most).replace(/…$/, ''))) expect(whole).toContain(each);
    }
  });
});

it('sentences (UAX #29 section 5) end where the database says, also those that are cut without a segmenter', () => {
  const cases = breakTest('SentenceBreakTest.txt');
  expect(cases.length).toBeGreaterThan(500);
  for (const parts of cases) {
    const text = parts.join('');
    let end = 0;
    expect([...sentenceEnds(text, 'en')]).toEqual(parts.map((part) => (end += part.length)));
  }
});

it('words (UAX #29 section 4) break where the database says: captions are cut at them', () => {
  const cases = breakTest('WordBreakTest.txt');
  expect(cases.length).toBeGreaterThan(1800);
  const segmenter = new Intl.Segmenter('en', { granularity: 'word' });
  const differ = cases.filter(
    (parts) =>
      JSON.stringify(Array.from(segmenter.segment(parts.join('')), ({ segment }) => segment)) !== JSON.stringify(parts),
  );
  // The segmenter is the platform's (ICU); a few of its rules are tailored or newer.
  expect(differ.length / cases.length).toBeLessThan(0.02);
});

it('every emoji for the keyboard (UTS #51) is one character and weighs two', () => {
  const emoji = read('emoji/emoji-test.txt').flatMap((line) => /^([\dA-F ]+);\s*fully-qualified/.exec(line)?.[1] ?? []);
  expect(emoji.length).toBeGreaterThan(3600);
  for (const each of emoji.map(signs)) {
    expect(countGraphemes(each)).toBe(1);
    expect(weightedLength(each, null)).toBe(2);
    expect(weightedLength(`a${each}b`, null)).toBe(4);
  }
});

it('every assigned character weighs what EastAsianWidth.txt says: wide and fullwidth two, else one, emoji two', () => {
  /** Trigrams, hexagrams and counting rods are wide since Unicode 16. */
  const SINCE_WIDE = /[\u2630-\u2637\u268a-\u268f\u4dc0-\u4dff\u{1d300}-\u{1d356}\u{1d360}-\u{1d376}]/u;
  const SHOWN_AS_PICTURE = /\p{Emoji_Presentation}/u;
  let seen = 0;
  const wrong: string[] = [];
  for (const line of read('EastAsianWidth.txt')) {
    const [, from, to, width] = /^([\dA-F]+)(?:\.\.([\dA-F]+))?\s*;\s*(\w+)/.exec(line)!;
    for (let code = parseInt(from!, 16); code <= parseInt(to ?? from!, 16); code++) {
      const sign = String.fromCodePoint(code);
      if (/[\p{Cn}\p{Co}\p{Cs}]/u.test(sign) || SINCE_WIDE.test(sign)) continue;
      seen++;
      const weight = width === 'W' || width === 'F' || SHOWN_AS_PICTURE.test(sign) ? 2 : 1;
      if (weightedLength(sign, null) !== weight) wrong.push(`U+${code.toString(16)}`);
    }
  }
  expect(seen).toBeGreaterThan(150_000);
  expect(wrong).toEqual([]);
});
