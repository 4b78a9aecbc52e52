<script setup lang="ts">
import { Plus } from '@lucide/vue';
import { useVirtualizer } from '@tanstack/vue-virtual';
import Sortable from 'sortablejs';
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { cellsOf, type Cell, type Trace } from '@playa/core/model/cells.ts';
import { ONCE } from '@playa/core/engine/program.ts';
import { nameOfSource, RULES, type SheetRow } from '../../lib/sheet-rows.ts';
import { shortMoment } from '../../lib/times.ts';
import type { HappenedRun } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';
import AddStep from './AddStep.vue';
import CellView from './CellView.vue';
import { gridKeys } from './grid-keys.ts';
import ItemHeader from './ItemHeader.vue';
import ManyCells from './ManyCells.vue';
import RowHead from './RowHead.vue';
import { type PastItem } from '@playa/core/rehearsal/virtual-run.ts';

// The sheet: steps are rows, items are columns. Only the columns in view are drawn, however many there are.
const props = defineProps<{
  items: readonly PastItem[];
  runs?: ReadonlyMap<number, HappenedRun> | undefined;
  empty: string;
}>();
const emit = defineEmits<{ edit: [] }>();
const editor = useEditor();
const session = useSession();

// On a narrow screen the sheet is for reading, and the items get the room.
const HEAD = window.innerWidth < 640 ? 150 : 300;
const WIDTH = 236;
const scroller = ref<HTMLElement>();
const body = ref<HTMLElement>();
const adding = ref(false);

const virtualizer = useVirtualizer(
  computed(() => ({
    count: props.items.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => WIDTH,
    horizontal: true,
    overscan: 3,
    paddingStart: 0,
    scrollPaddingStart: HEAD,
  })),
);
const columns = computed(() =>
  virtualizer.value
    .getVirtualItems()
    .map((column) => ({ index: column.index, item: props.items[column.index]! }))
    .filter((column) => column.item),
);
const before = computed(() => (columns.value[0]?.index ?? 0) * WIDTH);
const after = computed(() => (props.items.length - 1 - (columns.value.at(-1)?.index ?? -1)) * WIDTH);
const width = computed(() => HEAD + props.items.length * WIDTH);

const rowIds = computed(() => editor.rows.map((row) => row.id));
const chosenColumn = computed(() => editor.chosenItem?.id);

const NOTHING: Trace = {};
const traceOf = (item: PastItem) =>
  props.runs ? (props.runs.get(item.id)?.trace ?? NOTHING) : editor.outcomes(item).trace;
/** The cells of a row for an item: several inside a For each. */
function cellsFor(id: string, item: PastItem): Cell[] {
  return cellsOf(traceOf(item), id).map(({ cell }) => cell);
}
const wrong = (cell: Cell | undefined) =>
  (cell?.kind === 'posts' && !cell.off && cell.posts.some((post) => post.trouble && post.status !== 'skipped')) ||
  (cell?.kind === 'acts' && !cell.off && cell.acts.some((act) => act.status === 'held' || act.status === 'failed'));
/** Whether a case of a Split was taken for an item. */
function takesBand(step: string, branch: string, item: PastItem): boolean {
  return cellsFor(step, item).some((cell) => cell.kind === 'takes' && cell.branch === branch);
}
const onceOf = (item: PastItem) => traceOf(item)[ONCE];
/** The columns in view with what a row shows in them, looked up once. */
const cellsInView = (row: SheetRow) => {
  const ids = row.type === 'source' ? [row.id, ...row.others.map(({ id }) => id)] : [row.id];
  return columns.value.map((column) => ({ ...column, cells: ids.flatMap((id) => cellsFor(id, column.item)) }));
};
const sourceName = (watchId: number | null) => nameOfSource(editor.world, watchId);

/** Whether an item has a problem: what [ and ] look for. */
function hasProblem(item: PastItem): boolean {
  return Object.values(traceOf(item)).some(
    (cell) => wrong(cell) || (cell.kind === 'text' && !cell.off && (cell.empty.length > 0 || cell.wrong)),
  );
}

// Keyboard: one cell is in the tab order, the arrows move it.
const focus = ref({ row: '', column: -1 });
function focusCell(row: string, column: number) {
  focus.value = { row, column };
  editor.row = row;
  if (column >= 0) {
    const item = props.items[column];
    if (item) editor.column = item.id;
    virtualizer.value.scrollToIndex(column, { align: 'auto' });
  }
  void nextTick(() =>
    body.value
      ?.querySelector<HTMLElement>(`[data-row="${row}"][data-column="${column}"]`)
      ?.focus({ preventScroll: column >= 0 }),
  );
}
watch(
  () => [editor.row, chosenColumn.value] as const,
  ([row, item]) => {
    const column = props.items.findIndex((each) => each.id === item);
    if (row !== focus.value.row || (focus.value.column >= 0 && column !== focus.value.column))
      focus.value = { row, column: Math.max(focus.value.column < 0 ? -1 : 0, focus.value.column < 0 ? -1 : column) };
  },
  { immediate: true },
);
const isTabStop = (row: string, column: number) => focus.value.row === row && focus.value.column === column;

const onKey = gridKeys({
  focus,
  rows: rowIds,
  last: () => props.items.length - 1,
  focusCell,
  jump,
  add: () => (adding.value = true),
  edit: () => emit('edit'),
});
function jump(by: 1 | -1) {
  const from = Math.max(
    0,
    props.items.findIndex((item) => item.id === chosenColumn.value),
  );
  for (let index = from + by; index >= 0 && index < props.items.length; index += by) {
    if (hasProblem(props.items[index]!)) return focusCell(editor.row, index);
  }
}

function closeAdding() {
  adding.value = false;
  void nextTick(() => focusCell(editor.row, focus.value.column));
}

// Rows are dragged by their handle. The library moves the row in the page; it is put back, and the draft is changed.
let sortable: Sortable | undefined;
const steps = ref<HTMLElement>();
onMounted(() => {
  sortable = Sortable.create(steps.value!, {
    handle: '.grip',
    draggable: '[data-drag]',
    animation: 120,
    onEnd: ({ item, oldDraggableIndex, newDraggableIndex }) => {
      if (oldDraggableIndex === newDraggableIndex) return;
      const rows = [...steps.value!.querySelectorAll<HTMLElement>('[data-drag]')].filter((each) => each !== item);
      steps.value!.insertBefore(item, rows[oldDraggableIndex!] ?? null);
      // Below whatever row it was dropped under; the rules stand above the first step.
      editor.moveStepBelow((item as HTMLElement).dataset.drag!, rows[newDraggableIndex! - 1]?.dataset.drag ?? RULES);
    },
  });
});
onBeforeUnmount(() => sortable?.destroy());
defineExpose({ focusCell: () => focusCell(editor.row, focus.value.column), add: () => (adding.value = true), jump });
</script>

<template>
  <div ref="scroller" class="sheet relative h-full overflow-auto" @keydown="onKey">
    <div
      ref="body"
      role="grid"
      aria-label="Run sheet: steps by items"
      :aria-rowcount="rowIds.length + 1"
      :aria-colcount="items.length + 1"
      :style="{ width: `${width}px`, minWidth: '100%' }"
    >
      <div role="row" class="sticky top-0 z-20 flex border-b border-line bg-card">
        <div
          role="columnheader"
          class="sticky left-0 z-10 flex shrink-0 items-end border-r-2 border-line bg-paper-2 px-3 py-1.5 text-[11.5px] text-ink-3"
          :style="{ width: `${HEAD}px` }"
        >
          <span
            >{{ editor.rows.filter((row) => row.type === 'step' || row.type === 'source').length }} steps ·
            {{ items.length }} items</span
          >
          <button
            class="ml-auto flex items-center gap-1 rounded px-1.5 py-0.5 text-sm font-[550] text-sea hover:bg-sea-wash"
            title="Add a step below the chosen one (A)"
            @click="adding = true"
          >
            <Plus :size="13" /> Add a step
          </button>
          <AddStep v-if="adding" class="absolute top-full left-3 z-30 mt-1" @close="closeAdding" />
        </div>
        <div v-if="items.length === 0" class="px-4 py-2 text-ink-3">{{ empty }}</div>
        <div :style="{ width: `${before}px` }" class="shrink-0"></div>
        <button
          v-for="{ item, index } in columns"
          :key="item.id"
          role="columnheader"
          tabindex="-1"
          class="shrink-0 border-t-3 border-r border-line px-2.5 py-2"
          :class="item.id === chosenColumn ? 'border-t-sea bg-sea-wash/60' : 'border-t-transparent'"
          :style="{ width: `${WIDTH}px` }"
          @click="focusCell(editor.row, index)"
        >
          <ItemHeader :item="item" :run="runs?.get(item.id)" />
        </button>
        <div :style="{ width: `${after}px` }" class="shrink-0"></div>
      </div>

      <div ref="steps">
        <div
          v-for="row in editor.rows"
          :key="row.id"
          role="row"
          :data-step="row.type === 'step' ? row.id : undefined"
          :data-drag="row.type === 'step' || row.type === 'band' ? row.id : undefined"
          class="group/row flex border-b border-line"
          :class="[
            row.type === 'rules' || row.type === 'band' ? 'bg-paper' : 'bg-card',
            row.id === editor.row && 'bg-sea-wash/35',
          ]"
        >
          <div
            role="rowheader"
            :data-row="row.id"
            data-column="-1"
            :tabindex="isTabStop(row.id, -1) ? 0 : -1"
            class="sticky left-0 z-10 flex shrink-0 gap-2.5 border-r-2 border-line px-3 text-left"
            :class="[
              row.id === editor.row ? 'bg-sea-wash' : 'bg-paper-2',
              row.type === 'step' || row.type === 'source' ? 'py-2' : 'py-1',
            ]"
            :style="{ width: `${HEAD}px` }"
            @click="focusCell(row.id, -1)"
            @dblclick="emit('edit')"
          >
            <RowHead :row="row" @add="((editor.row = row.id), (adding = true))" />
          </div>
          <div :style="{ width: `${before}px` }" class="shrink-0"></div>
          <div
            v-for="{ item, index, cells } in cellsInView(row)"
            :key="item.id"
            role="gridcell"
            :data-row="row.id"
            :data-column="index"
            :tabindex="isTabStop(row.id, index) ? 0 : -1"
            class="shrink-0 overflow-hidden border-r border-line px-2.5 contain-content"
            :class="[
              row.type === 'step' || row.type === 'source' ? 'py-2' : 'py-1',
              row.type === 'step' && cells.length === 0
                ? 'hatched'
                : cells.some(wrong)
                  ? 'bg-amber-wash'
                  : item.id === chosenColumn && 'bg-sea-wash/60',
              row.id === editor.row && item.id === chosenColumn && 'shadow-[inset_0_0_0_2px_var(--sea)]',
            ]"
            :style="{ width: `${WIDTH}px` }"
            @click="focusCell(row.id, index)"
            @dblclick="emit('edit')"
          >
            <template v-if="row.type === 'source'">
              <template v-if="[row.source, ...row.others].some(({ watch: watched }) => watched === item.watch)"
                ><b class="text-kelp">new</b>
                <span class="text-sm text-ink-3">seen {{ shortMoment(item.seenAt, session.zone) }}</span>
                <CellView v-if="cells[0]" :cell="cells[0]" />
                <span v-if="row.others.length" class="block truncate text-sm text-ink-3">{{
                  sourceName(item.watch)
                }}</span>
              </template>
            </template>
            <CellView v-else-if="row.type === 'rules'" v-show="onceOf(item)" :cell="onceOf(item)" />
            <template v-else-if="row.type === 'band'">
              <span v-if="takesBand(row.step, row.branch, item)" class="text-sm text-ink-2">↓ this way</span>
              <span v-else class="sr-only">not this way</span>
            </template>
            <ManyCells v-else-if="cells.length > 1" :cells="cells" />
            <CellView v-else :cell="cells[0]" :run="runs?.get(item.id)" :trace="traceOf(item)" />
          </div>
          <div :style="{ width: `${after}px` }" class="shrink-0"></div>
        </div>
      </div>
    </div>
  </div>
</template>
