<script setup lang="ts">
import { ArrowDown, ArrowUp, Plus, X } from '@lucide/vue';
import { computed, ref } from 'vue';
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
import { CHOICE_LOOK } from './cell-look.ts';
import ModalDialog from '../form/ModalDialog.vue';

// The columns of a sheet: names, types, what can be chosen, their order.
const props = defineProps<{
  name: string;
  columns: readonly Column[];
  uses: readonly { workflow: string }[];
  fresh?: boolean;
}>();
const emit = defineEmits<{ close: []; keep: [name: string, columns: Column[]] }>();
const called = ref(props.name);
const draft = ref<Column[]>(JSON.parse(JSON.stringify(props.columns)) as Column[]);
const changed = computed(
  () => called.value !== props.name || JSON.stringify(draft.value) !== JSON.stringify(props.columns),
);
const wrong = ref('');
const adding = ref<Record<string, string>>({});
const counted = OUTLET_KINDS.filter((kind) => KIND_RULES[kind].publishes && KIND_RULES[kind].text.limit !== null);
const gone = computed(() =>
  props.columns.filter(({ key }) => !draft.value.some((column) => column.key === key)).map(({ name }) => name),
);

/** The same column as another type: what a type needs besides, to begin with. */
function as({ key, name, width }: Column, type: ColumnType): Column {
  const base = { key, name, ...(width && { width }) };
  switch (type) {
    case 'choice':
      return { ...base, type, options: [] };
    case 'computed':
      return { ...base, type, words: '' };
    case 'left': {
      const of = draft.value.find((each) => each.type === 'longText' || each.type === 'text')?.key ?? '';
      return { ...base, type, of, kind: 'microblog' };
    }
    default:
      return { ...base, type };
  }
}
const setType = (index: number, type: ColumnType) => (draft.value[index] = as(draft.value[index]!, type));
function add() {
  const key = keyFor(
    `column ${draft.value.length + 1}`,
    [...draft.value, ...props.columns].map((each) => each.key),
  );
  draft.value.push({ key, name: '', type: 'text' });
}
function move(index: number, by: number) {
  const [column] = draft.value.splice(index, 1);
  draft.value.splice(index + by, 0, column!);
}
function addOption(column: Column) {
  const value = adding.value[column.key]?.trim();
  if (column.type !== 'choice' || !value) return;
  const colour = CHOICE_COLOURS[column.options.length % CHOICE_COLOURS.length]!;
  column.options.push({ value, colour });
  adding.value[column.key] = '';
}
function nextColour(option: { colour: (typeof CHOICE_COLOURS)[number] }) {
  option.colour = CHOICE_COLOURS[(CHOICE_COLOURS.indexOf(option.colour) + 1) % CHOICE_COLOURS.length]!;
}
function keep() {
  const known = new Set(props.columns.map(({ key }) => key));
  const keys = new Set(known);
  // A new column is known by the name it was given.
  const named = draft.value.map((column) => {
    if (known.has(column.key)) return column;
    const key = keyFor(column.name, keys);
    keys.add(key);
    return { ...column, key };
  });
  const read = columnsSchema.safeParse(named);
  const worded = named.find((column) => column.type === 'computed' && wordsProblems('', column.name, column.words)[0]);
  if (!called.value.trim()) wrong.value = 'The sheet needs a name.';
  else if (!read.success) wrong.value = read.error.issues[0]?.message ?? 'Something is missing.';
  else if (worded?.type === 'computed') wrong.value = wordsProblems('', `“${worded.name}”`, worded.words)[0]!.says;
  else emit('keep', called.value.trim(), read.data);
}
</script>

<template>
  <ModalDialog
    :title="fresh ? 'A new sheet' : `Columns of ${name}`"
    width="large"
    :unsaved="changed"
    @close="emit('close')"
  >
    <label class="mt-2 flex items-center gap-2"
      ><span class="w-16 text-ink-2">Name</span>
      <input v-model="called" class="field flex-1" maxlength="120" placeholder="Content plan" />
    </label>
    <ul class="mt-4 grid gap-2">
      <li v-for="(column, index) in draft" :key="column.key" class="rounded-(--radius) border border-line p-2">
        <div class="flex flex-wrap items-center gap-2">
          <input
            v-model="column.name"
            class="field min-w-36 flex-1"
            maxlength="80"
            placeholder="Name of the column"
            :aria-label="`Name of column ${index + 1}`"
          />
          <select
            class="field"
            :aria-label="`What ${column.name || 'the column'} holds`"
            :value="column.type"
            @change="setType(index, ($event.target as HTMLSelectElement).value as ColumnType)"
          >
            <option v-for="type in COLUMN_TYPES" :key="type" :value="type">{{ COLUMN_TYPE_NAMES[type] }}</option>
          </select>
          <button
            class="btn btn-quiet px-1"
            :disabled="index === 0"
            :aria-label="`Move ${column.name} to the left`"
            @click="move(index, -1)"
          >
            <ArrowUp :size="14" />
          </button>
          <button
            class="btn btn-quiet px-1"
            :disabled="index === draft.length - 1"
            :aria-label="`Move ${column.name} to the right`"
            @click="move(index, 1)"
          >
            <ArrowDown :size="14" />
          </button>
          <button
            class="btn btn-quiet px-1 hover:text-rose"
            :disabled="draft.length === 1"
            :aria-label="`Take ${column.name || 'this column'} away`"
            @click="draft.splice(index, 1)"
          >
            <X :size="14" />
          </button>
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
              @click="nextColour(option)"
            >
              {{ option.value }}</button><button
              :aria-label="`Take ${option.value} away`"
              @click="column.options.splice(place, 1)"
            >
              <X :size="12" />
            </button>
          </span>
          <input
            v-model="adding[column.key]"
            class="field w-36 py-0.5"
            placeholder="another choice"
            aria-label="Another choice"
            @keydown.enter.prevent="addOption(column)"
            @blur="addOption(column)"
          />
        </div>
        <label v-else-if="column.type === 'computed'" class="mt-2 block text-sm text-ink-2">
          Wording, with other columns as fields: <code v-pre>{$title} at {$pool}</code>
          <input v-model="column.words" class="field mt-1 w-full text-base" maxlength="2000" />
        </label>
        <div v-else-if="column.type === 'left'" class="mt-2 flex flex-wrap items-center gap-2 text-ink-2">
          of
          <select v-model="column.of" class="field" aria-label="Whose characters are counted">
            <option
              v-for="each in draft.filter((other) => other.type === 'text' || other.type === 'longText')"
              :key="each.key"
              :value="each.key"
            >
              {{ each.name || 'a column' }}
            </option>
          </select>
          for a
          <select v-model="column.kind" class="field" aria-label="For which kind of outlet">
            <option v-for="kind in counted" :key="kind" :value="kind">{{ KIND_RULES[kind].name }}</option>
          </select>
        </div>
      </li>
    </ul>
    <button class="btn mt-2" @click="add"><Plus :size="14" /> a column</button>
    <p v-if="gone.length && uses.length" class="mt-3 rounded-(--radius) bg-amber-wash px-3 py-2 text-amber">
      {{ gone.join(', ') }} will be missing where
      {{ [...new Set(uses.map((use) => `“${use.workflow}”`))].join(', ') }} may use it.
    </p>
    <p v-if="wrong" role="alert" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
    <template #actions>
      <button class="btn" @click="emit('close')">Cancel</button>
      <button class="btn btn-main" @click="keep">{{ fresh ? 'Make the sheet' : 'Keep the columns' }}</button>
    </template>
  </ModalDialog>
</template>
