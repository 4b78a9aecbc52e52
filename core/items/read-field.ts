import type { FieldValue, Fields } from './item.ts';

/** What can be told of a text by name: see core/said/parts-of-text. */
const inTexts = new Map<string, (text: string) => FieldValue>();

/** Has every text be asked for something by a name: `text.language`. */
export function offerInTexts(name: string, tell: (text: string) => FieldValue): void {
  inTexts.set(name, tell);
}

/**
 * Reads a field by its path. A name that itself contains a dot wins over a nested one, as in MessageFormat 2
 * variables, so that conditions and captions agree on what a path means. What can be told of a text lies inside it.
 *
 * @returns undefined when there is no such field
 */
export function readField(fields: Fields, path: string): FieldValue | undefined {
  if (Object.hasOwn(fields, path)) return fields[path];
  // Most fields are not nested.
  let dot = path.lastIndexOf('.');
  while (dot > 0) {
    const head = path.slice(0, dot);
    if (Object.hasOwn(fields, head)) {
      const inner = fields[head];
      if (typeof inner === 'string') return inTexts.get(path.slice(dot + 1))?.(inner);
      if (inner === null || typeof inner !== 'object') return undefined;
      return readField(inner as Fields, path.slice(dot + 1));
    }
    dot = path.lastIndexOf('.', dot - 1);
  }
  return undefined;
}

/** Whether a field says nothing: absent, null, an empty list, or text of white space only. */
export function isEmpty(value: FieldValue | undefined): boolean {
  if (value === undefined || value === null) return true;
  if (typeof value === 'string') return !/\S/.test(value);
  return Array.isArray(value) && value.length === 0;
}

/** Whether nothing can be put into words: it is empty, or a record, or a list of records. */
export function isWordless(value: FieldValue | undefined): boolean {
  return isEmpty(value) || (typeof value === 'object' && fieldText(value) === '');
}

/**
 * The list that stands in the way of a path, where one thing was expected: its things come one by one only.
 *
 * @returns null when there is none
 * @example `listAt({ pools: [{ name: 'Old Quay' }, { name: 'Gannet Point' }] }, 'pools.name')` // { path: 'pools', count: 2 }
 */
export function listAt(fields: Fields, path: string): { path: string; count: number } | null {
  const parts = path.split('.');
  for (let length = 1; length <= parts.length; length++) {
    const head = parts.slice(0, length).join('.');
    const value = readField(fields, head);
    if (Array.isArray(value) && value.length > 0 && isWordless(readField(fields, path)))
      return { path: head, count: value.length };
  }
  return null;
}

/** A field as one line of text, for comparing and showing. Lists are joined with commas, records are left out. */
export function fieldText(value: FieldValue | undefined): string {
  if (value === undefined || value === null) return '';
  if (Array.isArray(value)) return value.map(fieldText).filter(Boolean).join(', ');
  if (typeof value === 'object') return '';
  return String(value);
}
