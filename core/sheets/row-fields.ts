// A row as what it is for workflows: an item with fields.
import type { Fields, FieldValue } from '../items/item.ts';
import { LINK, NUMBER, object, TEXT, type ShapeFields } from '../shapes/shape.ts';
import type { Cell, CellContext, Cells } from './cell.ts';
import { columnFieldShape, isWritten, type Column } from './column.ts';
import { computedCell } from './computed.ts';

/** The fields of a row by the keys of its columns; a cell without anything is an empty text. */
export function rowFields(columns: readonly Column[], cells: Cells, context: CellContext): Fields {
  const written: Fields = {};
  for (const column of columns)
    if (isWritten(column)) written[column.key] = fieldOf(column, cells[column.key] ?? null, context);
  const fields: Fields = {};
  for (const column of columns)
    fields[column.key] =
      column.type === 'computed' || column.type === 'left'
        ? (computedCell(column, written, context) ?? '')
        : written[column.key]!;
  return fields;
}

function fieldOf(column: Column, value: Cell, { outlets, people }: CellContext): FieldValue {
  if (value === null) return column.type === 'outlet' || column.type === 'person' ? null : '';
  if (typeof value === 'number' && column.type === 'outlet') return { id: value, name: outlets.get(value)?.name ?? '' };
  if (typeof value === 'number' && column.type === 'person') return { id: value, name: people.get(value) ?? '' };
  return value;
}

/** What the rows of a sheet look like to workflows. */
export function sheetShape(columns: readonly Column[]): ShapeFields {
  return {
    ...Object.fromEntries(columns.map((column) => [column.key, columnFieldShape(column)])),
    row: NUMBER,
    link: LINK,
    id: TEXT,
    outlet: object({ id: NUMBER, name: TEXT }),
  };
}
