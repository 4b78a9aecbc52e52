<script setup lang="ts">
// A list of short texts, a line each.
const props = defineProps<{ lines: readonly string[] }>();
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
  <textarea class="field w-full" rows="4" :value="lines.join('\n')" @change="change"></textarea>
</template>
