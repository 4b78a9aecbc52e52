<script setup lang="ts">
import { call } from '../../lib/api.ts';
import { webHref } from '../../lib/links.ts';
import { shortMoment } from '../../lib/times.ts';
import type { Appeared } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

// What appeared, and what became of it; what no workflow took can be taken.
defineProps<{ items: readonly Appeared[]; now: number }>();
const emit = defineEmits<{ taken: [] }>();
const session = useSession();
const notices = useNotices();
const words: Record<string, string> = {
  done: 'done',
  cancelled: 'ended',
  stopped: 'stopped',
  held: 'needs you',
  waiting: 'on its way',
  new: 'about to begin',
};
const whyNot = (item: Appeared) =>
  item.own
    ? 'posted by Playa itself, so nothing took it'
    : item.late
      ? 'appeared late, so nothing took it'
      : 'no workflow took it';

async function take(item: Appeared, workflow: { id: number; name: string }) {
  try {
    await call('takeItem', { brand: session.brandId, id: workflow.id }, { body: { item: item.id } });
    notices.say(`“${workflow.name}” takes it.`);
    emit('taken');
  } catch (error) {
    notices.wrong(error);
  }
}
</script>

<template>
  <section class="sheet" aria-labelledby="appeared">
    <h2 id="appeared" class="border-b border-line px-4 py-2">Appeared since yesterday</h2>
    <p v-if="items.length === 0" class="px-4 py-3 text-ink-3">Nothing new at the sources of live workflows.</p>
    <div v-for="item in items" :key="item.id" class="flex gap-3 border-b border-line px-4 py-2.5 last:border-0">
      <img v-if="item.thumbnail" :src="item.thumbnail" alt="" class="h-9 w-16 shrink-0 rounded object-cover" />
      <div class="min-w-0">
        <a
          :href="webHref(item.link)"
          target="_blank"
          rel="noreferrer"
          class="block truncate font-[550] no-underline hover:underline"
          >{{ item.title }}</a
        >
        <div class="text-sm text-ink-3">{{ item.watch }} · seen {{ shortMoment(item.seenAt, session.zone, now) }}</div>
        <div v-for="run in item.runs" :key="run.workflowId" class="text-sm">
          <RouterLink
            :to="{
              name: 'run-sheet',
              params: { brand: session.brandId, id: run.workflowId },
              query: { reading: 'happened' },
            }"
            class="text-ink-2"
            >{{ run.workflow }}</RouterLink>:
          <span :class="run.status === 'held' ? 'text-amber' : run.status === 'done' ? 'text-kelp' : 'text-ink-3'">{{
            words[run.status]
          }}</span>
        </div>
        <div v-if="item.runs.length === 0" class="text-sm text-ink-3">
          {{ whyNot(item) }}
          <button
            v-for="workflow in item.takers"
            :key="workflow.id"
            class="link ml-1"
            :aria-label="`Take ${item.title} with ${workflow.name}`"
            @click="take(item, workflow)"
          >
            take it with “{{ workflow.name }}”
          </button>
        </div>
      </div>
    </div>
  </section>
</template>
