import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { matchNames } from './match-names.ts';

const places = ['Tern Bay Lido', 'Old Quay Pool', 'Gannet Point pool', 'Café on the Quay'].map((name, id) => ({
  id,
  name,
}));
const names = (pasted: string) => {
  const { found, unknown } = matchNames(pasted, places);
  return { found: found.map(({ name }) => name), unknown };
};

describe('a pasted list of names', () => {
  it('names things whatever their case, accents and signs, in the order of its lines, each once', () => {
    expect(names('gannet point POOL\r\nCafe on the Quay\n\nGannet-Point pool')).toEqual({
      found: ['Gannet Point pool', 'Café on the Quay'],
      unknown: [],
    });
  });
  it('takes a part of a name where it is only one’s, and says what it cannot tell', () => {
    expect(names('tern bay\tgannet')).toEqual({ found: ['Tern Bay Lido', 'Gannet Point pool'], unknown: [] });
    expect(names('quay\npool\nMars\nay')).toEqual({ found: [], unknown: ['quay', 'pool', 'Mars', 'ay'] });
    expect(names('')).toEqual({ found: [], unknown: [] });
  });
  it('finds every one of many that is named in full, and loses no line', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(1000), { minLength: 1, maxLength: 60 }), (numbers) => {
        const many = numbers.map((number) => ({ name: `Place ${number}` }));
        const { found, unknown } = matchNames(many.map(({ name }) => name).join('\n'), many);
        expect(found).toEqual(many);
        expect(unknown).toEqual([]);
      }),
    );
  });
});
