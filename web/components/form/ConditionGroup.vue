<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import { computed } from 'vue';
import type { Condition, Group, Test } from '@playa/core/conditions/condition.ts';
import { OPERATORS, operatorsFor, type Asks, type Operator } from '@playa/core/conditions/operators.ts';
import { LANGUAGES } from '@playa/core/said/language.ts';
import { TONES, type Tone } from '@playa/core/said/tone.ts';
import { fieldInfo, type FieldInfo } from '@playa/core/shapes/catalogue.ts';
import LengthInput from './LengthInput.vue';
import ChooseOne, { type Option } from './ChooseOne.vue';
import DatePicker from './DatePicker.vue';

// Questions and groups of questions, of which all or any must hold.
const props = defineProps<{ group: Group; fields: readonly FieldInfo[]; depth: number; path: string }>();
const emit = defineEmits<{ change: [group: Group, merge: string] }>();

const infoOf = (path: string): FieldInfo => props.fields.find((field) => field.path === path) ?? fieldInfo(path);
const opsOf = (test: Test): Operator[] => {
  const ops = operatorsFor(infoOf(test.field).type);
  return ops.includes(test.op) ? ops : [test.op, ...ops];
};
/** What can be chosen among, whatever the field holds. */
const named: Partial<Record<Asks, Option[]>> = {
  language: Object.entries(LANGUAGES).map(([value, name]) => ({ value, name })),
  tone: TONES.map((tone) => ({ value: tone, name: tone })),
};
const choices = computed(() => props.fields.map(({ path, label }) => ({ value: path, name: label })));
/** What a choice can be, with what it is compared with now; nothing for what is no choice, or compared by a part of it. */
function optionsOf(test: Test): string[] {
  const { shape } = infoOf(test.field);
  if (shape.type !== 'choice' || (test.op !== 'is' && test.op !== 'isNot')) return [];
  return [...new Set([...shape.options, ...(test.value ? [String(test.value)] : [])])];
}
function put(index: number, item: Condition | null, merge = '') {
  const items =
    item === null
      ? props.group.items.filter((_, at) => at !== index)
      : props.group.items.map((each, at) => (at === index ? item : each));
  emit('change', { ...props.group, items }, merge && `${props.path}.${index}.${merge}`);
}
/** A value that makes sense to begin with for what an operator asks. */
function firstValue(op: Operator, before: Test['value']): Test['value'] {
  switch (OPERATORS[op].asks) {
    case 'nothing':
      return undefined;
    case 'language':
      return typeof before === 'string' && Object.hasOwn(LANGUAGES, before) ? before : 'en';
    case 'tone':
      return TONES.includes(before as Tone) ? before : 'cross';
    case 'text':
    case 'keywords':
      return typeof before === 'string' ? before : '';
    case 'date':
      return typeof before === 'string' && /^\d{4}-/.test(before) ? before : new Date().toISOString().slice(0, 10);
    case 'length':
      return typeof before === 'number' ? before : 120;
    case 'days':
      return typeof before === 'number' && before < 1000 ? before : 7;
    case 'number':
      return typeof before === 'number' ? before : 0;
  }
}
function setField(index: number, test: Test, field: string) {
  const ops = operatorsFor(infoOf(field).type);
  const op = ops.includes(test.op) ? test.op : (ops[0] ?? 'filled');
  put(index, { ...test, field, op, value: firstValue(op, op === test.op ? test.value : undefined) });
}
const setOp = (index: number, test: Test, op: Operator) =>
  put(index, { ...test, op, value: firstValue(op, test.value) });
const addTest = () => {
  const field = props.fields.find((each) => each.path === 'title') ?? props.fields[0] ?? fieldInfo('title');
  const op = operatorsFor(field.type)[0] ?? 'filled';
  emit(
    'change',
    {
      ...props.group,
      items: [...props.group.items, { type: 'test', field: field.path, op, value: firstValue(op, undefined) }],
    },
    '',
  );
};
const addGroup = () =>
  emit(
    'change',
    {
      ...props.group,
      items: [
        ...props.group.items,
        {
          type: 'group',
          match: props.group.match === 'all' ? 'any' : 'all',
          items: [{ type: 'test', field: 'title', op: 'contains', value: '' }],
        },
      ],
    },
    '',
  );
</script>

<template>
  <div :class="depth > 0 && 'rounded-(--radius) border border-line bg-paper-2 p-2'">
    <div v-if="group.items.length > 1 || depth > 0" class="mb-1.5 flex items-center gap-2">
      <select
        class="field"
        aria-label="How many must hold"
        :value="group.match"
        @change="emit('change', { ...group, match: ($event.target as HTMLSelectElement).value as Group['match'] }, '')"
      >
        <option value="all">all of these hold</option>
        <option value="any">any of these holds</option>
      </select>
    </div>
    <div class="grid gap-1.5">
      <div v-for="(item, index) in group.items" :key="index" class="flex flex-wrap items-start gap-1.5 pr-1">
        <template v-if="item.type === 'test'">
          <ChooseOne
            class="max-w-36"
            label="Field"
            :value="item.field"
            :options="choices"
            :gone="fieldInfo(item.field).label"
            :first="index === 0 && depth === 0"
            @change="setField(index, item, $event)"
          />
          <select
            class="field max-w-44"
            aria-label="Question"
            :value="item.op"
            @change="setOp(index, item, ($event.target as HTMLSelectElement).value as Operator)"
          >
            <option v-for="op in opsOf(item)" :key="op" :value="op">{{ OPERATORS[op].says }}</option>
          </select>
          <ChooseOne
            v-if="OPERATORS[item.op].asks === 'text' && optionsOf(item).length > 0"
            class="max-w-44"
            label="Compared with"
            :value="String(item.value ?? '')"
            :options="optionsOf(item).map((option) => ({ value: option, name: option }))"
            @change="put(index, { ...item, value: $event }, 'value')"
          />
          <ChooseOne
            v-else-if="named[OPERATORS[item.op].asks]"
            class="max-w-44"
            label="Compared with"
            :value="String(item.value ?? '')"
            :options="named[OPERATORS[item.op].asks]!"
            @change="put(index, { ...item, value: $event }, 'value')"
          />
          <input
            v-else-if="OPERATORS[item.op].asks === 'keywords'"
            class="field w-32 min-w-0 flex-1"
            aria-label="Keywords"
            :value="item.value"
            placeholder="timetable, opening hours"
            title="Separated by commas, in their usual misspellings. In quotation marks: letter by letter"
            @input="put(index, { ...item, value: ($event.target as HTMLInputElement).value }, 'value')"
          />
          <input
            v-else-if="OPERATORS[item.op].asks === 'text'"
            class="field w-24 min-w-0 flex-1"
            aria-label="Compared with"
            :value="item.value"
            placeholder="words"
            @input="put(index, { ...item, value: ($event.target as HTMLInputElement).value }, 'value')"
          />
          <LengthInput
            v-else-if="OPERATORS[item.op].asks === 'length'"
            :seconds="Number(item.value ?? 0)"
            @change="put(index, { ...item, value: $event }, 'value')"
          />
          <DatePicker
            v-else-if="OPERATORS[item.op].asks === 'date'"
            :model-value="String(item.value ?? '').slice(0, 10)"
            label="Compared with"
            @change="put(index, { ...item, value: $event }, 'value')"
          />
          <input
            v-else-if="OPERATORS[item.op].asks !== 'nothing'"
            type="number"
            class="field w-24"
            aria-label="Compared with"
            :value="item.value"
            @input="
              ($event.target as HTMLInputElement).value !== '' &&
              put(index, { ...item, value: Number(($event.target as HTMLInputElement).value) }, 'value')
            "
          />
        </template>
        <ConditionGroup
          v-else
          class="flex-1"
          :group="item"
          :fields="fields"
          :depth="depth + 1"
          :path="`${path}.${index}`"
          @change="
            (inner: Group, merge: string) =>
              emit('change', { ...group, items: group.items.map((each, at) => (at === index ? inner : each)) }, merge)
          "
        />
        <button
          class="mt-1 rounded p-1 text-ink-3 hover:text-rose"
          aria-label="Remove this question"
          @click="put(index, null)"
        >
          <X :size="14" />
        </button>
      </div>
    </div>
    <div class="mt-2 flex gap-1">
      <button class="btn btn-quiet px-1" @click="addTest"><Plus :size="13" /> a question</button>
      <button v-if="depth < 2" class="btn btn-quiet px-1" @click="addGroup"><Plus :size="13" /> a group</button>
    </div>
  </div>
</template>
