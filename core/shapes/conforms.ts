import type { FieldValue } from '../items/item.ts';
import type { Shape, ShapeFields } from './shape.ts';

/** Where a value is not as its shape says. */
export interface Misfit {
  /** Path of the field: "person.name". */
  path: string;
  /** What it should be. */
  shape: Shape;
  value: FieldValue;
}

/**
 * Where the fields of a record are not as they are described. What is missing, empty or null is no misfit, and neither is
 * what is not described: networks add fields.
 */
export function misfits(fields: ShapeFields, record: { [name: string]: FieldValue }, at = ''): Misfit[] {
  return Object.entries(fields).flatMap(([name, shape]) =>
    Object.hasOwn(record, name) ? misfitsOf(shape, record[name]!, at + name) : [],
  );
}

function misfitsOf(shape: Shape, value: FieldValue, path: string): Misfit[] {
  if (value === null || value === '') return [];
  const wrong = [{ path, shape, value }];
  switch (shape.type) {
    case 'object':
      return typeof value === 'object' && !Array.isArray(value) ? misfits(shape.fields, value, `${path}.`) : wrong;
    case 'list':
      return Array.isArray(value)
        ? value.flatMap((each, index) => misfitsOf(shape.of, each, `${path}.${index}`))
        : wrong;
    case 'number':
    case 'duration':
      return typeof value === 'number' ? [] : wrong;
    case 'yesNo':
      return typeof value === 'boolean' ? [] : wrong;
    case 'link':
    case 'picture':
      return typeof value === 'string' && /^https?:\/\/\S+$/i.test(value) ? [] : wrong;
    case 'moment':
      return typeof value === 'string' && /^\d{4}-\d\d-\d\d[Tt]/.test(value) && !Number.isNaN(Date.parse(value))
        ? []
        : wrong;
    case 'date':
      return typeof value === 'string' && /^\d{4}-\d\d-\d\d$/.test(value) && !Number.isNaN(Date.parse(value))
        ? []
        : wrong;
    case 'choice':
      return typeof value === 'string' && shape.options.includes(value) ? [] : wrong;
    // Whatever can be put into words: a field that is a number at one time and a text at another is a text.
    case 'text':
      return typeof value === 'object' ? wrong : [];
    case 'longText':
      return [];
  }
}
