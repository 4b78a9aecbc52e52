// Rows of a table as a shape.
import { LINK, NUMBER, TEXT, type Shape, type ShapeFields, type ShapeType } from './shape.ts';

/** What networks call the types of their columns, beside our own names for them. */
const TYPES: Readonly<Record<string, ShapeType>> = {
  string: 'text',
  boolean: 'yesNo',
  checkbox: 'yesNo',
  datetime: 'moment',
  time: 'moment',
  url: 'link',
  image: 'picture',
  integer: 'number',
};
const OWN: ReadonlySet<string> = new Set(['text', 'longText', 'number', 'yesNo', 'date', 'moment', 'link', 'picture']);

/** The shape of a column's cells, from the type that its table says; text where it says none that is known. */
export function columnShape(type: string): Shape {
  const known = OWN.has(type) ? type : Object.hasOwn(TYPES, type) ? TYPES[type]! : 'text';
  return { type: known } as Shape;
}

/** A table, as far as its rows depend on it. */
interface Table {
  columns?: readonly { name: string; label?: string | undefined; type: string }[] | undefined;
}

/** The fields of a table's rows: its columns, and what every row has. */
export function rowShape(details: Table | undefined): ShapeFields {
  return {
    ...Object.fromEntries(
      (details?.columns ?? []).map(({ name, label, type }) => [
        name,
        label === undefined ? columnShape(type) : { ...columnShape(type), label },
      ]),
    ),
    row: NUMBER,
    link: LINK,
    id: TEXT,
  };
}
