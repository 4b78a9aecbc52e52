<script setup lang="ts">
import type { WorkflowStatus } from '../lib/types.ts';

defineProps<{ status: WorkflowStatus }>();
const looks = {
  live: 'bg-kelp-wash text-kelp',
  paused: 'bg-amber-wash text-amber',
  draft: 'bg-dusk-wash text-dusk',
};
const words = { live: 'Live', paused: 'Paused', draft: 'Draft' };
</script>

<template>
  <span class="pill" :class="looks[status]">{{ words[status] }}</span>
</template>
