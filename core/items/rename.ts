// Fields under names of people's own: what a source calls a field stays known, what Playa calls it may change.
import type { Fields } from './item.ts';
import { readField } from './read-field.ts';

/** From the path at the source to the name in Playa. */
export type FieldNames = Readonly<Record<string, string>>;

/** The fields under their names. A renamed one stands at the top, whatever it was inside of. */
export function withNames(fields: Fields, names: FieldNames): Fields {
  const paths = Object.keys(names);
  if (paths.length === 0) return fields;
  const named: Fields = structuredClone(fields);
  for (const path of paths) {
    const value = readField(fields, path);
    if (value === undefined) continue;
    remove(named, path);
    named[names[path]!] = value;
  }
  return named;
}

function remove(fields: Fields, path: string): void {
  if (Object.hasOwn(fields, path)) return void delete fields[path];
  for (let dot = path.lastIndexOf('.'); dot > 0; dot = path.lastIndexOf('.', dot - 1)) {
    const inner = fields[path.slice(0, dot)];
    if (inner === null || typeof inner !== 'object' || Array.isArray(inner)) continue;
    return remove(inner, path.slice(dot + 1));
  }
}
