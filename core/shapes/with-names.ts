import type { FieldNames } from '../items/rename.ts';
import type { FieldShape, ShapeFields } from './shape.ts';

/** A description of fields under the names that people gave them: what `withNames` does to the fields themselves. */
export function shapeWithNames(shape: ShapeFields, names: FieldNames): ShapeFields {
  let named: Record<string, FieldShape> = { ...shape };
  for (const [path, name] of Object.entries(names)) {
    const found = taken(named, path);
    if (found) named = { ...found.rest, [name]: found.shape };
  }
  return named;
}

/** The shape at a path, and the fields without it. */
function taken(fields: ShapeFields, path: string): { shape: FieldShape; rest: Record<string, FieldShape> } | undefined {
  if (Object.hasOwn(fields, path)) {
    const { [path]: shape, ...rest } = fields;
    return { shape: shape!, rest };
  }
  for (let dot = path.lastIndexOf('.'); dot > 0; dot = path.lastIndexOf('.', dot - 1)) {
    const head = path.slice(0, dot);
    const inner = Object.hasOwn(fields, head) ? fields[head]! : undefined;
    if (inner?.type !== 'object') continue;
    const found = taken(inner.fields, path.slice(dot + 1));
    if (found) return { shape: found.shape, rest: { ...fields, [head]: { ...inner, fields: found.rest } } };
  }
  return undefined;
}
