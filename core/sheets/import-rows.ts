// A file's rows as rows of a sheet: which column goes where, and what is wrong with each row, before anything is kept.
import { readCell, type Cell, type CellContext } from './cell.ts';
import { fold, isWritten, type Column } from './column.ts';

/** By the file's columns, in their order: the key of the column of the sheet, or null for what is left out. */
export type ColumnMap = readonly (string | null)[];

/** Columns by their names, as far as they are called the same. Each is filled once. */
export function guessMap(header: readonly string[], columns: readonly Column[]): (string | null)[] {
  const taken = new Set<string>();
  return header.map((name) => {
    const found = columns.find(
      (column) =>
        isWritten(column) && !taken.has(column.key) && (fold(column.name) === fold(name) || column.key === fold(name)),
    );
    if (!found) return null;
    taken.add(found.key);
    return found.key;
  });
}

/** A row of a file as it would become one of the sheet. */
export interface ImportRow {
  /** Its line in the file, the first after the header being 2. */
  line: number;
  cells: Record<string, Cell>;
  /** What cannot be read, by column. */
  problems: { key: string; typed: string; says: string }[];
}

/**
 * Reads the rows below a header.
 *
 * @param rows the file's rows, the header first
 */
export function importRows(
  rows: readonly (readonly string[])[],
  map: ColumnMap,
  columns: readonly Column[],
  context: CellContext,
): ImportRow[] {
  const byKey = new Map(columns.map((column) => [column.key, column]));
  return rows.slice(1).map((row, index) => {
    const read: ImportRow = { line: index + 2, cells: {}, problems: [] };
    map.forEach((key, place) => {
      const column = key === null ? undefined : byKey.get(key);
      const typed = row[place] ?? '';
      if (!column || typed.trim() === '') return;
      const { value, problem } = readCell(column, typed, context);
      if (value !== null) read.cells[column.key] = value;
      if (problem) read.problems.push({ key: column.key, typed, says: problem });
    });
    return read;
  });
}
