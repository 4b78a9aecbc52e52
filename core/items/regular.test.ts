import { describe, expect, it } from 'vitest';
import { readPath } from './json-path.ts';
import { readExpression } from './regular.ts';
import { renamedQuery } from './rename-path.ts';

describe('expressions in queries', () => {
  /** RFC 9485 section 5.3: a dot is no line feed and no carriage return; from memory. */
  it.each<[pattern: string, text: string, matches: boolean]>([
    ['a.b', 'axb', true],
    ['a.b', 'a\nb', false],
    ['a.b', 'a\rb', false],
    ['a[.]b', 'a.b', true],
    ['a[.]b', 'axb', false],
    ['a\\.b', 'a.b', true],
    ['\\p{Lu}+', 'ABC', true],
    ['[^a-z]{2}', 'AB', true],
    ['(ab|cd)*', 'abcdab', true],
    ['ab', 'xaby', false],
  ])('%s matches %j as a whole: %s', (pattern, text, matches) => {
    expect(readExpression(pattern, true)!(text)).toBe(matches);
  });

  it('match any part where a search is meant', () => {
    expect(readExpression('ab', false)!('xaby')).toBe(true);
    expect(readExpression('^ab', false)!('xaby')).toBe(false);
  });

  it('that are none match nothing', () => {
    for (const none of ['(', '[a', 'a{2,1}', 'x'.repeat(1000)]) expect(readExpression(none, true)).toBeUndefined();
    expect(readPath('$.list[?match(@, "(")]').read({ list: ['a'] })).toEqual([]);
  });

  it('are those of RFC 9535: match and search, with length, count and value', () => {
    const list = [{ t: 'tide' }, { t: 'ebb' }];
    expect(readPath('$.list[?match(@.t, "t.*")].t').read({ list })).toEqual(['tide']);
    expect(readPath('$.list[?search(@.t, "b")].t').read({ list })).toEqual(['ebb']);
    expect(readPath('$.list[?length(@.t) == 3].t').read({ list })).toEqual(['ebb']);
    // Extensions of the library are none of ours.
    expect(() => readPath('$.list[?has(@, "t")]')).toThrow();
  });
});

describe('renaming in queries', () => {
  it.each([
    ['$.customer.orders[*].name', 'customer', 'buyer', '$.buyer.orders[*].name'],
    ["$['customer']['orders']", 'customer', 'buyer', '$.buyer.orders'],
    ['$.customer.name', 'customer.name', 'who', '$.who'],
    ['$.customer', 'customer.name', 'who', '$.customer'],
    ['$.orders[?@.customer == $.customer.id]', 'customer', 'buyer', '$.orders[?@.customer == $.buyer.id]'],
    ['$..customer', 'customer', 'buyer', '$..customer'],
    ['$.customers', 'customer', 'buyer', '$.customers'],
    ['$[', 'customer', 'buyer', '$['],
  ])('%s: %s becomes %s', (query, from, to, expected) => {
    const renamed = renamedQuery(query, from, to);
    expect(renamed).toBe(expected);
  });

  it('picks the same elements under the new name', () => {
    const before = { customer: { orders: [{ n: 1 }, { n: 2 }] }, limit: 2 };
    const after = { buyer: before.customer, limit: 2 };
    const query = '$.customer.orders[?@.n < $.limit].n';
    expect(readPath(renamedQuery(query, 'customer', 'buyer')).read(after)).toEqual(readPath(query).read(before));
  });
});
