<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import { computed, ref } from 'vue';
import { z } from 'zod';
import {
  CHOICE_COLOURS,
  COLUMN_TYPE_NAMES,
  COLUMN_TYPES,
  columnsSchema,
  keyFor,
  type Column,
  type ColumnType,
} from '@playa/core/sheets/column.ts';
import { wordsProblems } from '@playa/core/steps/words.ts';
import { KIND_RULES, OUTLET_KINDS } from '@playa/core/outlets/kinds.ts';
import { Refused } from '../../lib/api.ts';
import { useSendForm } from '../../lib/form.ts';
import { CHOICE_LOOK } from './cell-look.ts';
import ChangedMeanwhile from '../form/ChangedMeanwhile.vue';
import ChooseOne from '../form/ChooseOne.vue';
import FormField from '../form/FormField.vue';
import ModalDialog from '../form/ModalDialog.vue';
import MoveRow from '../form/MoveRow.vue';

// The columns of a sheet: names, types, what can be chosen, their order. A colleague's change of them that comes while
// somebody is at it is not written over before they say so.
interface Draft {
  name: string;
  columns: Column[];
}
const props = defineProps<{
  name: string;
  columns: readonly Column[];
  uses: readonly { workflow: string }[];
  /** Of the sheet as it is now; left out for one that is to be made. */
  revision?: number;
  /** Keeps them over the revision that the draft here began with. */
  send: (draft: Draft, over: number | undefined) => Promise<unknown>;
}>();
const emit = defineEmits<{ close: [] }>();
const adding = ref<Record<string, string>>({});
const counted = OUTLET_KINDS.filter((kind) => KIND_RULES[kind].publishes && KIND_RULES[kind].text.limit !== null);
const there = (): Draft => ({ name: props.name, columns: JSON.parse(JSON.stringify(props.columns)) as Column[] });
/** What the draft here is put over. */
let over = props.revision;
/** What the server says of a colleague's change, and the revision that is there now. */
const stale = ref<{ says: string; current: number }>();
const form = useSendForm<Draft, Draft>({
  schema: z
    .object({ name: z.string().trim().min(1, 'The sheet needs a name.').max(120), columns: columnsSchema })
    .superRefine(({ columns }, context) => {
      for (const [index, column] of columns.entries()) {
        if (column.type !== 'computed') continue;
        const [wrong] = wordsProblems('', `“${column.name}”`, column.words);
        if (wrong) context.addIssue({ code: 'custom', path: ['columns', index], message: wrong.says });
      }
    }) as z.ZodType<Draft, Draft>,
  values: there(),
  send: (draft) => props.send({ ...draft, columns: named(draft.columns) }, over),
  known(error) {
    if (!(error instanceof Refused) || typeof error.details.current !== 'number') return false;
    stale.value = { says: error.message, current: error.details.current };
    return true;
  },
});
const { busy, trouble, changed, problem, values: draft } = form;
function keepMine() {
  over = stale.value!.current;
  stale.value = undefined;
  return form.submit();
}
function seeTheirs() {
  stale.value = undefined;
  over = props.revision;
  form.reset(there());
}
const gone = computed(() =>
  props.columns.filter(({ key }) => !draft.value.columns.some((column) => column.key === key)).map(({ name }) => name),
);
const setColumns = (columns: Column[]) => form.set('columns', columns);
const put = (index: number, change: Partial<Column>) =>
  setColumns(draft.value.columns.map((each, at) => (at === index ? ({ ...each, ...change } as Column) : each)));
const without = (index: number) => setColumns(draft.value.columns.filter((_, at) => at !== index));
const valueOf = (event: Event) => (event.target as HTMLInputElement).value;

/** The same column as another type: what a type needs besides, to begin with. */
function as({ key, name, width }: Column, type: ColumnType): Column {
  const base = { key, name, ...(width && { width }) };
  switch (type) {
    case 'choice':
      return { ...base, type, options: [] };
    case 'computed':
      return { ...base, type, words: '' };
    case 'left': {
      const of = draft.value.columns.find((each) => each.type === 'longText' || each.type === 'text')?.key ?? '';
      return { ...base, type, of, kind: 'microblog' };
    }
    default:
      return { ...base, type };
  }
}
const setType = (index: number, type: ColumnType) =>
  setColumns(draft.value.columns.map((each, at) => (at === index ? as(each, type) : each)));
function add() {
  const { columns } = draft.value;
  const key = keyFor(
    `column ${columns.length + 1}`,
    [...columns, ...props.columns].map((each) => each.key),
  );
  setColumns([...columns, { key, name: '', type: 'text' }]);
}
function move(index: number, by: number) {
  const columns = [...draft.value.columns];
  const [column] = columns.splice(index, 1);
  columns.splice(index + by, 0, column!);
  setColumns(columns);
}
type Choice = Extract<Column, { type: 'choice' }>;
function addOption(index: number, column: Choice) {
  const value = adding.value[column.key]?.trim();
  if (!value) return;
  const colour = CHOICE_COLOURS[column.options.length % CHOICE_COLOURS.length]!;
  put(index, { options: [...column.options, { value, colour }] });
  adding.value[column.key] = '';
}
function nextColour(index: number, column: Choice, place: number) {
  const next = (colour: (typeof CHOICE_COLOURS)[number]) =>
    CHOICE_COLOURS[(CHOICE_COLOURS.indexOf(colour) + 1) % CHOICE_COLOURS.length]!;
  put(index, {
    options: column.options.map((each, at) => (at === place ? { ...each, colour: next(each.colour) } : each)),
  });
}
/** A new column is known by the name it was given. */
function named(columns: readonly Column[]): Column[] {
  const known = new Set(props.columns.map(({ key }) => key));
  const keys = new Set(known);
  return columns.map((column) => {
    if (known.has(column.key)) return column;
    const key = keyFor(column.name, keys);
    keys.add(key);
    return { ...column, key };
  });
}
</script>

<template>
  <ModalDialog
    :title="revision === undefined ? 'A new sheet' : `Columns of ${name}`"
    width="large"
    :busy="busy"
    :unsaved="changed"
    @close="emit('close')"
  >
    <FormField class="mt-2" :form="form" name="name" label="Name" placeholder="Content plan" :maxlength="120" />
    <ul class="mt-4 grid gap-2">
      <li v-for="(column, index) in draft.columns" :key="column.key" class="rounded-(--radius) border border-line p-2">
        <div class="flex flex-wrap items-center gap-2">
          <input
            class="field min-w-36 flex-1"
            maxlength="80"
            placeholder="Name of the column"
            :aria-label="`Name of column ${index + 1}`"
            :value="column.name"
            @input="put(index, { name: valueOf($event) })"
          />
          <select
            class="field"
            :aria-label="`What ${column.name || 'the column'} holds`"
            :value="column.type"
            @change="setType(index, valueOf($event) as ColumnType)"
          >
            <option v-for="type in COLUMN_TYPES" :key="type" :value="type">{{ COLUMN_TYPE_NAMES[type] }}</option>
          </select>
          <MoveRow
            :index="index"
            :count="draft.columns.length"
            :least="1"
            :up="`Move ${column.name} to the left`"
            :down="`Move ${column.name} to the right`"
            :away="`Take ${column.name || 'this column'} away`"
            @move="move(index, $event)"
            @away="without(index)"
          />
        </div>
        <div v-if="column.type === 'choice'" class="mt-2 flex flex-wrap items-center gap-1.5">
          <span
            v-for="(option, place) in column.options"
            :key="option.value"
            class="inline-flex items-center gap-1 rounded-[5px] py-0.5 pr-1 pl-1.5"
            :class="CHOICE_LOOK[option.colour]"
          >
            <button
              class="cursor-pointer"
              :aria-label="`${option.value}: ${option.colour}; another colour`"
              title="Another colour"
              @click="nextColour(index, column, place)"
            >
              {{ option.value }}</button><button
              :aria-label="`Take ${option.value} away`"
              @click="put(index, { options: column.options.filter((_, at) => at !== place) })"
            >
              <X :size="12" />
            </button>
          </span>
          <input
            v-model="adding[column.key]"
            class="field w-36 py-0.5"
            placeholder="another choice"
            aria-label="Another choice"
            @keydown.enter.prevent="addOption(index, column)"
            @blur="addOption(index, column)"
          />
        </div>
        <label v-else-if="column.type === 'computed'" class="mt-2 block text-sm text-ink-2">
          Wording, with other columns as fields: <code v-pre>{$title} at {$pool}</code>
          <input
            class="field mt-1 w-full text-base"
            maxlength="2000"
            :value="column.words"
            @input="put(index, { words: valueOf($event) })"
          />
        </label>
        <div v-else-if="column.type === 'left'" class="mt-2 flex flex-wrap items-center gap-2 text-ink-2">
          of
          <select
            class="field"
            aria-label="Whose characters are counted"
            :value="column.of"
            @change="put(index, { of: valueOf($event) })"
          >
            <option
              v-for="each in draft.columns.filter((other) => other.type === 'text' || other.type === 'longText')"
              :key="each.key"
              :value="each.key"
            >
              {{ each.name || 'a column' }}
            </option>
          </select>
          for a
          <ChooseOne
            label="For which kind of outlet"
            :options="counted.map((kind) => ({ value: kind, name: KIND_RULES[kind].name }))"
            :value="column.kind"
            @change="put(index, { kind: $event as typeof column.kind })"
          />
        </div>
      </li>
    </ul>
    <button class="btn mt-2" @click="add"><Plus :size="14" /> a column</button>
    <p v-if="gone.length && uses.length" class="mt-3 rounded-(--radius) bg-amber-wash px-3 py-2 text-amber">
      {{ gone.join(', ') }} will be missing where
      {{ [...new Set(uses.map((use) => `“${use.workflow}”`))].join(', ') }} may use it.
    </p>
    <ChangedMeanwhile v-if="stale" :says="stale.says" :busy="busy" @theirs="seeTheirs" @mine="keepMine" />
    <p v-if="trouble || problem" role="alert" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble || problem }}
    </p>
    <template #actions>
      <button class="btn" @click="emit('close')">Cancel</button>
      <button class="btn btn-main" :disabled="busy || stale !== undefined" @click="form.submit()">
        {{ revision === undefined ? 'Make the sheet' : 'Keep the columns' }}
      </button>
    </template>
  </ModalDialog>
</template>
