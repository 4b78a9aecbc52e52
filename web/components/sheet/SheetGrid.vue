<script setup lang="ts">
import { Copy, EyeOff, GripVertical, Plus, Trash2 } from '@lucide/vue';
import { useVirtualizer } from '@tanstack/vue-virtual';
import Sortable from 'sortablejs';
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import type { Cell } from '@playa/core/engine/cells.ts';
import type { PastItem } from '@playa/core/rehearsal/rehearse.ts';
import { stepSentence, stepSort, type Step } from '@playa/core/steps/index.ts';
import { shortMoment } from '../../lib/times.ts';
import type { HappenedRun } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';
import PhraseText from '../PhraseText.vue';
import AddStep from './AddStep.vue';
import CellView from './CellView.vue';
import ItemHeader from './ItemHeader.vue';

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

const rowIds = computed(() => [
  ...editor.definition.sources.map((source) => source.id),
  ...editor.definition.steps.map((step) => step.id),
]);
const chosenColumn = computed(() => editor.chosenItem?.id);
const problemsOf = (id: string) => editor.problems.filter((problem) => problem.step === id);

function cellOf(step: Step, item: PastItem): Cell | undefined {
  const run = props.runs?.get(item.id);
  return run ? run.trace[step.id] : props.runs ? undefined : editor.outcomes(item).trace[step.id];
}
const reached = (step: Step, item: PastItem) => cellOf(step, item) !== undefined;
const wrong = (cell: Cell | undefined) =>
  cell?.kind === 'posts' && !cell.off && cell.posts.some((post) => post.trouble && post.status !== 'skipped');
const sourceName = (watchId: number | null) =>
  watchId === null ? 'nothing yet' : (editor.world.watches.get(watchId)?.name ?? 'gone');

/** Whether an item has a problem: what [ and ] look for. */
function hasProblem(item: PastItem): boolean {
  const trace = props.runs ? props.runs.get(item.id)?.trace : editor.outcomes(item).trace;
  return Object.values(trace ?? {}).some(
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

function onKey(event: KeyboardEvent) {
  const { row, column } = focus.value;
  const index = rowIds.value.indexOf(row);
  const step = editor.definition.steps.find((each) => each.id === row);
  const modified = event.ctrlKey || event.metaKey;
  const act = (what: () => void) => {
    event.preventDefault();
    event.stopPropagation();
    what();
  };
  const refocus = () => void nextTick(() => focusCell(editor.row, focus.value.column));
  if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown') && step) {
    return act(() => {
      editor.moveStep(row, editor.stepIndex(row) + (event.key === 'ArrowUp' ? -1 : 1));
      refocus();
    });
  }
  if (modified && event.key.toLowerCase() === 'd' && step) return act(() => (editor.doubleStep(row), refocus()));
  if (modified || event.altKey) return;
  switch (event.key) {
    case 'ArrowUp':
      return act(() => focusCell(rowIds.value[Math.max(0, index - 1)]!, column));
    case 'ArrowDown':
      return act(() => focusCell(rowIds.value[Math.min(rowIds.value.length - 1, index + 1)]!, column));
    case 'ArrowLeft':
      return act(() => focusCell(row, Math.max(-1, column - 1)));
    case 'ArrowRight':
      return act(() => focusCell(row, Math.min(props.items.length - 1, column + 1)));
    case 'Home':
      return act(() => focusCell(row, -1));
    case 'End':
      return act(() => focusCell(row, props.items.length - 1));
    case 'Enter':
      return act(() => emit('edit'));
    case 'a':
    case 'A':
      return act(() => (adding.value = true));
    case 'x':
    case 'X':
      return step && act(() => editor.toggleStep(row));
    case 'Delete':
      return step && act(() => (editor.removeStep(row), refocus()));
    case '[':
    case ']':
      return act(() => jump(event.key === ']' ? 1 : -1));
  }
}
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
    draggable: '[data-step]',
    animation: 120,
    onEnd: ({ item, oldDraggableIndex, newDraggableIndex }) => {
      const rows = [...steps.value!.querySelectorAll('[data-step]')].filter((each) => each !== item);
      steps.value!.insertBefore(item, rows[oldDraggableIndex!] ?? null);
      editor.moveStep((item as HTMLElement).dataset.step!, newDraggableIndex!);
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
            >{{ editor.definition.steps.length + editor.definition.sources.length }} steps ·
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

      <div
        v-for="source in editor.definition.sources"
        :key="source.id"
        role="row"
        class="flex border-b border-line"
        :class="source.id === editor.row && 'bg-sea-wash/35'"
      >
        <div
          role="rowheader"
          :data-row="source.id"
          data-column="-1"
          :tabindex="isTabStop(source.id, -1) ? 0 : -1"
          class="sticky left-0 z-10 flex shrink-0 gap-2.5 border-r-2 border-line px-3 py-2 text-left"
          :class="source.id === editor.row ? 'bg-sea-wash' : 'bg-paper-2'"
          :style="{ width: `${HEAD}px` }"
          @click="focusCell(source.id, -1)"
          @dblclick="emit('edit')"
        >
          <span class="w-4 text-right text-ink-3">1</span>
          <span class="w-[3px] shrink-0 rounded bg-(--looking)" aria-hidden="true"></span>
          <span class="min-w-0"
            ><b>Watch</b> {{ sourceName(source.watch)
            }}<template v-if="source.watch"> · new {{ editor.world.watches.get(source.watch)?.things }}</template>
            <span
              v-for="problem in problemsOf(source.id)"
              :key="problem.says"
              class="block text-sm"
              :class="problem.level === 'harm' ? 'text-rose' : 'text-amber'"
              >{{ problem.says }}</span
            >
          </span>
        </div>
        <div :style="{ width: `${before}px` }" class="shrink-0"></div>
        <div
          v-for="{ item, index } in columns"
          :key="item.id"
          role="gridcell"
          :data-row="source.id"
          :data-column="index"
          :tabindex="isTabStop(source.id, index) ? 0 : -1"
          class="shrink-0 border-r border-line px-2.5 py-2"
          :class="[
            item.id === chosenColumn && 'bg-sea-wash/60',
            source.id === editor.row && item.id === chosenColumn && 'shadow-[inset_0_0_0_2px_var(--sea)]',
          ]"
          :style="{ width: `${WIDTH}px` }"
          @click="focusCell(source.id, index)"
        >
          <template v-if="item.watch === source.watch"
            ><b class="text-kelp">new</b>
            <span class="text-sm text-ink-3">seen {{ shortMoment(item.seenAt, session.zone) }}</span></template
          >
        </div>
        <div :style="{ width: `${after}px` }" class="shrink-0"></div>
      </div>

      <div ref="steps">
        <div
          v-for="(step, number) in editor.definition.steps"
          :key="step.id"
          role="row"
          :data-step="step.id"
          class="group/row flex border-b border-line bg-card"
          :class="step.id === editor.row && 'bg-sea-wash/35'"
        >
          <div
            role="rowheader"
            :data-row="step.id"
            data-column="-1"
            :tabindex="isTabStop(step.id, -1) ? 0 : -1"
            class="sticky left-0 z-10 flex shrink-0 gap-2.5 border-r-2 border-line px-3 py-2 text-left"
            :class="step.id === editor.row ? 'bg-sea-wash' : 'bg-paper-2'"
            :style="{ width: `${HEAD}px` }"
            @click="focusCell(step.id, -1)"
            @dblclick="emit('edit')"
          >
            <GripVertical
              :size="13"
              class="grip absolute top-2.5 left-0.5 cursor-grab text-ink-3 opacity-0 group-hover/row:opacity-100"
              aria-hidden="true"
            />
            <span class="w-4 shrink-0 text-right text-ink-3">{{ number + 1 + editor.definition.sources.length }}</span>
            <span
              class="w-[3px] shrink-0 rounded"
              :style="{ background: `var(--${stepSort(step.verb)})` }"
              aria-hidden="true"
            ></span>
            <span class="min-w-0 flex-1 break-words" :class="step.off && 'text-ink-3 line-through'">
              <PhraseText :phrase="stepSentence(step, editor.world)" lead />
              <span v-if="step.off" class="sr-only"> (switched off)</span>
              <span
                v-for="problem in problemsOf(step.id)"
                :key="problem.says"
                class="block text-sm"
                :class="problem.level === 'harm' ? 'text-rose' : 'text-amber'"
                >{{ problem.says }}</span
              >
            </span>
            <span
              class="invisible absolute right-1 bottom-0.5 flex gap-0.5 rounded bg-paper-2 group-focus-within/row:visible group-hover/row:visible"
            >
              <button
                tabindex="-1"
                class="rounded p-1 text-ink-3 hover:text-ink"
                aria-label="Add a step below"
                title="Add a step below (A)"
                @click.stop="((editor.row = step.id), (adding = true))"
              >
                <Plus :size="13" />
              </button>
              <button
                tabindex="-1"
                class="rounded p-1 text-ink-3 hover:text-ink"
                :aria-label="step.off ? 'Switch on' : 'Switch off'"
                :title="step.off ? 'Switch on (X)' : 'Switch off (X)'"
                @click.stop="editor.toggleStep(step.id)"
              >
                <EyeOff :size="13" />
              </button>
              <button
                tabindex="-1"
                class="rounded p-1 text-ink-3 hover:text-ink"
                aria-label="Double"
                title="Double (Ctrl D)"
                @click.stop="editor.doubleStep(step.id)"
              >
                <Copy :size="13" />
              </button>
              <button
                tabindex="-1"
                class="rounded p-1 text-ink-3 hover:text-rose"
                aria-label="Remove"
                title="Remove (Delete)"
                @click.stop="editor.removeStep(step.id)"
              >
                <Trash2 :size="13" />
              </button>
            </span>
          </div>
          <div :style="{ width: `${before}px` }" class="shrink-0"></div>
          <div
            v-for="{ item, index } in columns"
            :key="item.id"
            role="gridcell"
            :data-row="step.id"
            :data-column="index"
            :tabindex="isTabStop(step.id, index) ? 0 : -1"
            class="shrink-0 overflow-hidden border-r border-line px-2.5 py-2"
            :class="[
              !reached(step, item)
                ? 'hatched'
                : wrong(cellOf(step, item))
                  ? 'bg-amber-wash'
                  : item.id === chosenColumn && 'bg-sea-wash/60',
              step.id === editor.row && item.id === chosenColumn && 'shadow-[inset_0_0_0_2px_var(--sea)]',
            ]"
            :style="{ width: `${WIDTH}px` }"
            @click="focusCell(step.id, index)"
            @dblclick="emit('edit')"
          >
            <CellView :cell="cellOf(step, item)" :run="runs?.get(item.id)" />
          </div>
          <div :style="{ width: `${after}px` }" class="shrink-0"></div>
        </div>
      </div>
    </div>
  </div>
</template>
