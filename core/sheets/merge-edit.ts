// Two people at one row: what the later one wrote goes in where the earlier one changed nothing.
import type { Cell, Cells } from './cell.ts';

/** A cell that a person wants to write, with what stood there when they did. */
export interface CellEdit {
  key: string;
  before: Cell;
  after: Cell;
}

/** A cell that says something else by now than the person who writes has seen. */
export interface EditConflict {
  key: string;
  /** What stands there now. */
  now: Cell;
  /** What was to be written. */
  wanted: Cell;
}

/**
 * What of an edit can be written over what stands there now.
 *
 * @returns the cells to write, and those that somebody else has changed meanwhile
 * @example mergeEdit({ status: 'ready' }, [{ key: 'status', before: 'draft', after: 'idea' }]) // one conflict
 */
export function mergeEdit(
  now: Cells,
  edits: readonly CellEdit[],
): { write: Record<string, Cell>; conflicts: EditConflict[] } {
  const write: Record<string, Cell> = {};
  const conflicts: EditConflict[] = [];
  for (const { key, before, after } of edits) {
    const stands = now[key] ?? null;
    if (stands === after) continue;
    if (stands === before) write[key] = after;
    else conflicts.push({ key, now: stands, wanted: after });
  }
  return { write, conflicts };
}

/** The cells of a row with some written anew; empty ones are left out. */
export function withCells(cells: Cells, write: Readonly<Record<string, Cell>>): Cells {
  return Object.fromEntries(
    Object.entries({ ...cells, ...write }).filter(([, value]) => value !== null && value !== ''),
  );
}
