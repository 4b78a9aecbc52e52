import { both, shapeOf } from './of-value.ts';
import type { Shape, ShapeFields, ShapeType } from './shape.ts';
import { fieldLabel } from '../items/field-label.ts';
import type { Fields } from '../items/item.ts';
import { fieldText, isEmpty } from '../items/read-field.ts';

/** One field that items of a source have, as the bench lists it. */
export interface FieldInfo {
  path: string;
  /** The name a person reads: "Thumbnail · width". */
  label: string;
  type: ShapeType;
  shape: Shape;
  /** In how many of the items looked at it says nothing. */
  emptyIn: number;
}

/** What is known of a field from its path alone: what it is called. */
export function fieldInfo(path: string): FieldInfo {
  return { path, label: fieldLabel(path), type: 'text', shape: { type: 'text' }, emptyIn: 0 };
}

/** The fields that a description has, those that lie in others by their paths, in its order. */
export function fieldsIn(described: ShapeFields, at = ''): FieldInfo[] {
  return Object.entries(described).flatMap(([name, shape]) => {
    const path = at + name;
    if (shape.type === 'object') return fieldsIn(shape.fields, `${path}.`);
    return [{ path, label: shape.label ?? fieldLabel(path), type: shape.type, shape, emptyIn: 0 }];
  });
}

/**
 * Lists every field that occurs in the given items, nested ones included: those that are described first, in the order of
 * the description, then as they were found. Without items, what is described.
 *
 * @param described what is known of the fields; the others are what their values are
 */
export function catalogue(items: readonly Fields[], described: ShapeFields = {}): FieldInfo[] {
  const known = new Map(fieldsIn(described).map((field) => [field.path, field]));
  if (items.length === 0) return [...known.values()];
  const found = new Map<string, { shape: Shape | undefined; filledIn: number }>();
  const visit = (prefix: string, fields: Fields) => {
    for (const [name, value] of Object.entries(fields)) {
      const path = prefix + name;
      if (value !== null && typeof value === 'object' && !Array.isArray(value)) {
        visit(path + '.', value);
        continue;
      }
      let info = found.get(path);
      if (!info) found.set(path, (info = { shape: undefined, filledIn: 0 }));
      if (isEmpty(value) && fieldText(value).trim() === '') continue;
      if (!known.has(path)) info.shape = both(info.shape, shapeOf(value));
      info.filledIn++;
    }
  };
  for (const fields of items) visit('', fields);
  const order = [...known.keys()].filter((path) => found.has(path));
  const paths = [...order, ...[...found.keys()].filter((path) => !known.has(path))];
  return paths.map((path) => {
    const { shape = { type: 'text' as const }, filledIn } = found.get(path)!;
    const info = known.get(path) ?? { path, label: fieldLabel(path), type: shape.type, shape };
    return { ...info, emptyIn: items.length - filledIn };
  });
}
