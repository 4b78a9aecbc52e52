// What Playa works out of a row's other cells.
import { readWords } from '../steps/words.ts';
import type { Fields } from '../items/item.ts';
import { fieldText } from '../items/read-field.ts';
import { measure, wordRules } from '../outlets/length.ts';
import type { Column } from './column.ts';

/**
 * The value of a computed column.
 *
 * @param fields of the row, without what is computed: a computed column does not see another
 * @returns null where there is nothing to work out
 */
export function computedCell(
  column: Extract<Column, { type: 'computed' | 'left' }>,
  fields: Fields,
  { locale, zone }: { locale: string; zone: string },
): string | number | null {
  if (column.type === 'computed') return readWords(column.words, locale, zone).format(fields) || null;
  const rules = wordRules(column.kind);
  if (rules.limit === null) return null;
  return rules.limit - measure(rules, fieldText(fields[column.of]).trim());
}
