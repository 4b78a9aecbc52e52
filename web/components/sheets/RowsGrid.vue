<script setup lang="ts">
import type { CellComponent, ColumnDefinition, RowComponent, Tabulator as Grid } from 'tabulator-tables';
import { onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { sayCell, type Cell, type Cells } from '@playa/core/sheets/cell.ts';
import { isWritten, type Column } from '@playa/core/sheets/column.ts';
import { rowFields } from '@playa/core/sheets/row-fields.ts';
import type { SheetRow } from '../../lib/types.ts';
import { Tabulator } from './tabulator.ts';
import { compareCells } from './compare-cells.ts';
import { editorFor } from './cell-editors.ts';
import { cellElement, usualWidth, valueOf } from './cell-look.ts';
import { nameGroup, nameParts } from './grid-names.ts';
import { gridRange, type RowData } from './grid-range.ts';
import { rowHeader } from './row-header.ts';
import type { OpenSheet } from './use-sheet.ts';

// The grid of a sheet: Tabulator for the cells in view, ranges and the keyboard; what is written goes through use-sheet.ts.
const props = defineProps<{
  open: OpenSheet;
  /** Columns in view, in their order. */
  columns: readonly Column[];
  sort: readonly { key: string; down: boolean }[];
  /** Whether a row is in view; undefined for all of them. */
  filter: ((row: SheetRow) => boolean) | undefined;
}>();
const emit = defineEmits<{
  row: [id: number];
  sorted: [sort: { key: string; down: boolean }[]];
  resized: [key: string, width: number];
  counted: [shown: number];
}>();

const holder = ref<HTMLElement>();
const said = ref('');
let table: Grid | undefined;
let built = false;
/** What the grid was last told of each row. */
let told = new Map<number, SheetRow>();
let letter: string | null = null;
let editing = false;

const dataOf = (row: SheetRow): RowData => {
  const data: RowData = { $id: row.id } as RowData;
  const worked = props.open.columns.value.some((column) => !isWritten(column))
    ? rowFields(props.open.columns.value, row.cells as Cells, props.open.context.value)
    : {};
  for (const column of props.open.columns.value)
    data[column.key] = (isWritten(column) ? row.cells[column.key] : worked[column.key]) as Cell;
  return data;
};

function definitionOf(column: Column): ColumnDefinition {
  return {
    title: column.name,
    field: column.key,
    width: column.width ?? usualWidth(column),
    hozAlign: column.type === 'number' || column.type === 'left' ? 'right' : 'left',
    sorter: (a: Cell, b: Cell) => compareCells(a, b),
    formatter: (cell: CellComponent) => {
      const value = valueOf(cell);
      return cellElement(column, value, props.open.context.value, value as string | number | null);
    },
    ...(isWritten(column) && {
      editor: editorFor(
        column,
        () => props.open.context.value,
        () => {
          const begun = { letter };
          letter = null;
          return begun;
        },
      ),
    }),
  };
}

onMounted(() => {
  told = new Map(props.open.rows.value);
  table = new Tabulator(holder.value!, {
    index: '$id',
    data: [...told.values()].map(dataOf),
    columns: props.columns.map(definitionOf),
    // Its types know no formatter of one's own here, though it takes one as any column does.
    rowHeader: rowHeader((id) => emit('row', id)) as unknown as true,
    height: '100%',
    rowHeight: 32,
    layout: 'fitData',
    placeholder: 'No rows yet. Add one, paste some from a spreadsheet, or read a file.',
    editTriggerEvent: 'dblclick',
    selectableRange: 1,
    selectableRangeColumns: true,
    selectableRangeRows: true,
    headerSortClickElement: 'icon',
    columnDefaults: { resizable: 'header', headerSortTristate: true },
    initialSort: props.sort.map(({ key, down }) => ({ column: key, dir: down ? 'desc' : 'asc' })),
  });
  table.on('tableBuilt', () => {
    built = true;
    applyFilter();
    nameParts(holder.value!, props.open.sheet.value?.name ?? 'Rows');
    nameRows();
  });
  table.on('cellEditing', () => void (editing = true));
  table.on('cellEditCancelled', endEditing);
  table.on('cellEdited', (cell: CellComponent) => {
    const id = (cell.getRow().getData() as RowData).$id;
    // The grid is left alone while a cell is written in: this is what stood there when it began.
    const seen = (cell.getOldValue() ?? null) as Cell;
    props.open.write([{ row: id, key: cell.getField(), typed: valueOf(cell), seen }]);
    endEditing();
    // What is stored may be another way to say it than what was typed.
    restore(cell.getRow(), id);
  });
  table.on('columnResized', (column) => emit('resized', column.getField(), Math.round(column.getWidth())));
  table.on('dataSorted', (sorters) => {
    // New rows are sorted in too, which is no news.
    const sort = sorters.map((each) => ({ key: each.field, down: each.dir === 'desc' }));
    if (built && JSON.stringify(sort) !== JSON.stringify(props.sort)) emit('sorted', sort);
  });
  table.on('dataFiltered', (_filters, rows) => emit('counted', rows.length));
  table.on('renderComplete', nameRows);
  table.on('rangeChanged', sayWhere);
});
const nameRows = () => nameGroup(holder.value, (table?.getDataCount('active') ?? 0) > 0);
onBeforeUnmount(() => table?.destroy());

function endEditing() {
  editing = false;
  update();
}
function restore(row: RowComponent, id: number) {
  const stored = props.open.rows.value.get(id);
  if (stored) void row.update(dataOf(stored));
}

/** Brings the grid up to date, but for a cell that is being written in. */
function update() {
  if (!table || !built || editing) return;
  const next = props.open.rows.value;
  const changed = [...next.values()].filter((row) => told.has(row.id) && told.get(row.id) !== row);
  const added = [...next.values()].filter((row) => !told.has(row.id));
  const gone = [...told.keys()].filter((id) => !next.has(id));
  told = new Map(next);
  if (changed.length + added.length + gone.length > 400) {
    void table.replaceData([...next.values()].map(dataOf)).then(applyFilter);
    return;
  }
  if (gone.length > 0) void table.deleteRow(gone);
  if (changed.length > 0) void table.updateData(changed.map(dataOf));
  if (added.length > 0) void table.addData(added.map(dataOf));
}
watch(props.open.rows, update);

function applyFilter() {
  if (!table || !built) return;
  const { filter } = props;
  if (filter)
    table.setFilter((data: RowData) => {
      const row = props.open.rows.value.get(data.$id);
      return row !== undefined && filter(row);
    });
  else table.clearFilter(true);
}
watch(() => props.filter, applyFilter);
watch(
  () => props.sort,
  (sort) => {
    if (!table || !built) return;
    const now = table.getSorters().map((each) => ({ key: each.field, down: each.dir === 'desc' }));
    if (JSON.stringify(now) === JSON.stringify(sort)) return;
    if (sort.length === 0) {
      table.clearSort();
      void table.replaceData([...props.open.rows.value.values()].map(dataOf)).then(applyFilter);
    } else table.setSort(sort.map(({ key, down }) => ({ column: key, dir: down ? 'desc' : 'asc' })));
  },
);
// Names of outlets and colleagues, and what is worked out, show in cells.
const look = () =>
  JSON.stringify([props.columns, [...props.open.context.value.outlets], [...props.open.context.value.people]]);
watch(look, () => {
  if (!table || !built) return;
  table.setColumns(props.columns.map(definitionOf));
  void table.replaceData([...props.open.rows.value.values()].map(dataOf)).then(applyFilter);
});

const { range, chosen, columnOf, idOf, ...does } = gridRange(
  () => table,
  () => props.columns,
  props.open,
);
/** Screen readers hear where the keyboard is and what stands there. */
function sayWhere() {
  const [first] = chosen().flat();
  const column = first && columnOf(first);
  if (!first || !column) return;
  const count = chosen().flat().length;
  const text = sayCell(column, valueOf(first), props.open.context.value) || 'empty';
  said.value =
    count > 1
      ? `${count} cells, from ${column.name} in row ${first.getRow().getPosition()}`
      : `${column.name}, row ${first.getRow().getPosition()}: ${text}`;
}

/** The rows that the range reaches over. */
const chosenRows = (): number[] => [...new Set(chosen().flatMap((row) => row.map(idOf)))];

function key(event: KeyboardEvent) {
  if (editing) return;
  const command = event.ctrlKey || event.metaKey;
  const [cell] = chosen().flat();
  const act =
    command && event.key === 'd'
      ? does.fillDown
      : command && event.key === 'z'
        ? event.shiftKey
          ? props.open.redo
          : props.open.undo
        : command && event.key === 'y'
          ? props.open.redo
          : command && event.key === 'Enter'
            ? () => cell && emit('row', idOf(cell))
            : event.key === 'Delete' || event.key === 'Backspace'
              ? does.clear
              : event.key === 'F2'
                ? () => cell?.edit()
                : undefined;
  if (act) {
    event.preventDefault();
    event.stopPropagation();
    void act();
  } else if (cell && !command && !event.altKey && event.key.length === 1 && event.key !== ' ') {
    event.preventDefault();
    letter = event.key;
    cell.edit();
  }
}
/** After Enter the cell below is the next one. */
function below() {
  setTimeout(() => {
    const [cell] = chosen().flat();
    const next = cell?.getRow().getNextRow();
    if (!cell || !next) return;
    const to = next.getCell(cell.getField());
    range()?.setBounds(to, to);
    to.getElement().scrollIntoView({ block: 'nearest' });
  });
}

defineExpose({
  chosenRows,
  /** Shows a row and puts the keyboard there. @param typed what was typed for it already */
  async show(id: number, typed: () => string) {
    if (!table) return;
    await table.scrollToRow(id, 'center', false).catch(() => undefined);
    const row = table.getRow(id);
    const first = props.columns[0] && row ? row.getCell(props.columns[0].key) : undefined;
    if (first) range()?.setBounds(first, first);
    holder.value?.querySelector<HTMLElement>('.tabulator-tableholder')?.focus({ preventScroll: true });
    const begun = typed();
    if (!first || begun === '') return;
    letter = begun;
    first.edit();
  },
});
</script>

<template>
  <div
    class="rows-grid h-full"
    @copy="editing || does.copy($event)"
    @cut="editing || does.copy($event)"
    @paste="editing || does.paste($event)"
    @keydown.capture="key"
    @edited-by-enter="below"
  >
    <div ref="holder"></div>
    <p class="sr-only" role="status">{{ said }}</p>
  </div>
</template>

<style src="./rows-grid.css"></style>
