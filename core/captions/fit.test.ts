import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { KIND_RULES, OUTLET_KINDS } from '../outlets/kinds.ts';
import { measure } from '../outlets/length.ts';
import { countGraphemes, graphemes } from '../text/graphemes.ts';
import { fitText } from './fit.ts';

const room = (limit: number) => (text: string) => countGraphemes(text) - limit;
const fitted = (text: string, limit: number) => {
  const made = fitText(text, room(limit), 'en');
  return made.fits ? made.text : `over by ${made.over}`;
};

describe('the ladder', () => {
  it.each([
    ['fits as it is', 'Cold water #swim', 20, 'Cold water #swim'],
    ['hashtags go first, from the last', 'Cold water today #swim #lido #sea', 25, 'Cold water today #swim'],
    ['then at a sentence', 'The water is cold. Bring a towel and some tea.', 30, 'The water is cold.'],
    ['or at a word, with an ellipsis', 'The water is very cold today and tomorrow too', 25, 'The water is very cold…'],
    [
      'links after it stay whole',
      'A long title about floating on your back https://lidos.example/v/1',
      50,
      'A long title about… https://lidos.example/v/1',
    ],
    [
      'so do mentions and hashtags within',
      'Thanks to @oldquay for lending us the very long rope and the #laneRopes of 1951',
      60,
      'Thanks to @oldquay for lending us the… #laneRopes of 1951',
    ],
    [
      'the longest run gives way, the short ones stay',
      'New: a rather long description of the film https://a.example/1 by Mo',
      50,
      'New: a rather long… https://a.example/1 by Mo',
    ],
    [
      'paragraphs keep apart',
      'A first paragraph of words.\n\nhttps://a.example/1',
      32,
      'A first…\n\nhttps://a.example/1',
    ],
    ['a run that cannot be cut goes as a whole', 'Supercalifragilistic https://a.example/1', 22, 'https://a.example/1'],
    ['a link alone is too long', 'https://lidos.example/a/long/one', 20, 'over by 12'],
    ['families of emoji stay whole', '👩🏽‍🚒👩🏽‍🚒👩🏽‍🚒👩🏽‍🚒', 3, '👩🏽‍🚒👩🏽‍🚒…'],
  ])('%s', (_, text, limit, result) => expect(fitted(text, limit)).toBe(result));
});

const words = fc.constantFrom(
  'cold',
  'water',
  'and',
  'towels.',
  'Bring',
  'tea!',
  'a',
  'sunrise,',
  '水',
  '🌊',
  '👩🏽‍🚒',
  'مرحبا',
);
const units = fc.constantFrom('https://a.example/1', '@oldquay', '#swim', '#openWater');
const captions = fc
  .array(
    fc.tuple(
      fc.oneof({ weight: 5, arbitrary: words }, { weight: 1, arbitrary: units }),
      fc.constantFrom(' ', ' ', ' ', '\n', '\n\n'),
    ),
    {
      minLength: 1,
      maxLength: 24,
    },
  )
  .map((parts) => parts.flat().join('').trim());
const anything = fc.oneof(
  captions,
  fc.string({ unit: 'binary', maxLength: 60 }),
  fc.string({ unit: 'grapheme', maxLength: 60 }),
);

describe('whatever the caption', () => {
  it('is never over the limit, in any kind’s unit, and is stable and idempotent', () => {
    const counted = OUTLET_KINDS.filter((kind) => KIND_RULES[kind].text.limit !== null);
    fc.assert(
      fc.property(anything, fc.constantFrom(...counted), fc.integer({ min: 1, max: 80 }), (text, kind, limit) => {
        const length = (each: string) => measure(KIND_RULES[kind].text, each);
        const there = (each: string) => length(each) - limit;
        const made = fitText(text, there, 'en');
        expect(fitText(text, there, 'en')).toEqual(made);
        if (!made.fits) {
          expect(made.over).toBeGreaterThan(0);
          return;
        }
        expect(length(made.text)).toBeLessThanOrEqual(limit);
        expect(fitText(made.text, there, 'en')).toMatchObject({ fits: true, text: made.text });
        if (length(text.trim()) <= limit) expect(made.text).toBe(text.trim());
      }),
    );
  });

  it('cuts no address, mention, hashtag or grapheme', () => {
    const unitsIn = (text: string) => text.match(/https:\S+|[@#]\p{L}+/gu) ?? [];
    fc.assert(
      fc.property(captions, fc.integer({ min: 1, max: 60 }), (text, limit) => {
        const made = fitText(text, room(limit), 'en');
        if (!made.fits) return;
        const whole = new Set(unitsIn(text));
        for (const unit of unitsIn(made.text)) expect(whole).toContain(unit);
        const known = new Set([...graphemes(text), '…', ' ', '\n']);
        for (const each of graphemes(made.text)) expect(known).toContain(each);
      }),
    );
  });

  it('is the longest there is: no longer beginning of its only run would do', () => {
    // With one run of plain words all cuts can be tried.
    const plain = fc.array(words, { minLength: 2, maxLength: 14 }).map((parts) => parts.join(' '));
    fc.assert(
      fc.property(plain, fc.integer({ min: 3, max: 60 }), (text, limit) => {
        const made = fitText(text, room(limit), 'en');
        if (!made.fits || made.text === text) return;
        const parts = text.split(' ');
        const cuts = parts.map((_, index) => parts.slice(0, index + 1).join(' ')).slice(0, -1);
        if (made.text.endsWith('…')) {
          // Punctuation may go with the ellipsis, words may not: every longer beginning is too long.
          const kept = made.text.slice(0, -1);
          const longer = cuts.filter((cut) => countGraphemes(cut.replace(/[.,!]$/, '')) > countGraphemes(kept));
          for (const cut of longer) expect(countGraphemes(cut.replace(/[.,!]$/, '')) + 1).toBeGreaterThan(limit);
        } else {
          const longer = cuts.filter((cut) => cut.endsWith('!') && cut.length > made.text.length);
          for (const cut of longer) expect(countGraphemes(cut)).toBeGreaterThan(limit);
        }
      }),
      { numRuns: 400 },
    );
  });
});
