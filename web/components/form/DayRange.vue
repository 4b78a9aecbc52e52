<script setup lang="ts">
// From which day to which a list goes, both of them whole; either may be open.
defineProps<{ from: string; to: string }>();
const emit = defineEmits<{ change: [bounds: { from?: string; to?: string }] }>();
const valueOf = (event: Event) => (event.target as HTMLInputElement).value;
</script>

<template>
  <span class="flex flex-wrap items-center gap-2">
    <label class="flex items-center gap-1 text-ink-2"
      >from <input type="date" class="field" :value="from" @change="emit('change', { from: valueOf($event) })"
    /></label>
    <label class="flex items-center gap-1 text-ink-2"
      >to <input type="date" class="field" :value="to" @change="emit('change', { to: valueOf($event) })"
    /></label>
  </span>
</template>
