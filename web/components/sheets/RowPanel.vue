<script setup lang="ts">
import { Trash2, X } from '@lucide/vue';
import { DateTime } from 'luxon';
import { computed, onBeforeUnmount, ref } from 'vue';
import { cellProblem, sayCell, type Cell, type Cells } from '@playa/core/sheets/cell.ts';
import { isWritten, type Column } from '@playa/core/sheets/column.ts';
import { computedCell } from '@playa/core/sheets/computed.ts';
import { rowFields } from '@playa/core/sheets/row-fields.ts';
import { dayAndTime, shortMoment } from '../../lib/times.ts';
import type { RowDone } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import ChooseOne from '../form/ChooseOne.vue';
import DatePicker from '../form/DatePicker.vue';
import { optionsOf } from './cell-editors.ts';
import type { OpenSheet } from './use-sheet.ts';
import { useResource } from '../../stores/resource.ts';

// One row: its cells with room to write, what workflows do with it, and who changed what.
const props = defineProps<{ open: OpenSheet; id: number }>();
const emit = defineEmits<{ close: []; remove: [] }>();
const session = useSession();
const row = computed(() => props.open.rows.value.get(props.id));
const columns = computed(() => props.open.columns.value);
const context = computed(() => props.open.context.value);
const fields = computed(() => rowFields(columns.value, (row.value?.cells ?? {}) as Cells, context.value));

const { data: beside, trouble } = useResource('openSheetRow', () => ({ ...props.open.is, row: props.id }), {
  topics: ['sheets', 'runs'],
});

const cellOf = (key: string) => (row.value?.cells[key] ?? null) as Cell;
/** What is being typed and has not been written yet, by column: whatever comes in meanwhile leaves it alone. */
const typing = ref<Record<string, { text: string; seen: Cell }>>({});
function type({ key }: Column, event: Event) {
  const { value: text } = event.target as HTMLInputElement;
  typing.value[key] = { text, seen: typing.value[key]?.seen ?? cellOf(key) };
}
const shownText = ({ key }: Column) => typing.value[key]?.text ?? textOf(key, cellOf(key));
function write({ key }: Column, typed: Cell) {
  const seen = typing.value[key]?.seen;
  delete typing.value[key];
  props.open.write([{ row: props.id, key, typed, seen }]);
}
// Who closes the row has meant what was typed.
onBeforeUnmount(() =>
  props.open.write(
    Object.entries(typing.value).map(([key, { text, seen }]) => ({ row: props.id, key, typed: text, seen })),
  ),
);
/** What a date field of the browser shows; nothing for what cannot be read, which is then shown as it was typed. */
function picked(column: Column): string | null {
  const value = cellOf(column.key);
  if (value === null) return '';
  if (column.type === 'date') return /^\d{4}-\d\d-\d\d$/.test(String(value)) ? String(value) : null;
  const at = DateTime.fromISO(String(value), { zone: session.zone });
  return at.isValid ? at.toFormat("yyyy-MM-dd'T'HH:mm") : null;
}
/** Fields of several parts say themselves what they are. */
const hasOwnName = (column: Column) =>
  isWritten(column) &&
  (optionsOf(column, context.value) !== undefined ||
    ((column.type === 'moment' || column.type === 'date') && picked(column) !== null));
const problemOf = (column: Column) => cellProblem(column, cellOf(column.key), context.value);
const computedText = (column: Column) =>
  column.type === 'computed' || column.type === 'left'
    ? String(computedCell(column, fields.value, { locale: context.value.locale, zone: context.value.zone }) ?? '')
    : '';
const STATES: Record<string, string> = {
  new: 'is about to begin',
  waiting: 'is under way',
  held: 'needs you',
  done: 'is done',
  stopped: 'ended',
  cancelled: 'was ended by a person',
};
const nameOf = (key: string) => columns.value.find((column) => column.key === key)?.name ?? key;
const textOf = (key: string, value: Cell | undefined) => {
  const column = columns.value.find((each) => each.key === key);
  return column ? sayCell(column, value ?? null, context.value) : String(value ?? '');
};
const changesOf = (done: RowDone) => [...new Set([...Object.keys(done.was), ...Object.keys(done.became)])];
const sheetLink = (run: { id: number; workflowId: number }) => ({
  name: 'run-sheet',
  params: { brand: session.brandId, id: run.workflowId },
  query: { reading: 'happened', run: run.id },
});
</script>

<template>
  <aside class="sheet flex min-h-0 flex-col overflow-hidden" aria-label="The chosen row">
    <div class="flex items-center gap-1 border-b border-line px-4 py-2">
      <h2 class="min-w-0 flex-1 truncate font-[650]">
        {{ columns[0] ? textOf(columns[0].key, cellOf(columns[0].key)) || 'A new row' : 'A row' }}
      </h2>
      <button class="btn btn-quiet px-1.5" aria-label="Delete this row" @click="emit('remove')">
        <Trash2 :size="15" />
      </button>
      <button class="btn btn-quiet px-1.5" aria-label="Close the row" @click="emit('close')"><X :size="16" /></button>
    </div>
    <div class="min-h-0 flex-1 overflow-auto px-4 py-3">
      <p v-if="!row" class="text-ink-2">This row was deleted.</p>
      <div v-for="column in columns" v-else :key="column.key" class="mb-2.5">
        <component
          :is="hasOwnName(column) ? 'span' : 'label'"
          class="block text-sm text-ink-2"
          :for="hasOwnName(column) ? undefined : `cell-${column.key}`"
          >{{ column.name }}</component
        >
        <output v-if="!isWritten(column)" :id="`cell-${column.key}`" class="block min-h-5">{{
          computedText(column) || '–'
        }}</output>
        <ChooseOne
          v-else-if="optionsOf(column, context)"
          class="w-full"
          :label="column.name"
          any="–"
          :value="textOf(column.key, cellOf(column.key))"
          :options="optionsOf(column, context)!.map((option) => ({ value: option, name: option }))"
          @change="write(column, $event)"
        />
        <textarea
          v-else-if="column.type === 'longText'"
          :id="`cell-${column.key}`"
          class="field w-full"
          rows="5"
          :value="shownText(column)"
          @input="type(column, $event)"
          @change="write(column, ($event.target as HTMLTextAreaElement).value)"
        ></textarea>
        <DatePicker
          v-else-if="(column.type === 'moment' || column.type === 'date') && picked(column) !== null"
          :model-value="picked(column)!"
          :granularity="column.type === 'date' ? 'day' : 'minute'"
          :label="column.name"
          clearable
          @change="write(column, $event)"
        />
        <input
          v-else
          :id="`cell-${column.key}`"
          class="field w-full"
          :value="shownText(column)"
          @input="type(column, $event)"
          @change="write(column, ($event.target as HTMLInputElement).value)"
        />
        <p v-if="isWritten(column) && problemOf(column)" class="text-sm text-rose">{{ problemOf(column) }}</p>
      </div>
      <p v-if="trouble" role="alert" class="text-rose">{{ trouble }}</p>
      <template v-if="beside?.runs.length">
        <h3 class="mt-4 mb-1 font-[650]">What workflows did with it</h3>
        <p v-for="run in beside.runs" :key="run.id" class="mb-1">
          <RouterLink :to="sheetLink(run)" class="text-sea">{{ run.workflow }}</RouterLink>
          {{ STATES[run.status] }}
          <span class="text-ink-3">{{
            run.status === 'waiting' && run.dueAt
              ? `until ${dayAndTime(run.dueAt, session.zone)}`
              : shortMoment(run.changedAt, session.zone)
          }}</span>
        </p>
      </template>
      <template v-if="beside?.history.length">
        <h3 class="mt-4 mb-1 font-[650]">What was changed</h3>
        <div v-for="done in beside.history" :key="done.id" class="mb-2">
          <p>
            <RouterLink v-if="done.run" :to="sheetLink(done.run)" class="text-sea">{{ done.run.workflow }}</RouterLink>
            <template v-else>{{ done.by ?? 'Playa' }}</template>
            {{ done.did }} <template v-if="done.did !== 'changed'">the row</template
            ><template v-else>{{ changesOf(done).map(nameOf).join(', ') }}</template>
            <span class="text-ink-3"> {{ shortMoment(done.at, session.zone) }}</span>
          </p>
          <ul v-if="done.did === 'changed'" class="text-sm text-ink-2">
            <li v-for="key in changesOf(done)" :key="key" class="break-words">
              <del v-if="textOf(key, done.was[key])" class="text-ink-3">{{ textOf(key, done.was[key]) }}</del>
              → {{ textOf(key, done.became[key]) || 'nothing' }}
            </li>
          </ul>
        </div>
      </template>
    </div>
  </aside>
</template>
