// Which column of a table elsewhere is which column here, and what a sheet would be made of such a table.
import { fold, isWritten, keyFor, type Column } from './column.ts';
import type { SyncRules } from './sync.ts';

/** A column of a table elsewhere. */
export interface ColumnThere {
  name: string;
  /** As its network calls it. */
  type: string;
}

/**
 * Pairs columns of the same name, capitals and signs between words apart.
 *
 * @example guessPairs([{ key: 'goes_out', name: 'Goes out at', type: 'moment' }], [{ name: 'goes out at', type: 'text' }])
 */
export function guessPairs(columns: readonly Column[], there: readonly ColumnThere[]): SyncRules['columns'] {
  const bare = (name: string) => fold(name).replace(/[^\p{L}\p{N}]+/gu, ' ');
  const free = new Map(columns.filter(isWritten).map((column) => [bare(column.name), column.key]));
  return there.flatMap(({ name }) => {
    const key = free.get(bare(name));
    free.delete(bare(name));
    return key === undefined ? [] : [{ key, there: name }];
  });
}

const TYPES: Readonly<Record<string, Exclude<Column['type'], 'choice' | 'computed' | 'left'>>> = {
  number: 'number',
  // What is called a date there may have a time of day.
  date: 'moment',
  'yes-no': 'yesNo',
  link: 'link',
};

/** Columns for what stands in columns there, beside those that there are. */
export function columnsLike(there: readonly ColumnThere[], beside: readonly Column[] = []): Column[] {
  const keys = beside.map(({ key }) => key);
  return there.map(({ name, type }) => {
    const key = keyFor(name, keys);
    keys.push(key);
    return { key, name: name.trim().slice(0, 80), type: TYPES[type] ?? 'text' };
  });
}
