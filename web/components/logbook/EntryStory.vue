<script setup lang="ts">
import { dayAndTime, shortMoment } from '../../lib/times.ts';
import type { Answer } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import DeedsList from '../form/DeedsList.vue';
import { useResource } from '../../stores/resource.ts';

// How something came to go out: when it was asked for, what was tried in vain, and what people did about it.
const props = defineProps<{ entry: { key: string; at: number } }>();
type Story = Answer<'openLogbookStory'>;
const session = useSession();
const {
  data: found,
  trouble,
  load,
} = useResource('openLogbookStory', () => ({
  brand: session.brandId,
  key: props.entry.key,
}));
/** What became of a try, in a word. */
const CAME: Readonly<Record<NonNullable<Story['story']>['tries'][number]['kind'], string>> = {
  retry: 'did not go out',
  wait: 'was asked to wait',
  unknown: 'nobody knew whether it went out',
  reconnect: 'was not let in',
  fix: 'was refused',
};
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
