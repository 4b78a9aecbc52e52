<script setup lang="ts">
import { computed } from 'vue';
import type { OutletDetails } from '@playa/core/model/world.ts';

// A column of a table, by the name people call it; written freely where nobody knows which there are.
const props = defineProps<{
  columns: NonNullable<OutletDetails['columns']>;
  column: string;
  label: string;
  /** Columns that are worked out can be looked for, and not written. */
  written?: boolean;
}>();
const emit = defineEmits<{ change: [column: string] }>();
const offered = computed(() => props.columns.filter((each) => !props.written || !each.computed));
const known = computed(() => offered.value.some((each) => each.name === props.column));
</script>

<template>
  <select
    v-if="columns.length"
    class="field max-w-40"
    :aria-label="label"
    :value="column"
    @change="emit('change', ($event.target as HTMLSelectElement).value)"
  >
    <option v-if="!known" :value="column">{{ column || 'choose a column' }}</option>
    <option v-for="each in offered" :key="each.name" :value="each.name">{{ each.label ?? each.name }}</option>
  </select>
  <input
    v-else
    class="field w-28"
    :aria-label="label"
    placeholder="column"
    :value="column"
    @input="emit('change', ($event.target as HTMLInputElement).value)"
  />
</template>
