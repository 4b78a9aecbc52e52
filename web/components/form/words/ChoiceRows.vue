<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import { computed } from 'vue';
import { choiceSource, PLURALS, rowFor, type Choice, type ChooseBy } from '@playa/core/captions/choices.ts';
import type { CaptionPart } from '@playa/core/captions/tokens.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { useEditor } from '../../../stores/editor.ts';
import FieldSelect from '../FieldSelect.vue';
import PartsEditor from './PartsEditor.vue';
import KeptInput from '../KeptInput.vue';

// Wording that depends on a value: one row for each, the last for all others.
const props = defineProps<{ choice: Choice; label: string; first?: boolean; rich?: boolean }>();
const emit = defineEmits<{ change: [source: string]; merge: [parts: CaptionPart[]] }>();
const editor = useEditor();
const WAYS: { by: ChooseBy; label: string }[] = [
  { by: 'value', label: 'by what it is' },
  { by: 'number', label: 'by its number' },
  { by: 'filled', label: 'by whether it is filled' },
];
const change = (next: Partial<Choice>) => emit('change', choiceSource({ ...props.choice, ...next }));
const value = computed(() => fieldText(readField(editor.chosenItem?.fields ?? {}, props.choice.field)));
const speaks = computed(() => rowFor(props.choice, value.value, editor.world.locale));
/** How many of the items shown each row is for. */
const counts = computed(() => {
  const items = editor.reading === 'rehearsal' ? editor.items : editor.samples;
  const found = props.choice.rows.map(() => 0);
  for (const item of items)
    found[rowFor(props.choice, fieldText(readField(item.fields, props.choice.field)), editor.world.locale)]!++;
  return found;
});
const isLast = (index: number) => index === props.choice.rows.length - 1;
function setBy(by: ChooseBy) {
  const rows =
    by === 'filled'
      ? [{ keys: ['yes'], parts: props.choice.rows[0]?.parts ?? [] }, props.choice.rows.at(-1)!]
      : props.choice.rows;
  change({ by, rows });
}
const setRow = (index: number, row: Partial<Choice['rows'][number]>) =>
  change({ rows: props.choice.rows.map((each, at) => (at === index ? { ...each, ...row } : each)) });
const setKeys = (index: number, text: string) =>
  setRow(index, {
    keys: text
      .split(',')
      .map((key) => key.trim())
      .filter(Boolean),
  });
/** A value of the items that has no row yet. */
function nextKey(): string {
  const used = new Set(props.choice.rows.flatMap((row) => row.keys));
  const seen = editor.items.map((item) => fieldText(readField(item.fields, props.choice.field)).trim());
  const fresh = [...new Set(seen)].find((each) => each !== '' && each.length < 40 && !used.has(each));
  return fresh ?? ['1', '2', '3', '4', '5', '0'].find((each) => !used.has(each)) ?? 'other';
}
function addRow() {
  const rows = [...props.choice.rows];
  rows.splice(rows.length - 1, 0, { keys: [nextKey()], parts: rows.at(-1)!.parts });
  change({ rows });
}
function dropRow(index: number) {
  const rows = props.choice.rows.filter((_, at) => at !== index);
  if (rows.length === 1) emit('merge', rows[0]!.parts);
  else change({ rows });
}
const heading = (index: number) =>
  isLast(index)
    ? props.choice.by === 'filled'
      ? 'empty'
      : 'all others'
    : props.choice.by === 'filled'
      ? 'filled'
      : '';
</script>

<template>
  <div role="group" :aria-label="`${label}, by value`">
    <div class="mb-1.5 flex flex-wrap items-center gap-2">
      <span class="text-ink-2">The words depend on</span>
      <FieldSelect :field="choice.field" label="The field the words depend on" @change="change({ field: $event })" />
      <select
        class="field"
        aria-label="How it chooses"
        :value="choice.by"
        @change="setBy(($event.target as HTMLSelectElement).value as ChooseBy)"
      >
        <option v-for="way in WAYS" :key="way.by" :value="way.by">{{ way.label }}</option>
      </select>
      <button class="btn btn-quiet px-1" @click="emit('merge', choice.rows.at(-1)!.parts)">one wording again</button>
    </div>
    <datalist id="plural-forms">
      <option v-for="form in PLURALS" :key="form" :value="form" />
    </datalist>
    <div class="overflow-hidden rounded-(--radius) border border-line">
      <div
        v-for="(row, index) in choice.rows"
        :key="index"
        class="grid grid-cols-[7.5rem_minmax(0,1fr)_1.6rem] items-start gap-2 border-line px-2 py-1.5"
        :class="[index > 0 && 'border-t', index === speaks && 'bg-sea-wash']"
      >
        <div class="min-w-0">
          <b v-if="heading(index)" class="block pt-1">{{ heading(index) }}</b>
          <KeptInput
            v-else
            class="field w-full py-0.5"
            :list="choice.by === 'number' ? 'plural-forms' : undefined"
            :aria-label="`Values of row ${index + 1}, separated by commas`"
            :value="row.keys.join(', ')"
            @change="setKeys(index, ($event.target as HTMLInputElement).value)"
          />
          <span class="block text-sm text-ink-3"
            >{{ counts[index] }} {{ counts[index] === 1 ? 'item' : 'items'
            }}<template v-if="index === speaks">, this one</template></span
          >
        </div>
        <!-- An editor keeps its name for life, and a row that moved or has other values has another one. -->
        <PartsEditor
          :key="`${choice.rows.length} ${row.keys.join()}`"
          small
          :rich="rich ?? false"
          :first="(first ?? false) && index === 0"
          :parts="row.parts"
          :label="`The words when it is ${heading(index) || row.keys.join(' or ')}`"
          @change="setRow(index, { parts: $event })"
        />
        <button
          v-if="!isLast(index)"
          class="mt-1 rounded p-0.5 text-ink-3 hover:text-rose"
          :aria-label="`Remove row ${index + 1}`"
          @click="dropRow(index)"
        >
          <X :size="14" />
        </button>
      </div>
    </div>
    <button v-if="choice.by !== 'filled'" class="btn btn-quiet px-1" @click="addRow">
      <Plus :size="13" /> another value
    </button>
    <span v-if="choice.by === 'number'" class="ml-2 text-sm text-ink-3"
      >Numbers, or plural forms of the language: one, few, many.</span
    >
  </div>
</template>
