<script setup lang="ts">
import { shortMoment } from '../../lib/times.ts';

// What people did with something, newest first.
defineProps<{
  deeds: readonly { id: number; by: string | null; did: string; became: string | null; at: number }[];
  zone: string;
}>();
</script>

<template>
  <ul v-if="deeds.length" aria-label="What people did with it">
    <li v-for="each in deeds" :key="each.id">
      <b>{{ each.by ?? 'Playa' }}</b> {{ each.did
      }}<template v-if="each.became"
        >: <q class="break-words">{{ each.became }}</q></template
      >
      <span class="text-ink-3"> · {{ shortMoment(each.at, zone) }}</span>
    </li>
  </ul>
</template>
