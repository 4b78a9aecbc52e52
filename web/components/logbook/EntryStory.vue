<script setup lang="ts">
import { ref, watch } from 'vue';
import { api } from '../../lib/api.ts';
import { dayAndTime, shortMoment } from '../../lib/times.ts';
import type { Answer } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import DeedsList from '../form/DeedsList.vue';

// How something came to go out: when it was asked for, what was tried in vain, and what people did about it.
const props = defineProps<{ entry: { key: string; at: number } }>();
type Story = Answer<'openLogbookStory'>;
const session = useSession();
const found = ref<Story>();
const trouble = ref('');
/** What became of a try, in a word. */
const CAME: Readonly<Record<NonNullable<Story['story']>['tries'][number]['kind'], string>> = {
  retry: 'did not go out',
  wait: 'was asked to wait',
  unknown: 'nobody knew whether it went out',
  reconnect: 'was not let in',
  fix: 'was refused',
};
let turn = 0;
async function load() {
  const mine = ++turn;
  try {
    const answer = await api<Story>('GET', `${session.at}/logbook/${encodeURIComponent(props.entry.key)}/story`);
    if (mine !== turn) return;
    found.value = answer;
    trouble.value = '';
  } catch (error) {
    if (mine === turn) trouble.value = (error as Error).message;
  }
}
watch(
  () => props.entry.key,
  () => {
    found.value = undefined;
    void load();
  },
  { immediate: true },
);
</script>

<template>
  <div role="group" class="mt-3 border-t border-line pt-2 text-sm text-ink-2" aria-label="How it came to go out">
    <p v-if="trouble" role="alert" class="text-rose">
      How it came to go out could not be read. {{ trouble }} <button class="link" @click="load">Try again</button>
    </p>
    <template v-else-if="found">
      <p v-if="!found.story">How it came to go out is no longer kept.</p>
      <ol v-else>
        <li>Asked for {{ dayAndTime(found.story.asked, session.zone) }}</li>
        <li v-if="found.story.planned !== null">Meant for {{ dayAndTime(found.story.planned, session.zone) }}</li>
        <li v-for="(each, index) in found.story.tries" :key="index">
          <b class="text-amber">Tried {{ shortMoment(each.at, session.zone) }}, {{ CAME[each.kind] }}:</b>
          <span class="break-words"> {{ each.says }}</span>
        </li>
        <li>
          Went out {{ dayAndTime(entry.at, session.zone)
          }}{{ found.story.tries.length === 0 ? ', at the first try' : '' }}
        </li>
      </ol>
      <DeedsList class="mt-1" :deeds="found.done" :zone="session.zone" />
    </template>
  </div>
</template>
