import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BOUNDS, bounded, boundedItems, OutOfBounds } from './bounded.ts';
import { identityOf, storable } from './identity.ts';
import type { FieldValue, Fields } from './item.ts';
import { inferSchema, LEARNED, mergeSchemas, type JsonSchema } from './json-schema.ts';

const depthOf = (value: unknown): number =>
  value !== null && typeof value === 'object' ? 1 + Math.max(0, ...Object.values(value).map(depthOf)) : 0;
const textsIn = (value: unknown): string[] =>
  typeof value === 'string'
    ? [value]
    : value !== null && typeof value === 'object'
      ? [...(Array.isArray(value) ? [] : Object.keys(value)), ...Object.values(value).flatMap(textsIn)]
      : [];
const nest = (depth: number): FieldValue => (depth === 0 ? 'bottom' : { a: nest(depth - 1) });
/** Anything JSON.parse can give, lone surrogates included. */
const json = fc
  .json({ maxDepth: 6, stringUnit: 'binary' })
  .map((text) => JSON.parse(text.replaceAll('x', '\\ud83c')) as FieldValue);

describe('what comes from outside', () => {
  it('is within bounds afterwards, well formed, and the same when brought there again', () => {
    fc.assert(
      fc.property(json, (value) => {
        const within = bounded(value);
        expect(depthOf(within)).toBeLessThanOrEqual(BOUNDS.depth);
        for (const text of textsIn(within)) expect(text.isWellFormed()).toBe(true);
        expect(bounded(within)).toEqual(within);
        // What a database that checks JSON would take.
        expect(JSON.parse(JSON.stringify(within))).toEqual(JSON.parse(JSON.stringify(within)));
        expect(JSON.stringify(within)).not.toMatch(/\\\\ud[89a-f]/i);
      }),
    );
  });

  it('stays what it is when it is within bounds', () => {
    const fine = { title: 'A 🏊', list: [1, null, { deep: ['x'] }] };
    expect(bounded(fine)).toBe(fine);
  });

  it('is refused when it is nested or filled without end', () => {
    expect(bounded(nest(BOUNDS.depth))).toEqual(nest(BOUNDS.depth));
    expect(() => bounded(nest(BOUNDS.depth + 1))).toThrow(OutOfBounds);
    expect(() => bounded(Array.from({ length: BOUNDS.values + 1 }, () => 0))).toThrow(/more than 20,000 values/);
    expect(() => bounded(JSON.parse('['.repeat(100_000) + ']'.repeat(100_000)) as FieldValue)).toThrow(/12 deep/);
  });

  it('is cut at the end of a character when it is a text without end', () => {
    const long = bounded('👩‍👩‍👧‍👦'.repeat(20_000)) as string;
    expect(long.length).toBeLessThanOrEqual(BOUNDS.text);
    expect(long).toMatch(/^(?:👩‍👩‍👧‍👦)+…$/u);
  });

  it('has no field that every object has', () => {
    const read = bounded(JSON.parse('{"__proto__":{"polluted":true},"constructor":1}') as FieldValue);
    expect(Object.keys(read as object)).toEqual(['constructor']);
    expect(({} as { polluted?: boolean }).polluted).toBeUndefined();
  });

  it('is refused item by item, and dated only where there is such a date', () => {
    const item = (identity: string, fields: Record<string, FieldValue>, publishedAt: number | null = null) => ({
      identity,
      publishedAt,
      fields,
    });
    const { items, refused } = boundedItems([
      item('a', { title: 'x' }, Date.UTC(2026, 0)),
      item('b', { deep: nest(40) }),
      item('c', {}, 8.64e15),
      item('d', {}, -8.64e15),
    ]);
    expect(items.map(({ identity, publishedAt }) => [identity, publishedAt])).toEqual([
      ['a', Date.UTC(2026, 0)],
      ['c', null],
      ['d', null],
    ]);
    expect(refused).toEqual([{ identity: 'b', why: 'It is nested more than 12 deep.' }]);
  });
});

describe('identities', () => {
  it('stay as they are up to any length that is meant, and differ beyond it', () => {
    const id = 'i'.repeat(15_000);
    expect(identityOf({ id })).toBe(`id:${id}`);
    const [a, b] = ['a', 'b'].map((end) => identityOf({ id: 'i'.repeat(100_000) + end }));
    expect(a!.length).toBeLessThanOrEqual(16_000);
    expect(a).not.toBe(b);
    expect(identityOf({ id: `${'i'.repeat(100_000)}a` })).toBe(a);
    expect(storable('sea \ud83c').isWellFormed()).toBe(true);
  });
});

describe('what is learned of a form', () => {
  const sizeOf = (schema: JsonSchema): number =>
    1 +
    Object.values(schema.properties ?? {}).reduce((sum, each) => sum + sizeOf(each), 0) +
    (schema.items ? sizeOf(schema.items) : 0);

  it('grows no larger than people could look through, whatever is sent how often', () => {
    let learned = inferSchema({});
    for (let n = 0; n < 30; n++) {
      const sent = Object.fromEntries(
        Array.from({ length: 300 }, (_, k) => [`f${n}.${k}`, { a: [{ b: k }, { c: 'x'.repeat(500) }] }]),
      ) as unknown as Fields;
      learned = mergeSchemas(learned, inferSchema(sent));
      expect(sizeOf(learned)).toBeLessThan(5 * LEARNED.values);
    }
    expect(Object.keys(learned.properties!).length).toBeLessThanOrEqual(LEARNED.fields);
    // What was learned first is still described.
    expect(learned.properties).toHaveProperty(['f0.0']);
  });

  it('keeps whole characters in its examples', () => {
    const { examples } = inferSchema(`${'a'.repeat(199)}🏊 and more`);
    expect(examples).toEqual([`${'a'.repeat(199)}🏊`]);
  });
});
