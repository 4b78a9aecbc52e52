<script setup lang="ts">
import DatePicker from './DatePicker.vue';

// From which day to which a list goes, both of them whole; either may be open.
defineProps<{ from: string; to: string }>();
const emit = defineEmits<{ change: [bounds: { from?: string; to?: string }] }>();
</script>

<template>
  <span class="flex flex-wrap items-center gap-2">
    <span class="flex items-center gap-1 text-ink-2"
      >from <DatePicker :model-value="from" label="First day" clearable @change="emit('change', { from: $event })"
    /></span>
    <span class="flex items-center gap-1 text-ink-2"
      >to <DatePicker :model-value="to" label="Last day" clearable @change="emit('change', { to: $event })"
    /></span>
  </span>
</template>
