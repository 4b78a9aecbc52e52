<script setup lang="ts">
import { computed } from 'vue';
import type { OutletDetails } from '@playa/core/model/world.ts';
import ChooseOne from './ChooseOne.vue';

// A column of a table, by the name people call it; written freely where nobody knows which there are.
const props = defineProps<{
  columns: NonNullable<OutletDetails['columns']>;
  column: string;
  label: string;
  /** Columns that are worked out can be looked for, and not written. */
  written?: boolean;
}>();
const emit = defineEmits<{ change: [column: string] }>();
const choices = computed(() =>
  props.columns
    .filter((each) => !props.written || !each.computed)
    .map(({ name, label }) => ({ value: name, name: label ?? name })),
);
</script>

<template>
  <ChooseOne
    v-if="columns.length"
    class="max-w-40"
    :label="label"
    :value="column"
    :options="choices"
    prompt="choose a column"
    @change="emit('change', $event)"
  />
  <input
    v-else
    class="field w-28"
    :aria-label="label"
    placeholder="column"
    :value="column"
    @input="emit('change', ($event.target as HTMLInputElement).value)"
  />
</template>
