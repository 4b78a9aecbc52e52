// The chosen cells of a grid, and what is done to them: cleared, filled down, copied out, pasted over.
import type { CellComponent, RangeComponent, Tabulator } from 'tabulator-tables';
import { readBlock, writeBlock } from '@playa/core/sheets/block.ts';
import { sayCell, type Cell } from '@playa/core/sheets/cell.ts';
import { isWritten, type Column } from '@playa/core/sheets/column.ts';
import { valueOf } from './cell-look.ts';
import type { OpenSheet } from './use-sheet.ts';

/** A row as the grid has it: its cells by the keys of their columns. */
export type RowData = Record<string, Cell> & { $id: number };

/** @param columns those in view, in their order */
export function gridRange(
  table: () => Tabulator | undefined,
  columns: () => readonly Column[],
  sheet: Pick<OpenSheet, 'write' | 'add' | 'context'>,
) {
  const range = (): RangeComponent | undefined => table()?.getRanges()[0];
  /** The chosen cells as rows of cells, those that are worked out among them. */
  const chosen = (): CellComponent[][] =>
    (range()?.getStructuredCells() ?? []).map((row) => row.filter((cell) => columnOf(cell) !== undefined));
  const columnOf = (cell: CellComponent) => columns().find(({ key }) => key === cell.getField());
  const idOf = (cell: CellComponent) => (cell.getRow().getData() as RowData).$id;

  function clear() {
    sheet.write(
      chosen()
        .flat()
        .map((cell) => ({ row: idOf(cell), key: cell.getField(), typed: null })),
    );
  }
  /** What stands in the first row of the range goes into the others. */
  function fillDown() {
    const [first, ...others] = chosen();
    if (!first) return;
    sheet.write(
      others.flatMap((row) =>
        row.map((cell, index) => ({ row: idOf(cell), key: cell.getField(), typed: valueOf(first[index]!) })),
      ),
    );
  }
  function copy(event: ClipboardEvent) {
    const text = chosen().map((row) =>
      row.map((cell) => {
        const column = columnOf(cell)!;
        const value = valueOf(cell);
        return isWritten(column) ? sayCell(column, value, sheet.context.value) : String(value ?? '');
      }),
    );
    if (text.length === 0) return;
    event.preventDefault();
    event.clipboardData?.setData('text/plain', writeBlock(text));
    if (event.type === 'cut') clear();
  }
  async function paste(event: ClipboardEvent) {
    const text = event.clipboardData?.getData('text/plain');
    const grid = table();
    if (!text || !grid) return;
    event.preventDefault();
    const block = readBlock(text);
    const cells = chosen();
    const first = cells[0]?.[0];
    const keys = columns().map(({ key }) => key);
    const from = first ? keys.indexOf(first.getField()) : 0;
    const shown = grid.getRows('active');
    const top = first ? shown.findIndex((row) => (row.getData() as RowData).$id === idOf(first)) : shown.length;
    // One cell goes into all that are chosen.
    if (block.length === 1 && block[0]!.length === 1 && cells.flat().length > 1)
      return sheet.write(cells.flat().map((cell) => ({ row: idOf(cell), key: cell.getField(), typed: block[0]![0]! })));
    const write: { row: number; key: string; typed: Cell }[] = [];
    const beyond: Record<string, Cell>[] = [];
    for (const [down, line] of block.entries()) {
      const row = shown[top + down];
      const typed = line.flatMap((value, right) => (keys[from + right] ? [[keys[from + right]!, value] as const] : []));
      if (row) write.push(...typed.map(([key, value]) => ({ row: (row.getData() as RowData).$id, key, typed: value })));
      else beyond.push(Object.fromEntries(typed));
    }
    sheet.write(write);
    if (beyond.length > 0) await sheet.add(beyond);
  }

  return { range, chosen, columnOf, idOf, clear, fillDown, copy, paste };
}
