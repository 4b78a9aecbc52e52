import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { FieldValue, Fields } from './item.ts';
import { PathError, readPath } from './json-path.ts';
import { DIALECT, inferSchema, jsonSchemaSchema, mergeSchemas, type JsonSchema } from './json-schema.ts';
import { withNames } from './rename.ts';
import { itemTitle } from './title.ts';

describe('JSONPath', () => {
  /** The bookstore of RFC 9535 section 1.5 from memory, with invented authors and titles in the same shape. */
  const store: Fields = {
    store: {
      book: [
        { category: 'reference', author: 'A', title: 'Tides', price: 8.95 },
        { category: 'fiction', author: 'B', title: 'Swell', price: 12.99 },
        { category: 'fiction', author: 'C', title: 'Ebb', isbn: '0-1', price: 8.99 },
        { category: 'fiction', author: 'D', title: 'Flood', isbn: '0-2', price: 22.99 },
      ],
      bicycle: { color: 'red', price: 399 },
    },
  };
  /** Queries and results of RFC 9535 table 2. */
  it.each<[query: string, result: FieldValue[]]>([
    ['$.store.book[*].author', ['A', 'B', 'C', 'D']],
    ['$..author', ['A', 'B', 'C', 'D']],
    ['$.store..price', [8.95, 12.99, 8.99, 22.99, 399]],
    ['$..book[2].author', ['C']],
    ['$..book[2].publisher', []],
    ['$..book[-1].title', ['Flood']],
    ['$..book[0,1].title', ['Tides', 'Swell']],
    ['$..book[:2].title', ['Tides', 'Swell']],
    ['$..book[?@.isbn].title', ['Ebb', 'Flood']],
    ['$..book[?@.price<10].title', ['Tides', 'Ebb']],
  ])('%s', (query, result) => {
    expect([...readPath(query).read(store)].sort()).toEqual([...result].sort());
  });
  it('a query that picks one list means its elements, a field does so too', () => {
    expect(readPath('$.store.book').read(store)).toHaveLength(4);
    expect(readPath('tags').read({ tags: ['a', 'b'] })).toEqual(['a', 'b']);
    expect(readPath('tags').read({ tags: 'a' })).toEqual(['a']);
    expect(readPath('tags').read({})).toEqual([]);
  });
  it('refuses what is no query, in a sentence', () => {
    for (const bad of ['$[', '$.a[?', '$..', '$.a b']) expect(() => readPath(bad), bad).toThrow(PathError);
  });
});

/** Whether a value is as a schema says; the part of JSON Schema 2020-12 that is learned. */
function fits(schema: JsonSchema, value: FieldValue): boolean {
  const types = schema.type === undefined ? [] : [schema.type].flat();
  const is: Record<string, boolean> = {
    null: value === null,
    array: Array.isArray(value),
    object: value !== null && typeof value === 'object' && !Array.isArray(value),
    string: typeof value === 'string',
    boolean: typeof value === 'boolean',
    number: typeof value === 'number',
    integer: typeof value === 'number' && Number.isInteger(value),
  };
  if (types.length && !types.some((type) => is[type])) return false;
  if (is.object) {
    const object = value as Record<string, FieldValue>;
    if ((schema.required ?? []).some((name) => !Object.hasOwn(object, name))) return false;
    return Object.entries(object).every(([name, each]) => {
      const inner = schema.properties && Object.hasOwn(schema.properties, name) ? schema.properties[name] : undefined;
      return !inner || fits(inner, each);
    });
  }
  return !is.array || !schema.items || (value as FieldValue[]).every((each) => fits(schema.items!, each));
}
const json = fc.jsonValue({ maxDepth: 3 }) as fc.Arbitrary<FieldValue>;

describe('learned JSON Schemas', () => {
  it('describe every example they were learned from, in whatever order', () => {
    fc.assert(
      fc.property(fc.array(json, { minLength: 1, maxLength: 5 }), (examples) => {
        const schema = examples.map(inferSchema).reduce(mergeSchemas);
        for (const example of examples) expect(fits(schema, example)).toBe(true);
        const other = [...examples].reverse().map(inferSchema).reduce(mergeSchemas);
        for (const example of examples) expect(fits(other, example)).toBe(true);
        expect(jsonSchemaSchema.safeParse(schema).success).toBe(true);
      }),
    );
  });
  it('say what is always there, and what texts are', () => {
    const learned = mergeSchemas(
      { $schema: DIALECT, ...inferSchema({ at: '2026-11-23T10:00:00Z', n: 1, who: 'Mo' }) },
      inferSchema({ at: '2026-11-24T10:00:00+01:00', n: 1.5, link: 'https://x.example/' }),
    );
    expect(learned).toMatchObject({
      $schema: DIALECT,
      type: 'object',
      required: ['at', 'n'],
      properties: { at: { type: 'string', format: 'date-time' }, n: { type: 'number' }, link: { format: 'uri' } },
    });
    expect(mergeSchemas(inferSchema('2026-11-23'), inferSchema('soon')).format).toBeUndefined();
  });
});

describe('renamed fields', () => {
  it('stand at the top under their new name, and nowhere else', () => {
    const fields = { a: 1, b: { c: 2, d: 3 }, 'e.f': 4 };
    expect(withNames(fields, { 'b.c': 'client', 'e.f': 'flat' })).toEqual({ a: 1, b: { d: 3 }, client: 2, flat: 4 });
    expect(withNames(fields, {})).toBe(fields);
    expect(withNames(fields, { missing: 'x' })).toEqual(fields);
    expect(fields).toEqual({ a: 1, b: { c: 2, d: 3 }, 'e.f': 4 });
  });
});

describe('what an item is called', () => {
  it.each<[Fields, string]>([
    [{ title: 'Cold water', name: 'x' }, 'Cold water'],
    [{ subject: 'Closed' }, 'Closed'],
    [
      { number: 46, severity: 'major', link: 'https://x.example/', reason: 'seaweed', more: 'no' },
      'Number 46, major, seaweed',
    ],
    [{}, 'Untitled'],
  ])('%j', (fields, title) => expect(itemTitle(fields)).toBe(title));
});
