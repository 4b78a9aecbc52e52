<script setup lang="ts" generic="T extends object">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue';
import { ArrowDown, ArrowUp, Columns3 } from '@lucide/vue';
import {
  columnFilteringFeature,
  columnVisibilityFeature,
  createFilteredRowModel,
  createPaginatedRowModel,
  createSortedRowModel,
  globalFilteringFeature,
  rowPaginationFeature,
  rowSelectionFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type Row,
  type TableState,
} from '@tanstack/vue-table';
import { computed, nextTick, ref, toRef, watch, type Ref } from 'vue';
import { arrangedAs, keepArranged, type Column } from './columns.ts';

// Every table of rows: sorted, searched, in pages, with the columns somebody wants, and gone through from the keyboard. How
// a cell looks is the view's: a slot by the column's id.
const props = withDefaults(
  defineProps<{
    rows: readonly T[];
    columns: readonly Column<T>[];
    /** What makes a row the same when the rows are fetched anew. */
    keyOf: (row: T) => string | number;
    /** What the table holds: "Workflows". */
    label: string;
    /** Under this name it is kept how somebody has the table. */
    name: string;
    pageSize?: number;
    selectable?: boolean;
    /** Rows that stand out. */
    marked?: (row: T) => boolean;
    /** Columns are as wide as they say, however long a word is; the table is wider then. */
    fixed?: boolean;
    /** Its rows come from the server in its order, found and cut into pages there: nothing of that is done here. */
    served?: boolean;
    /** It fits a phone as it is: it is no wider than where it stands. */
    narrow?: boolean;
  }>(),
  { pageSize: 50 },
);
const emit = defineEmits<{ open: [row: T]; selected: [keys: string[]] }>();
defineSlots<
  { [cell: `cell-${string}`]: (of: { row: T }) => unknown } & { tools?: () => unknown; none?: () => unknown }
>();

const features = tableFeatures({
  rowSortingFeature,
  columnFilteringFeature,
  globalFilteringFeature,
  columnVisibilityFeature,
  rowPaginationFeature,
  rowSelectionFeature,
  sortedRowModel: createSortedRowModel(),
  filteredRowModel: createFilteredRowModel(),
  paginatedRowModel: createPaginatedRowModel(),
});
type R = Row<typeof features, T>;

/** Words as people sort them, numbers as numbers; what is not there comes last. */
function compare(a: R, b: R, id: string): number {
  const [x, y] = [a.getValue(id), b.getValue(id)];
  if (x === null || y === null) return x === y ? 0 : x === null ? 1 : -1;
  return typeof x === 'number' && typeof y === 'number'
    ? x - y
    : String(x).localeCompare(String(y), undefined, { numeric: true, sensitivity: 'base' });
}
/** All words that were looked for, in any of the row's columns. */
function holds(row: R, _id: string, wanted: string): boolean {
  const said = props.columns
    .map(({ value }) => value?.(row.original) ?? '')
    .join(' ')
    .toLowerCase();
  return wanted.split(/\s+/).every((word) => said.includes(word));
}
const kept = arrangedAs(props.name);
const sorting = ref(props.served ? [] : kept.sorting);
const hidden = ref(kept.hidden);
const search = ref('');
const chosen = ref<Record<string, true>>({});
watch([sorting, hidden], () => keepArranged(props.name, { sorting: sorting.value, hidden: hidden.value }));

const table = useTable({
  features,
  data: toRef(props, 'rows'),
  columns: computed(() =>
    props.columns.map((column) => ({
      id: column.id,
      accessorFn: (row: T) => column.value?.(row) ?? null,
      enableSorting: column.value !== undefined && !props.served,
      enableHiding: column.optional === true,
      sortFn: compare,
      sortDescFirst: false,
    })),
  ),
  getRowId: (row: T) => String(props.keyOf(row)),
  globalFilterFn: holds,
  getColumnCanGlobalFilter: () => true,
  initialState: { pagination: { pageIndex: 0, pageSize: props.served ? Number.MAX_SAFE_INTEGER : props.pageSize } },
  autoResetPageIndex: false,
  // The adapter asks for one that can be written, and writes none.
  state: computed(() => ({
    sorting: sorting.value,
    globalFilter: search.value.trim().toLowerCase() || undefined,
    columnVisibility: Object.fromEntries(hidden.value.map((id) => [id, false])),
    rowSelection: chosen.value,
  })) as unknown as Ref<Partial<TableState<typeof features>>>,
  onSortingChange: (change) => (sorting.value = typeof change === 'function' ? change(sorting.value) : change),
  onRowSelectionChange: (change) => {
    chosen.value = typeof change === 'function' ? change(chosen.value) : change;
    emit(
      'selected',
      Object.keys(chosen.value).filter((key) => chosen.value[key]),
    );
  },
});
// What is gone is no longer chosen.
watch(
  () => props.rows,
  (rows) => {
    const here = new Set(rows.map((row) => String(props.keyOf(row))));
    const gone = Object.keys(chosen.value).filter((key) => !here.has(key));
    if (gone.length > 0)
      table.setRowSelection((before) => Object.fromEntries(Object.entries(before).filter(([key]) => here.has(key))));
  },
);
const shown = computed(() => props.columns.filter(({ id }) => !hidden.value.includes(id)));
const rowsShown = computed(() => table.getRowModel().rows);
const found = computed(() => table.getFilteredRowModel().rows.length);
const pages = computed(() => table.getPageCount());
const page = computed(() => table.atoms.pagination.get().pageIndex);
// Rows that are gone take no page with them that then is empty.
watch([pages, search], ([count], [, before]) => {
  if (search.value !== before) table.setPageIndex(0);
  else if (page.value >= count && count > 0) table.setPageIndex(count - 1);
});
const sortOf = (id: string) => sorting.value.find((each) => each.id === id);
const ariaSort = (id: string) => {
  const sort = sortOf(id);
  return sort ? (sort.desc ? 'descending' : 'ascending') : 'none';
};
function toggleColumn(id: string) {
  hidden.value = hidden.value.includes(id) ? hidden.value.filter((each) => each !== id) : [...hidden.value, id];
}

/** The row that the keyboard is at, by its place. */
const at = ref(0);
const body = ref<HTMLElement>();
async function go(event: KeyboardEvent, index: number, row: R) {
  // Keys in a field or on a button of the row are the row's own.
  if (event.target !== event.currentTarget) return;
  const last = rowsShown.value.length - 1;
  const to = { ArrowDown: index + 1, ArrowUp: index - 1, Home: 0, End: last }[event.key];
  if (to !== undefined) {
    event.preventDefault();
    at.value = Math.min(last, Math.max(0, to));
    await nextTick();
    (body.value?.children[at.value] as HTMLElement | undefined)?.focus();
  } else if (event.key === 'Enter') emit('open', row.original);
  else if (event.key === ' ' && props.selectable) {
    event.preventDefault();
    row.toggleSelected();
  }
}
</script>

<template>
  <div>
    <div
      v-if="!served || $slots.tools || columns.some((column) => column.optional)"
      class="mb-2 flex flex-wrap items-center gap-2"
    >
      <input
        v-if="!served && (rows.length > 5 || search)"
        v-model="search"
        type="search"
        class="field w-60"
        :placeholder="`Find in ${label.toLowerCase()}`"
        :aria-label="`Find in ${label.toLowerCase()}`"
      />
      <span v-if="search" class="text-sm text-ink-3" role="status">{{ found }} of {{ rows.length }}</span>
      <slot name="tools" />
      <Popover v-if="columns.some((column) => column.optional)" class="relative ml-auto">
        <PopoverButton class="btn btn-quiet text-sm"><Columns3 :size="14" /> Columns</PopoverButton>
        <PopoverPanel
          class="absolute right-0 z-20 mt-1 w-48 rounded-(--radius) border border-line bg-card py-1 shadow-lg"
        >
          <label
            v-for="column in columns.filter((each) => each.optional)"
            :key="column.id"
            class="flex items-center gap-2 px-3 py-1 hover:bg-sea-wash"
          >
            <input type="checkbox" :checked="!hidden.includes(column.id)" @change="toggleColumn(column.id)" />
            {{ column.title }}
          </label>
        </PopoverPanel>
      </Popover>
    </div>
    <div class="sheet overflow-x-auto">
      <table
        class="w-full"
        :class="fixed ? 'min-w-[1100px] table-fixed' : narrow ? '' : 'min-w-[820px]'"
        :aria-label="label"
        :aria-rowcount="found + 1"
      >
        <thead class="text-left text-sm text-ink-3">
          <tr class="border-b border-line">
            <th v-if="selectable" class="w-8 py-1.5 pl-4">
              <input
                type="checkbox"
                aria-label="Choose all"
                :checked="table.getIsAllRowsSelected()"
                :indeterminate="table.getIsSomeRowsSelected()"
                @change="table.toggleAllRowsSelected()"
              />
            </th>
            <th
              v-for="(column, index) in shown"
              :key="column.id"
              class="py-1.5 pr-2 font-normal"
              :class="[column.width, index === 0 && !selectable ? 'pl-4' : 'pl-2']"
              :aria-sort="column.value && !served ? ariaSort(column.id) : undefined"
            >
              <button
                v-if="column.value && !served"
                class="inline-flex items-center gap-1 rounded hover:text-ink"
                @click="table.getColumn(column.id)?.toggleSorting()"
              >
                {{ column.title }}
                <component
                  :is="sortOf(column.id)?.desc ? ArrowDown : ArrowUp"
                  v-if="sortOf(column.id)"
                  :size="12"
                  aria-hidden="true"
                />
              </button>
              <span v-else :class="column.quiet && 'sr-only'">{{ column.title }}</span>
            </th>
          </tr>
        </thead>
        <tbody ref="body">
          <tr
            v-for="(row, index) in rowsShown"
            :key="row.id"
            class="border-b border-line align-top last:border-0 hover:bg-paper-2 focus-visible:bg-sea-wash"
            :class="marked?.(row.original) && 'bg-sea-wash'"
            :aria-selected="selectable ? row.getIsSelected() : undefined"
            :tabindex="index === Math.min(at, rowsShown.length - 1) ? 0 : -1"
            @focus="at = index"
            @keydown="go($event, index, row)"
          >
            <td v-if="selectable" class="py-3 pl-4">
              <input
                type="checkbox"
                :aria-label="`Choose row ${index + 1}`"
                :checked="row.getIsSelected()"
                @change="row.toggleSelected()"
              />
            </td>
            <td
              v-for="(column, place) in shown"
              :key="column.id"
              class="py-2.5 pr-2"
              :class="[narrow && column.width, place === 0 && !selectable ? 'pl-4' : 'pl-2']"
            >
              <slot :name="`cell-${column.id}`" :row="row.original">{{ column.value?.(row.original) }}</slot>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="found === 0" class="px-4 py-4 text-ink-3">
        <slot name="none">Nothing in {{ label.toLowerCase() }} is like that.</slot>
      </p>
    </div>
    <nav v-if="pages > 1" class="mt-2 flex items-center gap-2" :aria-label="`Pages of ${label.toLowerCase()}`">
      <button class="btn btn-quiet" :disabled="!table.getCanPreviousPage()" @click="table.previousPage()">Back</button>
      <span class="text-sm text-ink-2">Page {{ page + 1 }} of {{ pages }}</span>
      <button class="btn btn-quiet" :disabled="!table.getCanNextPage()" @click="table.nextPage()">Next</button>
    </nav>
  </div>
</template>
