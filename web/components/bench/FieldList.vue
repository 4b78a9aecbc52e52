<script setup lang="ts">
import { computed, ref } from 'vue';
import { catalogue, type FieldInfo } from '@playa/core/shapes/catalogue.ts';
import type { FieldValue } from '@playa/core/items/item.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { clockLength } from '@playa/core/text/durations.ts';
import { dayAndTime } from '../../lib/times.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';

// The chosen item's fields with their values, to look up and to insert; below them what earlier steps made.
defineProps<{ inserts: boolean }>();
const emit = defineEmits<{ insert: [field: string] }>();
const editor = useEditor();
const session = useSession();
const query = ref('');

function show(field: FieldInfo, value: FieldValue | undefined): string {
  if (field.type === 'duration' && typeof value === 'number') return clockLength(value);
  if (field.type === 'moment') {
    const moment = Date.parse(fieldText(value));
    return Number.isNaN(moment) ? fieldText(value) : dayAndTime(moment, session.zone);
  }
  // Lists of records say how many they are.
  if (Array.isArray(value) && value.some((each) => each !== null && typeof each === 'object'))
    return `${value.length} ${value.length === 1 ? 'element' : 'elements'}`;
  return fieldText(value);
}
const all = computed(() => {
  const item = editor.chosenItem;
  if (!item) return [];
  // All items together, so that a field this one lacks is shown as empty rather than missing.
  const all = [item.fields, ...editor.items.slice(0, 60).map((each) => each.fields)];
  return [...catalogue(all, editor.described), ...editor.textFields].map((field) => ({
    ...field,
    value: show(field, readField(item.fields, field.path)),
  }));
});
const shown = computed(() => {
  const words = query.value.toLowerCase().split(/\s+/).filter(Boolean);
  return all.value.filter((field) =>
    words.every((word) => `${field.label} ${field.path} ${field.value}`.toLowerCase().includes(word)),
  );
});
/** What earlier steps make, with what it is for this item where that is known. */
const made = computed(() => {
  const item = editor.chosenItem;
  if (!item) return [];
  const trace = editor.chosenRun?.trace ?? (editor.reading === 'happened' ? {} : editor.outcomes(item).trace);
  const texts = new Map(
    Object.values(trace).flatMap((cell) =>
      cell.kind === 'text' && !cell.off ? [[cell.name, cell.text] as const] : [],
    ),
  );
  const values = editor.chosenRun?.values ?? {};
  const known = editor.made.map((field) => ({
    path: field.path,
    name: field.label,
    text: texts.get(field.path) ?? fieldText(readField(values, field.path)),
  }));
  // At the top of the sheet nothing was made before; what the steps below make is shown all the same.
  return known.length > 0 ? known : [...texts].map(([name, text]) => ({ path: '', name, text }));
});
</script>

<template>
  <div>
    <div class="mb-1.5 flex items-center gap-2">
      <h3 class="shrink-0">From this item</h3>
      <input
        v-model="query"
        class="field min-w-0 flex-1 py-0.5 text-sm"
        placeholder="search"
        aria-label="Search the fields"
      />
    </div>
    <p v-if="!editor.chosenItem" class="text-ink-3">The fields of an item show here once something is watched.</p>
    <ul>
      <li v-for="field in shown" :key="field.path" class="border-b border-dashed border-line">
        <button
          v-if="inserts"
          class="flex w-full gap-3 py-1 text-left hover:bg-sea-wash"
          :aria-label="`Insert ${field.label}`"
          @click="emit('insert', field.path)"
        >
          <span class="shrink-0">{{ field.label }}</span><span class="ml-auto truncate text-ink-3">{{
            field.value || '(empty)'
          }}</span>
        </button>
        <div v-else class="flex gap-3 py-1">
          <span class="shrink-0">{{ field.label }}</span><span
            class="ml-auto truncate text-ink-3"
            :title="field.value"
            >{{ field.value || '(empty)' }}</span
          >
        </div>
      </li>
    </ul>
    <template v-if="made.length && !query">
      <h3 class="mt-3 mb-1">Made by earlier steps</h3>
      <component
        :is="inserts && each.path ? 'button' : 'div'"
        v-for="each in made"
        :key="each.name"
        class="flex w-full gap-3 border-b border-dashed border-line py-1 text-left"
        :class="inserts && each.path && 'hover:bg-sea-wash'"
        :aria-label="inserts && each.path ? `Insert ${each.name}` : undefined"
        @click="inserts && each.path && emit('insert', each.path)"
      >
        <span class="shrink-0">{{ each.name }}</span><span class="ml-auto truncate text-ink-3" :title="each.text">{{
          each.text
        }}</span>
      </component>
    </template>
  </div>
</template>
