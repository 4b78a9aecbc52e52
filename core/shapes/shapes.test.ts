import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { FieldValue } from '../items/item.ts';
import { inferSchema, mergeSchemas } from '../items/json-schema.ts';
import { withNames } from '../items/rename.ts';
import { misfits } from './conforms.ts';
import { columnShape, rowShape } from './of-columns.ts';
import { fieldsOfSchema, shapeOfSchema } from './of-schema.ts';
import { both, bothFields, fieldsOf, shapeOf } from './of-value.ts';
import {
  choice,
  DATE,
  LINK,
  list,
  LONG_TEXT,
  MOMENT,
  NUMBER,
  object,
  shapeSchema,
  TEXT,
  YES_NO,
  type Shape,
} from './shape.ts';
import { shapeWithNames } from './with-names.ts';

const json = fc.jsonValue({ maxDepth: 3 }) as fc.Arbitrary<FieldValue>;
const record = fc.dictionary(fc.string({ maxLength: 6 }), json, { maxKeys: 5 }) as fc.Arbitrary<
  Record<string, FieldValue>
>;

describe('the shape of a value', () => {
  it.each<[FieldValue, Shape | undefined]>([
    ['Cold water', TEXT],
    ['', undefined],
    [null, undefined],
    ['First line\nsecond', LONG_TEXT],
    ['x'.repeat(121), LONG_TEXT],
    [4, NUMBER],
    [false, YES_NO],
    ['2026-11-26', DATE],
    // RFC 3339 section 5.8 gives this example.
    ['1985-04-12T23:20:50.52Z', MOMENT],
    ['https://lidos.example/', LINK],
    [['a', 'b'], list(TEXT)],
    [['a', 3], list(TEXT)],
    [[], list(TEXT)],
    [{ a: 1, b: null }, object({ a: NUMBER })],
  ])('of %j', (value, shape) => expect(shapeOf(value)).toEqual(shape));

  it('fits the value it was made of, whatever that is', () => {
    fc.assert(fc.property(record, (value) => void expect(misfits(fieldsOf(value), value)).toEqual([])));
  });
  it('for two values fits both of them, where both are texts or numbers alike', () => {
    const alike = fc.oneof(
      fc.tuple(fc.string({ minLength: 1 }), fc.string({ minLength: 1 })),
      fc.tuple(fc.double({ noNaN: true }), fc.integer()),
      fc.tuple(fc.constant('2026-11-26'), fc.string({ minLength: 1 })),
      fc.tuple(fc.webUrl(), fc.string({ minLength: 1 })),
    );
    fc.assert(
      fc.property(alike, ([a, b]) => {
        const fields = bothFields(fieldsOf({ x: a }), fieldsOf({ x: b }));
        for (const x of [a, b])
          if (both(shapeOf(a), shapeOf(b))?.type !== 'moment') expect(misfits(fields, { x })).toEqual([]);
      }),
    );
  });
  it('can be sent and read again', () => {
    fc.assert(
      fc.property(record, (value) => {
        const shape = object(fieldsOf(value));
        expect(shapeSchema.parse(JSON.parse(JSON.stringify(shape)))).toEqual(shape);
      }),
    );
    const odd = JSON.parse('{ "a": { "__proto__": "x", "b": 1 } }') as Record<string, FieldValue>;
    expect(fieldsOf(odd)).toEqual({ a: object({ b: NUMBER }) });
    expect(shapeSchema.safeParse({ type: 'colour' }).success).toBe(false);
  });
});

describe('the shape of a learned schema', () => {
  it('says what its examples are', () => {
    const schema = mergeSchemas(
      inferSchema({
        at: '2026-11-26T10:00:00Z',
        day: '2026-11-26',
        who: { name: 'Mo' },
        pools: [{ open: true }],
        page: 'https://x.example/',
      }),
      inferSchema({ at: '2026-11-27T10:00:00Z', n: 1.5, who: { name: 'Ana', since: null } }),
    );
    expect(fieldsOfSchema(schema)).toEqual({
      at: MOMENT,
      day: DATE,
      who: object({ name: TEXT }),
      pools: list(object({ open: YES_NO })),
      page: LINK,
      n: NUMBER,
    });
    expect(shapeOfSchema({ type: ['null', 'string'] })).toEqual(TEXT);
    expect(shapeOfSchema({ type: ['number', 'string'] })).toEqual(TEXT);
    expect(shapeOfSchema({ type: 'null' })).toBeUndefined();
    expect(shapeOfSchema({ type: 'string', examples: ['two\nlines'] })).toEqual(LONG_TEXT);
  });
  it('fits what it was learned from, whatever that is', () => {
    fc.assert(
      fc.property(record, (value) => {
        // A text may be no date although it looks like one; that is for whoever reads it.
        const wrong = misfits(fieldsOfSchema(inferSchema(value)), value).filter(
          ({ shape }) => shape.type !== 'moment' && shape.type !== 'date',
        );
        expect(wrong).toEqual([]);
      }),
    );
  });
});

describe('a value that is not of its shape', () => {
  it('is told by its path; what is missing or not described is none', () => {
    const shape = {
      stars: NUMBER,
      person: object({ name: TEXT }),
      tags: list(NUMBER),
      state: choice('open', 'closed'),
      when: MOMENT,
    };
    expect(
      misfits(shape, { person: { name: ['Mo'] }, tags: [1, 'a'], state: 'half', extra: 1, when: 'soon' }),
    ).toMatchObject([{ path: 'person.name' }, { path: 'tags.1' }, { path: 'state' }, { path: 'when' }]);
    expect(misfits(shape, { stars: null, state: 'open', when: '2026-11-26T10:00:00+01:00' })).toEqual([]);
  });
});

describe('the shape of a table', () => {
  it('is that of its columns, by whatever name a network has for them', () => {
    expect(
      rowShape({
        columns: [
          { name: 'Day', type: 'date' },
          { name: 'Done', type: 'checkbox' },
        ],
      }),
    ).toEqual({
      Day: DATE,
      Done: YES_NO,
      row: NUMBER,
      link: LINK,
      id: TEXT,
    });
    expect(columnShape('constructor')).toEqual(TEXT);
    expect(Object.keys(rowShape(undefined))).toEqual(['row', 'link', 'id']);
  });
});

describe('a renamed field', () => {
  it('is described where it then stands', () => {
    const names = { 'author.name': 'writer', gone: 'x' };
    const fields = { title: 'A', author: { name: 'Mo', url: 'https://x.example/' } };
    const shape = shapeWithNames(fieldsOf(fields), names);
    expect(shape).toEqual({ title: TEXT, author: object({ url: LINK }), writer: TEXT });
    expect(misfits(shape, withNames(fields, names))).toEqual([]);
  });
  it('is described as it is renamed, whatever there is', () => {
    const path = fc.constantFrom('a', 'b', 'a.c', 'b.c');
    const value = fc.record({
      a: fc.oneof(fc.string(), fc.record({ c: fc.integer() })),
      b: fc.oneof(fc.integer(), fc.record({ c: fc.boolean() })),
    });
    fc.assert(
      fc.property(value, path, (fields, from) => {
        const names = { [from]: 'named' };
        const left = withNames(fields as Record<string, FieldValue>, names);
        expect(misfits(shapeWithNames(fieldsOf(fields as Record<string, FieldValue>), names), left)).toEqual([]);
        expect(shapeWithNames(fieldsOf(fields as Record<string, FieldValue>), names)).toEqual(
          // An empty text says nothing of what it is.
          expect.objectContaining(fieldsOf(left)),
        );
      }),
    );
  });
});
