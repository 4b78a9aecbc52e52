<script setup lang="ts">
import { ArrowDown, ArrowUp, X } from '@lucide/vue';

// Moves a row of a short list, or takes it away.
defineProps<{
  index: number;
  count: number;
  /** What each does, for those who do not see the signs. */
  up: string;
  down: string;
  away: string;
  /** So many have to stay; none if left out. */
  least?: number;
}>();
const emit = defineEmits<{ move: [by: -1 | 1]; away: [] }>();
</script>

<template>
  <button class="btn btn-quiet px-1" :disabled="index === 0" :aria-label="up" @click="emit('move', -1)">
    <ArrowUp :size="14" />
  </button>
  <button class="btn btn-quiet px-1" :disabled="index === count - 1" :aria-label="down" @click="emit('move', 1)">
    <ArrowDown :size="14" />
  </button>
  <button
    class="btn btn-quiet px-1 hover:text-rose"
    :disabled="count <= (least ?? 0)"
    :aria-label="away"
    @click="emit('away')"
  >
    <X :size="14" />
  </button>
</template>
