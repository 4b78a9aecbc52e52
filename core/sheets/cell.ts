// Cells: what a person types or pastes, or a workflow writes, read by the type of its column; and said again as text.
import { DateTime } from 'luxon';
import type { FieldValue } from '../items/item.ts';
import { fieldText } from '../items/read-field.ts';
import { cutUnits } from '../text/graphemes.ts';
import { localMoment, type Written } from '../text/local-moment.ts';
import { wellFormed } from '../text/well-formed.ts';
import { fold, isWritten, type Column } from './column.ts';

/** What is stored of a cell. Outlets and colleagues are kept by number; what could not be read, as it was typed. */
export type Cell = string | number | boolean | null;
/** The cells of a row by the keys of its columns. What is empty is left out. */
export type Cells = Readonly<Record<string, Cell>>;

/** What cells mean that name something, and where dates are written. */
export interface CellContext extends Written {
  outlets: ReadonlyMap<number, { name: string }>;
  people: ReadonlyMap<number, string>;
}

/** The longest text of a cell, UTF-16 units. */
export const LONGEST_CELL = 20_000;

/** A cell as it was read; with what is wrong with it when its text is kept as it was typed. */
export interface ReadCell {
  value: Cell;
  problem?: string;
}

const YES = new Set(['yes', 'y', 'true', '1', 'x', '✓', '✔', 'sim', 'ja', 'sí', 'oui']);
const NO = new Set(['no', 'n', 'false', '0', '–', '-', 'não', 'nein', 'non']);

/**
 * Reads what stands in a cell. Nothing that was typed is lost: what cannot be read as its column's type stays as text, with
 * the reason.
 *
 * @example readCell({ type: 'moment', … }, '25.11.2026 23:30', lisbon) // { value: '2026-11-25T23:30:00Z' }
 */
export function readCell(column: Column, typed: FieldValue, context: CellContext): ReadCell {
  if (!isWritten(column)) return { value: null };
  if (column.type === 'yesNo' && typeof typed === 'boolean') return { value: typed };
  if (typed !== null && typeof typed === 'object' && !Array.isArray(typed) && typeof typed.id === 'number')
    return readCell(column, typed.id, context);
  // What comes from a file or the clipboard may be broken in the middle of a sign.
  const text = wellFormed(fieldText(typed));
  const kept = column.type === 'longText' ? text.replace(/\r\n?/g, '\n') : text.trim();
  if (kept.trim() === '') return { value: null };
  if (kept.length > LONGEST_CELL)
    return {
      value: cutUnits(kept, LONGEST_CELL),
      problem: `Longer than ${LONGEST_CELL.toLocaleString('en')} characters: its end is cut.`,
    };
  return readText(column, kept, typeof typed === 'number' ? typed : null, context);
}

function readText(column: Column, text: string, number: number | null, context: CellContext): ReadCell {
  const as = (problem: string): ReadCell => ({ value: text, problem });
  switch (column.type) {
    case 'number': {
      const read = number ?? readNumber(text, context.locale);
      return read === null ? as('This is no number.') : { value: read };
    }
    case 'yesNo':
      if (YES.has(fold(text))) return { value: true };
      return NO.has(fold(text)) ? { value: false } : as('Write yes or no.');
    case 'date': {
      const at = localMoment(text, context);
      const day = at === null ? null : DateTime.fromMillis(at, { zone: context.zone }).toISODate();
      return day ? { value: day } : as('This cannot be read as a date.');
    }
    case 'moment': {
      const at = localMoment(text, context);
      return at === null
        ? as('This cannot be read as a date and time.')
        : { value: DateTime.fromMillis(at - (at % 1000), { zone: 'utc' }).toISO({ suppressMilliseconds: true })! };
    }
    case 'choice': {
      const option = column.options.find(({ value }) => fold(value) === fold(text));
      return option ? { value: option.value } : as('This is none of the choices.');
    }
    case 'link':
    case 'picture': {
      const address = /^[\w-]+(\.[\w-]+)+([/?#]\S*)?$/.test(text) ? `https://${text}` : text;
      return /^https?:\/\/[^\s/]+\S*$/i.test(address) && URL.canParse(address)
        ? { value: address }
        : as('This is no address: it begins with https:// and has no spaces.');
    }
    case 'outlet':
      return (
        named(
          text,
          number,
          [...context.outlets].map(([id, { name }]) => [id, name] as const),
        ) ?? as('There is no outlet of this name.')
      );
    case 'person':
      return named(text, number, [...context.people]) ?? as('Nobody of this name works for the brand.');
    default:
      return { value: text };
  }
}

function named(text: string, number: number | null, all: readonly (readonly [number, string])[]): ReadCell | undefined {
  const found = all.find(([id, name]) => (number === null ? fold(name) === fold(text) : id === number));
  return found && { value: found[0] };
}

/** A number as it is written in a language: "1,234.5", "1.234,5". */
function readNumber(text: string, locale: string): number | null {
  const parts = new Intl.NumberFormat(locale).formatToParts(12345.6);
  const decimal = parts.find(({ type }) => type === 'decimal')?.value ?? '.';
  const group = parts.find(({ type }) => type === 'group')?.value ?? ',';
  const bare = text.replace(/[\s\u00a0\u202f%]/g, '');
  if (/^[+-]?\d+(\.\d+)?(e[+-]?\d+)?$/i.test(bare) && group !== '.') return Number(bare);
  const grouped = new RegExp(`^[+-]?\\d{1,3}(\\${group}\\d{3})+(\\${decimal}\\d+)?$`);
  const ungrouped = new RegExp(`^[+-]?\\d+(\\${decimal}\\d+)?$`);
  if (!grouped.test(bare) && !ungrouped.test(bare)) return null;
  return Number(bare.replaceAll(group, '').replace(decimal, '.'));
}

/** What is wrong with a stored cell, as its column is now; undefined when nothing is. */
export function cellProblem(column: Column, value: Cell, context: CellContext): string | undefined {
  return value === null ? undefined : readCell(column, value, context).problem;
}

/**
 * A cell as text, as a person reads it and as it can be pasted or read again.
 *
 * @example sayCell({ type: 'moment', … }, '2026-11-25T23:30:00Z', lisbon) // "2026-11-25 23:30"
 */
export function sayCell(column: Column, value: Cell | undefined, context: CellContext): string {
  if (value === undefined || value === null) return '';
  switch (column.type) {
    case 'yesNo':
      return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value);
    case 'moment': {
      const at = DateTime.fromISO(String(value), { zone: context.zone });
      return at.isValid ? at.toFormat('yyyy-MM-dd HH:mm') : String(value);
    }
    case 'outlet':
      return typeof value === 'number' ? (context.outlets.get(value)?.name ?? '') : String(value);
    case 'person':
      return typeof value === 'number' ? (context.people.get(value) ?? '') : String(value);
    default:
      return String(value);
  }
}
