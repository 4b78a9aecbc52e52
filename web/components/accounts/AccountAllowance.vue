<script setup lang="ts">
import { computed } from 'vue';
import type { AccountRow } from '../../lib/types.ts';

// How many calls of an account its network allows, and how many of them are made.
const props = defineProps<{ allowance: AccountRow['allowance'] | null }>();
const share = computed(() =>
  props.allowance ? Math.min(100, Math.round((100 * props.allowance.used) / props.allowance.calls)) : 0,
);
</script>

<template>
  <template v-if="allowance">
    <div
      class="mt-1.5 h-1.5 w-full overflow-hidden rounded bg-paper"
      role="meter"
      :aria-valuenow="share"
      aria-valuemin="0"
      aria-valuemax="100"
      aria-label="Share of the allowance that is used"
    >
      <div
        class="h-full"
        :class="share > 80 ? 'bg-rose' : share > 50 ? 'bg-amber' : 'bg-kelp'"
        :style="{ width: `${Math.max(share, allowance.used ? 2 : 0)}%` }"
      ></div>
    </div>
    <div class="mt-0.5 text-sm text-ink-3">
      {{ allowance.used }} of {{ allowance.calls.toLocaleString('en') }} calls this {{ allowance.per }}; about
      {{ allowance.forecast }} expected
    </div>
  </template>
  <span v-else class="text-sm text-ink-3">no limit known</span>
</template>
