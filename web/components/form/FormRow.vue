<script setup lang="ts">
// A line of a form: what it is about on the left, what is chosen on the right.
defineProps<{ label: string; hint?: string }>();
</script>

<template>
  <div class="grid grid-cols-[6.5rem_minmax(0,1fr)] items-start gap-2">
    <span class="pt-1 text-ink-2">{{ label }}</span>
    <div class="min-w-0">
      <div class="flex flex-wrap items-center gap-1.5"><slot /></div>
      <p v-if="hint" class="mt-0.5 text-sm text-ink-3">{{ hint }}</p>
    </div>
  </div>
</template>
