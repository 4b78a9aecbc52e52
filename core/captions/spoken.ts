// Fields as they are put into words.
import type { FieldValue, Fields } from '../items/item.ts';
import { readField } from '../items/read-field.ts';
import { partedMarks } from '../text/well-formed.ts';
import { LONGEST_FIELD, within } from './limits.ts';

/** A text of so few UTF-16 code units is said as it is: nothing in it can take long. */
const SHORT_FIELD = 2000;

/** A field as it is put into words; nothing where there is none. */
export function spokenAt(fields: Fields, path: string): string {
  return shortText(fields, path) ?? spoken(readField(fields, path));
}

/**
 * The fields for a message formatter. Numbers are handed in as their digits: years and identifiers must not come out as
 * 2,026; `:number` groups what it is asked to. An absent field formats as a fallback (`{$title}`) and would reach the
 * audience; so absent ones are handed in empty.
 *
 * @param uses the paths that a message uses
 */
export function speakable(fields: Fields, uses: readonly string[]): Record<string, unknown> {
  let handed: Record<string, unknown> = fields;
  for (const path of uses) {
    if (shortText(fields, path) !== undefined) continue;
    const value = readField(fields, path);
    if (handed === fields) handed = { ...fields };
    handed[path] = spoken(value);
  }
  return handed;
}

function shortText(fields: Fields, path: string): string | undefined {
  const direct = Object.hasOwn(fields, path) ? fields[path] : undefined;
  return typeof direct === 'string' && direct.length <= SHORT_FIELD ? direct : undefined;
}

function spoken(value: FieldValue | undefined): string {
  if (value === undefined || value === null) return '';
  if (typeof value === 'string') return partedMarks(within(value, LONGEST_FIELD));
  if (!Array.isArray(value)) return typeof value === 'object' ? '' : String(value);
  return within(value.map((entry) => (typeof entry === 'object' ? '' : String(entry))).join(', '), LONGEST_FIELD);
}
