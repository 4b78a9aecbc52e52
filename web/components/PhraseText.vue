<script setup lang="ts">
import { computed } from 'vue';
import type { Phrase } from '@playa/core/steps/verb.ts';

// A sentence in which the names of things stand out; with `lead`, its first word (the verb) too.
const props = defineProps<{ phrase: Phrase; lead?: boolean }>();
const parts = computed(() => {
  const [first, ...rest] = props.phrase;
  if (!props.lead || typeof first !== 'string') return { lead: '', rest: props.phrase };
  const verb = /^(For each|[^ :]+)/.exec(first)?.[0] ?? first;
  return { lead: verb, rest: [first.slice(verb.length), ...rest] };
});
</script>

<template>
  <span
    ><b v-if="parts.lead">{{ parts.lead }}</b
    ><template v-for="(part, index) in parts.rest" :key="index"
      ><template v-if="typeof part === 'string'">{{ part }}</template
      ><span v-else class="underline decoration-line decoration-2 underline-offset-3">{{ part.name }}</span></template
    ></span
  >
</template>
