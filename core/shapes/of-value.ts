import type { FieldValue } from '../items/item.ts';
import { type FieldShape, type Shape, type ShapeFields } from './shape.ts';

const MOMENT = /^\d{4}-\d\d-\d\d[Tt]\d\d:\d\d/;
const DAY = /^\d{4}-\d\d-\d\d$/;
const WEB = /^https?:\/\/\S+$/i;
/** Longer texts, and those with more than one line, are read as prose. */
const SHORT = 120;
/** Elements of a list that are looked at. */
const LOOKED_AT = 20;

/**
 * The shape of an example, from what it is and never from what it is called.
 *
 * @returns undefined for what tells nothing: null, an empty text
 * @example shapeOf({ at: '2026-11-26T18:00:00Z' }) // { type: 'object', fields: { at: { type: 'moment' } } }
 */
export function shapeOf(value: FieldValue): Shape | undefined {
  if (value === null || value === '') return undefined;
  if (typeof value === 'number') return { type: 'number' };
  if (typeof value === 'boolean') return { type: 'yesNo' };
  if (typeof value === 'string') return textShape(value);
  if (Array.isArray(value)) {
    const of = value.slice(0, LOOKED_AT).map(shapeOf).reduce<Shape | undefined>(both, undefined);
    return { type: 'list', of: of ?? { type: 'text' } };
  }
  return { type: 'object', fields: fieldsOf(value) };
}

/**
 * The shapes of a record's fields; one that says nothing is left out, and so is `__proto__`: it is a field like others to
 * JSON, but no library that reads a description would give it back.
 */
export function fieldsOf(record: { [name: string]: FieldValue }): ShapeFields {
  const fields: Record<string, FieldShape> = Object.create(null) as Record<string, FieldShape>;
  for (const [name, value] of Object.entries(record)) {
    const shape = shapeOf(value);
    if (shape && name !== '__proto__') fields[name] = shape;
  }
  return { ...fields };
}

function textShape(text: string): Shape {
  if (text.length > SHORT || text.includes('\n')) return WEB.test(text) ? { type: 'link' } : { type: 'longText' };
  if (MOMENT.test(text)) return { type: 'moment' };
  if (DAY.test(text)) return { type: 'date' };
  return WEB.test(text) ? { type: 'link' } : { type: 'text' };
}

/** The shape that is right for both: the first where they agree, text where they do not. */
export function both(a: Shape | undefined, b: Shape | undefined): Shape | undefined {
  if (!a || !b) return a ?? b;
  if (a.type === 'object' && b.type === 'object') return { type: 'object', fields: bothFields(a.fields, b.fields) };
  if (a.type === 'list' && b.type === 'list') return { type: 'list', of: both(a.of, b.of)! };
  if (a.type === 'choice' && b.type === 'choice')
    return { type: 'choice', options: [...new Set([...a.options, ...b.options])] };
  if (a.type === b.type) return a;
  const types = new Set([a.type, b.type]);
  if (types.has('longText') || types.has('list') || types.has('object')) return { type: 'longText' };
  if (types.has('date') && types.has('moment')) return { type: 'moment' };
  if (types.has('number') && types.has('duration')) return { type: 'number' };
  if (types.has('link') && types.has('picture')) return { type: 'link' };
  return { type: 'text' };
}

/** The fields of both, the first ones first. */
export function bothFields(a: ShapeFields, b: ShapeFields): ShapeFields {
  const fields: Record<string, FieldShape> = { ...a };
  for (const [name, shape] of Object.entries(b)) {
    const known = Object.hasOwn(a, name) ? a[name]! : undefined;
    const label = known?.label ?? shape.label;
    fields[name] = { ...both(known, shape)!, ...(label === undefined ? {} : { label }) };
  }
  return fields;
}
