// Which rows of two sheets are the same ones, before they are kept in step.
import type { Cell } from './cell.ts';
import { fold } from './column.ts';
import type { RowHere, RowLink, RowThere, SyncRules } from './sync.ts';

/**
 * Pairs rows that say the same: in the column that was chosen to know them by, or, without one, in all columns. Of several
 * that say the same the first is paired with the first. What is empty is like nothing.
 *
 * @param read what stands in a cell there, as the column here reads it
 */
export function pairRows(
  here: readonly RowHere[],
  there: readonly RowThere[],
  { columns, match }: Pick<SyncRules, 'columns' | 'match'>,
  read: (key: string, there: Cell) => Cell,
): RowLink[] {
  const by = match === null ? columns : columns.filter(({ key }) => key === match);
  const say = (cells: readonly Cell[]) => {
    const said = cells.map((cell) => (cell === null ? '' : fold(String(cell))));
    return said.every((text) => text === '') ? null : JSON.stringify(said);
  };
  const free = new Map<string, RowThere[]>();
  for (const row of there) {
    const said = say(by.map(({ key, there: name }) => read(key, row.cells[name] ?? null)));
    if (said !== null) free.set(said, [...(free.get(said) ?? []), row]);
  }
  for (const rows of free.values()) rows.reverse();
  const links: RowLink[] = [];
  for (const row of here) {
    if (row.deleted) continue;
    const said = say(by.map(({ key }) => row.cells[key] ?? null));
    const other = said === null ? undefined : free.get(said)?.pop();
    if (other) links.push({ row: row.id, there: other.id, agreed: {} });
  }
  return links;
}
