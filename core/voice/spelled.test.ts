// Numbers and streets as they are spelled out, so that a draft cannot hide what is not among the facts in words.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ToWords } from 'to-words/en-GB';
import { postalIn } from './postal.ts';
import { readOutIn, SPELLED, spelledNumber } from './spelled.ts';
import { isAmong, spelledPricesIn, statedIn } from './stated.ts';

describe('numbers in English words', () => {
  // The reference library to-words spells every number; it is read back.
  const inWords = new ToWords();
  it('reads back what a reference library spells', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 9_999_999 }), (number) => {
        const said = inWords.convert(number);
        expect(spelledNumber(said), said).toBe(number);
        expect(new RegExp(`^${SPELLED}$`, 'i').test(said), said).toBe(true);
        expect(spelledNumber(said.toLowerCase().replace(/\bone (hundred|thousand)/, 'a $1'))).toBe(number);
      }),
    );
  });
  it.each([
    ['twenty-five', 25],
    ['a hundred and ten', 110],
    ['half a', 0.5],
    ['two and a half', 2.5],
    ['two thousand and one', 2001],
    ['hello', null],
    ['and', null],
  ])('%s', (said, number) => {
    expect(spelledNumber(said)).toBe(number);
  });

  it('finds money in words, at the amount that digits say', () => {
    const keys = (text: string) => spelledPricesIn(text).map(({ key }) => key);
    expect(keys('A swim is seven pounds, or a pound for children.')).toEqual(['7', '1']);
    expect(keys('Twenty percent off; Six-euro tickets.')).toEqual(['20', '6']);
    expect(keys('One of us, two of you, and a pound cake.')).toEqual(['1']);
    expect(keys('Come at seven. Bring four towels.')).toEqual([]);
    const fact = statedIn('A swim is £7.');
    expect(isAmong(spelledPricesIn('seven pounds')[0]!, fact)).toBe(true);
    expect(isAmong(spelledPricesIn('eight pounds')[0]!, fact)).toBe(false);
  });
  it('does not take the words of other languages for English ones', () => {
    expect(statedIn('Nous avons six cents places pour vous tous.', false)).toEqual([]);
  });

  it('finds a telephone number that is read out', () => {
    expect(readOutIn('Call oh two eight nine, double five five oh one four.')).toEqual([
      { said: 'oh two eight nine, double five five oh one four', digits: '0289555014' },
    ]);
    expect(readOutIn('One, two, three and off we go.')).toEqual([]);
    fc.assert(
      fc.property(fc.stringMatching(/^\d{6,14}$/), (digits) => {
        const said = [...digits].map((digit) => inWords.convert(Number(digit)).toLowerCase()).join(' ');
        expect(readOutIn(`Ring ${said} today`).map((each) => each.digits)).toEqual([digits]);
      }),
    );
  });
});

describe('streets with a number', () => {
  it.each([
    ['We are at 1 Sea Wall, by the harbour.', '1 sea wall'],
    ['Come to 14a, Old Harbour Road!', '14a old harbour road'],
    ['Old Quay 4 is where we are.', '4 old quay'],
    ['Find us at Dune Road 12.', '12 dune road'],
    ['Estamos na Rua da Praia, 7.', '7 rua da praia'],
    ['Nous sommes au 3, avenue de la Mer.', '3 avenue de la mer'],
    ['Wir sind in der Hafenstraße 5.', '5 hafenstr'],
    ['Sie finden uns in der Hafenstr. 5.', '5 hafenstr'],
    ['We zitten aan de Prinsengracht 263.', '263 prinsengracht'],
  ])('%s', (text, key) => {
    expect(postalIn(text).map((each) => each.key)).toEqual([key]);
  });
  it.each([
    'We open at 7 on the sea wall.',
    'Twenty lanes and 2 pools.',
    'Thank you for the 5 stars. Our place is yours.',
    'Sunday 12 January, at our place',
  ])('finds none in: %s', (text) => {
    expect(postalIn(text)).toEqual([]);
  });
  it('is the same street, abbreviated or not', () => {
    const fact = statedIn('We are at 12 Harbour St.');
    expect(statedIn('12, Harbour Street').every((each) => isAmong(each, fact))).toBe(true);
    expect(statedIn('13 Harbour Street').every((each) => isAmong(each, fact))).toBe(false);
  });
  it('reads odd texts once, not again and again', () => {
    const streets = Array.from({ length: 20_000 }, (_, number) => `${number} Sea Road, a${number}.example`).join('; ');
    expect(statedIn(streets).length).toBeGreaterThanOrEqual(40_000);
    // 300,000 characters, read as often as there are words, would outlast the test.
    for (const part of ['A ', 'Rua ', '1 A', 'Aa-', 'seven ', 'one-', 'double ', 'St. ', 'Weg'])
      expect(statedIn(`${part.repeat(300_000 / part.length)}!`).length).toBeGreaterThanOrEqual(0);
  });
});
