import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clockLength, readLength, spokenLength } from './durations.ts';
import { countGraphemes, graphemes } from './graphemes.ts';
import { plainText } from './plain.ts';
import { firstSentence, sentenceEnds } from './sentences.ts';

describe('graphemes', () => {
  // UAX #29, Table 1a "Sample Grapheme Clusters", and the test strings of GraphemeBreakTest.txt, both from memory.
  it.each([
    ['g\u0308', 1], // g + combining diaeresis
    ['\uac01', 1], // Hangul gag, precomposed
    ['\u1100\u1161\u11a8', 1], // the same in jamo
    ['\u0e01', 1], // Thai ko kai
    ['\u0ba8\u0bbf', 1], // Tamil ni
    ['\u0e40', 1], // Thai e
    ['\u0e01\u0e33', 1], // Thai kam
    ['\u0937\u093f', 1], // Devanagari ssi
    ['\u0915\u094d\u0937\u093f', 1], // Devanagari kshi, GB9c
    ['ch', 2], // a digraph is two
    ['\r\n', 1], // GB3
    ['\n\r', 2],
    ['a\u0301\u0327', 1],
    ['\u{1f1f5}\u{1f1f9}\u{1f1ea}', 2], // regional indicators go in pairs, GB12
    ['\u{1f469}\u200d\u{1f692}', 1], // joined emoji, GB11
    ['\u{1f44d}\u{1f3fd}', 1], // with a skin tone
    ['a\u200d\u{1f6d1}', 2], // a joiner does not join a letter to an emoji
    ['\u0600a', 1], // a prepended mark, GB9b
    ['', 0],
  ])('counts %j as %i', (text, count) => {
    expect(countGraphemes(text)).toBe(count);
  });

  it('counts like the segmenter for any text', () => {
    const mixed = fc.string({
      unit: fc.oneof(
        fc.string({ unit: 'binary', minLength: 1, maxLength: 2 }),
        fc.constantFrom(
          'a',
          ' ',
          '\r',
          '\n',
          '\u0301',
          '\u200d',
          '\u{1f469}',
          '\u{1f3fd}',
          '…',
          '’',
          '\ufe0f',
          '©',
          '\u1100',
          '\u1161',
          '\u0600',
          '\ud800',
        ),
      ),
      maxLength: 40,
    });
    fc.assert(
      fc.property(mixed, (text) => {
        expect(countGraphemes(text)).toBe(graphemes(text).length);
      }),
      { numRuns: 2000 },
    );
  });
});

describe('firstSentence', () => {
  it.each([
    ['Three drills. Start with the wall.', 'Three drills.'],
    ['How keep a line? Look up.', 'How keep a line?'],
    ['Dr. Almeida explains. Then swim.', 'Dr. Almeida explains.'],
    ['Heading without a stop\nThen the text.', 'Heading without a stop'],
    ['It costs 3.50 today. Bring coins.', 'It costs 3.50 today.'],
    ['  \n ', ''],
    ['No end', 'No end'],
  ])('%j → %j', (text, first) => expect(firstSentence(text)).toBe(first));

  it('is always the beginning of the text, and stable', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (text) => {
        const first = firstSentence(text);
        expect(text.trimStart().startsWith(first)).toBe(true);
        expect(firstSentence(first)).toBe(first);
      }),
    );
  });
});

describe('plainText', () => {
  it('keeps words and drops markup, scripts and styles', () => {
    expect(plainText('<p>Hello <b>you</b></p><script>alert(1)</script><p>again</p>')).toBe('Hello you\n\nagain');
    expect(plainText('a &lt;b&gt; &amp; c')).toBe('a <b> & c');
    expect(plainText('line<br>line')).toBe('line\nline');
  });
  it('never throws and never leaves a script behind', () => {
    fc.assert(
      fc.property(
        fc.string({
          unit: fc.constantFrom('<', '>', '/', 'script', 'b', ' ', '&', ';', '"', '=', 'x', '<!--', '-->', ']]>'),
        }),
        (html) => {
          expect(typeof plainText(html)).toBe('string');
        },
      ),
    );
  });
});

describe('lengths', () => {
  it('reads what people write', () => {
    expect(readLength('2 min')).toBe(120);
    expect(readLength('1:30')).toBe(90);
    expect(readLength('1:02:03')).toBe(3723);
    expect(readLength('90 s')).toBe(90);
    expect(readLength('1 h 30')).toBe(5400);
    expect(readLength('2')).toBe(120);
    expect(readLength('1,5 min')).toBe(90);
    expect(readLength('soon')).toBeUndefined();
    expect(readLength('')).toBeUndefined();
  });
  it('shows them', () => {
    expect(clockLength(370)).toBe('6:10');
    expect(clockLength(3723)).toBe('1:02:03');
    expect(spokenLength(5400)).toBe('1 h 30 min');
  });
  it('reads back what it says', () => {
    fc.assert(fc.property(fc.nat(500_000), (seconds) => void expect(readLength(spokenLength(seconds))).toBe(seconds)));
  });
});

describe('the ends of sentences', () => {
  // The reference is ICU's implementation of UAX #29 section 5, as Intl.Segmenter has it.
  const mixed = fc.string({
    unit: fc.oneof(
      { weight: 1, arbitrary: fc.string({ unit: 'binary', minLength: 1, maxLength: 1 }) },
      {
        weight: 12,
        arbitrary: fc.constantFrom(
          ...['. ', '.', '!', '? ', ' ', '\n', 'Cold', 'water', 'A', 'é', 'ſ', '3', ',', ';', ':', '-', '–', '—', '"'],
          ...[
            "'",
            '’',
            '“',
            '(',
            ')',
            '[',
            '…',
            '\r\n',
            '\u0085',
            '\u2028',
            '\u0301',
            '\u200d',
            '\u00ad',
            '。',
            '水',
            'ª',
          ],
        ),
      },
    ),
    maxLength: 30,
  });
  it.each(['en', 'pt', 'el', 'ja', 'ar'])('are those of the standard, however plain a text is (%s)', (locale) => {
    const segmenter = new Intl.Segmenter(locale, { granularity: 'sentence' });
    fc.assert(
      fc.property(mixed, (text) => {
        const ends = Array.from(segmenter.segment(text), ({ index, segment }) => index + segment.length);
        expect([...sentenceEnds(text, locale)]).toEqual(ends);
      }),
      { numRuns: 2000 },
    );
  });
});
