<script setup lang="ts">
import {
  EditModule,
  FilterModule,
  FormatModule,
  FrozenColumnsModule,
  InteractionModule,
  KeybindingsModule,
  MoveColumnsModule,
  ResizeColumnsModule,
  SelectRangeModule,
  SortModule,
  Tabulator,
  type CellComponent,
  type ColumnDefinition,
  type RangeComponent,
  type RowComponent,
} from 'tabulator-tables';
import { onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { readBlock, writeBlock } from '@playa/core/sheets/block.ts';
import { sayCell, type Cell, type Cells } from '@playa/core/sheets/cell.ts';
import { isWritten, type Column } from '@playa/core/sheets/column.ts';
import { rowFields } from '@playa/core/sheets/row-fields.ts';
import type { SheetRow } from '../../lib/types.ts';
import { compareCells } from './compare-cells.ts';
import { editorFor } from './cell-editors.ts';
import { cellElement, usualWidth, valueOf } from './cell-look.ts';
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

Tabulator.registerModule([
  EditModule,
  FilterModule,
  FormatModule,
  FrozenColumnsModule,
  InteractionModule,
  KeybindingsModule,
  MoveColumnsModule,
  ResizeColumnsModule,
  SelectRangeModule,
  SortModule,
]);

type Data = Record<string, Cell> & { $id: number };
const holder = ref<HTMLElement>();
const said = ref('');
let table: Tabulator | undefined;
let built = false;
/** What the grid was last told of each row. */
let told = new Map<number, SheetRow>();
let letter: string | null = null;
let editing = false;

const dataOf = (row: SheetRow): Data => {
  const data: Data = { $id: row.id } as Data;
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

const rowHeader = {
  width: 58,
  resizable: false,
  frozen: true,
  headerSort: false,
  formatter: (cell: CellComponent) => {
    const button = document.createElement('button');
    button.type = 'button';
    button.tabIndex = -1;
    button.className = 'w-full text-center text-xs text-ink-3 hover:text-sea';
    const place = cell.getRow().getPosition();
    button.textContent = String(place || '');
    button.title = 'Open the row';
    button.setAttribute('aria-label', `Open row ${place}`);
    button.addEventListener('click', () => emit('row', (cell.getRow().getData() as Data).$id));
    return button;
  },
};

onMounted(() => {
  told = new Map(props.open.rows.value);
  table = new Tabulator(holder.value!, {
    index: '$id',
    data: [...told.values()].map(dataOf),
    columns: props.columns.map(definitionOf),
    // Its types know no formatter of one's own here, though it takes one as any column does.
    rowHeader: rowHeader as unknown as true,
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
    nameParts();
  });
  table.on('cellEditing', () => void (editing = true));
  table.on('cellEditCancelled', endEditing);
  table.on('cellEdited', (cell: CellComponent) => {
    const id = (cell.getRow().getData() as Data).$id;
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
/** What a screen reader is told of the parts of a grid (WAI-ARIA 1.2, grid), where the grid itself leaves it out. */
function nameParts() {
  const part = (selector: string, role: string) => holder.value?.querySelector(selector)?.setAttribute('role', role);
  holder.value?.setAttribute('aria-label', props.open.sheet.value?.name ?? 'Rows');
  part('.tabulator-header', 'rowgroup');
  part('.tabulator-header-contents', 'presentation');
  part('.tabulator-headers', 'row');
  nameRows();
}
/** The rows are a group that the keyboard can be in, and without any there is none. */
function nameRows() {
  const rows = holder.value?.querySelector('.tabulator-tableholder');
  if (!rows) return;
  const any = (table?.getDataCount('active') ?? 0) > 0;
  for (const [name, value] of [
    ['role', 'rowgroup'],
    ['aria-label', 'Rows'],
    ['tabindex', '0'],
  ] as const)
    if (any) rows.setAttribute(name, value);
    else rows.removeAttribute(name);
  holder.value?.querySelector('.tabulator-table')?.setAttribute('role', 'presentation');
}
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
    table.setFilter((data: Data) => {
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

const range = (): RangeComponent | undefined => table?.getRanges()[0];
/** The chosen cells as rows of cells, those that are worked out among them. */
const chosen = (): CellComponent[][] =>
  (range()?.getStructuredCells() ?? []).map((row) => row.filter((cell) => columnOf(cell) !== undefined));
const columnOf = (cell: CellComponent) => props.columns.find(({ key }) => key === cell.getField());
const idOf = (cell: CellComponent) => (cell.getRow().getData() as Data).$id;

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

function clear() {
  props.open.write(
    chosen()
      .flat()
      .map((cell) => ({ row: idOf(cell), key: cell.getField(), typed: null })),
  );
}
/** What stands in the first row of the range goes into the others. */
function fillDown() {
  const [first, ...others] = chosen();
  if (!first) return;
  props.open.write(
    others.flatMap((row) =>
      row.map((cell, index) => ({ row: idOf(cell), key: cell.getField(), typed: valueOf(first[index]!) })),
    ),
  );
}
function copy(event: ClipboardEvent) {
  if (editing) return;
  const text = chosen().map((row) =>
    row.map((cell) => {
      const column = columnOf(cell)!;
      const value = valueOf(cell);
      return isWritten(column) ? sayCell(column, value, props.open.context.value) : String(value ?? '');
    }),
  );
  if (text.length === 0) return;
  event.preventDefault();
  event.clipboardData?.setData('text/plain', writeBlock(text));
  if (event.type === 'cut') clear();
}
async function paste(event: ClipboardEvent) {
  if (editing) return;
  const text = event.clipboardData?.getData('text/plain');
  if (!text || !table) return;
  event.preventDefault();
  const block = readBlock(text);
  const cells = chosen();
  const first = cells[0]?.[0];
  const keys = props.columns.map(({ key }) => key);
  const from = first ? keys.indexOf(first.getField()) : 0;
  const shown = table.getRows('active');
  const top = first ? shown.findIndex((row) => (row.getData() as Data).$id === idOf(first)) : shown.length;
  // One cell goes into all that are chosen.
  if (block.length === 1 && block[0]!.length === 1 && cells.flat().length > 1)
    return props.open.write(
      cells.flat().map((cell) => ({ row: idOf(cell), key: cell.getField(), typed: block[0]![0]! })),
    );
  const write: { row: number; key: string; typed: Cell }[] = [];
  const beyond: Record<string, Cell>[] = [];
  for (const [down, line] of block.entries()) {
    const row = shown[top + down];
    const typed = line.flatMap((value, right) => (keys[from + right] ? [[keys[from + right]!, value] as const] : []));
    if (row) write.push(...typed.map(([key, value]) => ({ row: (row.getData() as Data).$id, key, typed: value })));
    else beyond.push(Object.fromEntries(typed));
  }
  props.open.write(write);
  if (beyond.length > 0) await props.open.add(beyond);
}

function key(event: KeyboardEvent) {
  if (editing) return;
  const command = event.ctrlKey || event.metaKey;
  const [cell] = chosen().flat();
  const does =
    command && event.key === 'd'
      ? fillDown
      : command && event.key === 'z'
        ? event.shiftKey
          ? props.open.redo
          : props.open.undo
        : command && event.key === 'y'
          ? props.open.redo
          : command && event.key === 'Enter'
            ? () => cell && emit('row', idOf(cell))
            : event.key === 'Delete' || event.key === 'Backspace'
              ? clear
              : event.key === 'F2'
                ? () => cell?.edit()
                : undefined;
  if (does) {
    event.preventDefault();
    event.stopPropagation();
    void does();
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
  <div class="rows-grid h-full" @copy="copy" @cut="copy" @paste="paste" @keydown.capture="key" @edited-by-enter="below">
    <div ref="holder"></div>
    <p class="sr-only" role="status">{{ said }}</p>
  </div>
</template>

<style>
@import 'tabulator-tables/dist/css/tabulator_simple.min.css';

.rows-grid .tabulator {
  height: 100%;
  border: 0;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
.rows-grid .tabulator .tabulator-header,
.rows-grid .tabulator .tabulator-header .tabulator-col,
.rows-grid .tabulator .tabulator-header .tabulator-col.tabulator-sortable:hover {
  border-color: var(--line);
  background: var(--paper-2);
  color: var(--ink-2);
  font-weight: 500;
}
.rows-grid .tabulator .tabulator-header .tabulator-col .tabulator-col-content {
  padding: 6px 8px;
}
.rows-grid .tabulator .tabulator-row,
.rows-grid .tabulator .tabulator-row.tabulator-selectable:hover {
  border-color: var(--line);
  background: var(--card);
  color: var(--ink);
}
.rows-grid .tabulator .tabulator-row .tabulator-cell {
  border-right: 1px solid var(--line);
  padding: 5px 8px;
}
.rows-grid .tabulator .tabulator-row .tabulator-cell.tabulator-editing {
  border: 0;
  border-right: 1px solid var(--line);
  padding: 0;
}
.rows-grid .tabulator .tabulator-row .tabulator-cell.tabulator-row-header {
  background: var(--paper-2);
  padding: 5px 2px;
}
.rows-grid .tabulator .tabulator-row .tabulator-cell.tabulator-range-selected:not(.tabulator-range-only-cell-selected) {
  background: var(--sea-wash);
  color: var(--ink);
}
.rows-grid .tabulator .tabulator-row.tabulator-range-highlight .tabulator-cell.tabulator-range-row-header,
.rows-grid .tabulator .tabulator-header .tabulator-col.tabulator-range-highlight,
.rows-grid .tabulator .tabulator-row.tabulator-range-selected .tabulator-cell.tabulator-range-row-header,
.rows-grid .tabulator .tabulator-header .tabulator-col.tabulator-range-selected {
  background: var(--sea-wash);
  color: var(--ink);
}
.rows-grid .tabulator .tabulator-range-overlay .tabulator-range-cell-active,
.rows-grid .tabulator .tabulator-range-overlay .tabulator-range {
  border-color: var(--sea);
}
.rows-grid .tabulator .tabulator-range-overlay .tabulator-range.tabulator-range-active::after {
  background: var(--sea);
}
.rows-grid .tabulator .tabulator-tableholder {
  background: var(--paper-2);
}
.rows-grid .tabulator .tabulator-tableholder .tabulator-placeholder .tabulator-placeholder-contents {
  color: var(--ink-2);
  font-size: inherit;
  font-weight: 400;
}
.rows-grid .tabulator .tabulator-tableholder .tabulator-table {
  background: var(--card);
  color: var(--ink);
}
</style>
