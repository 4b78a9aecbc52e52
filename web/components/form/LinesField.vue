<script setup lang="ts">
// A list of short texts, a line each.
const props = defineProps<{ label: string; hint: string; lines: readonly string[] }>();
const emit = defineEmits<{ change: [lines: string[]] }>();
const change = (event: Event) => {
  const lines = (event.target as HTMLTextAreaElement).value
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
  if (lines.join('\n') !== props.lines.join('\n')) emit('change', lines);
};
</script>

<template>
  <label
    >{{ label }}
    <textarea class="field" rows="4" :value="lines.join('\n')" @change="change"></textarea>
    <span class="text-sm text-ink-3">{{ hint }}</span>
  </label>
</template>
