<script setup lang="ts">
// A choice among a few things, one of which is "any". What is chosen is a text; empty for any.
defineProps<{
  value: string | number | undefined;
  /** For those who do not see it. */
  label: string;
  /** What is said where nothing is chosen; left out where something always is. */
  any?: string;
  options: readonly { value: string | number; name: string }[];
}>();
const emit = defineEmits<{ change: [value: string] }>();
</script>

<template>
  <select
    class="field"
    :aria-label="label"
    :value="value === undefined ? '' : String(value)"
    @change="emit('change', ($event.target as HTMLSelectElement).value)"
  >
    <option v-if="any !== undefined" value="">{{ any }}</option>
    <option v-for="option in options" :key="option.value" :value="String(option.value)">{{ option.name }}</option>
  </select>
</template>
