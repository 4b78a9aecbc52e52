<script setup lang="ts">
import { X } from '@lucide/vue';
import { computed, ref, watch } from 'vue';
import { earliest } from '@playa/core/timetable/earliest.ts';
import { hasTimes } from '@playa/core/timetable/timetable.ts';
import { canMove, conflictsFor, fromField, sayConflict, toField } from '../../lib/calendar.ts';
import { webHref } from '../../lib/links.ts';
import { dayAndTime } from '../../lib/times.ts';
import type { CalendarOutlet, CalendarPost } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import DatePicker from '../form/DatePicker.vue';
import { STATES } from './states.ts';

// One post of the calendar: its words, where it comes from, and another moment for it.
const props = defineProps<{
  post: CalendarPost;
  outlet: CalendarOutlet;
  posts: readonly CalendarPost[];
  now: number;
  busy: boolean;
}>();
const emit = defineEmits<{ close: []; move: [at: number] }>();
const session = useSession();
const when = ref('');
watch(
  // A text, since a new array would be news at every look, and take back what is being typed.
  () => `${props.post.key} ${props.post.at}`,
  () => (when.value = toField(props.post.at, session.zone)),
  { immediate: true },
);
const to = computed(() => fromField(when.value, session.zone));
const conflicts = computed(() =>
  to.value === null || to.value === props.post.at
    ? []
    : conflictsFor(props.post, props.outlet, to.value, props.posts, session.zone, props.now),
);
/** The next time that nobody holds, later than its own. */
const nextFree = computed(() => {
  const { timetable } = props.outlet;
  if (!hasTimes(timetable)) return null;
  const taken = props.posts.filter((each) => each.key !== props.post.key && each.state !== 'deleted');
  const from = Math.max(props.now, props.post.at + 1);
  return earliest('free', { timetable, zone: session.zone, hours: null, taken, from });
});
const sheet = computed(() => ({
  name: 'run-sheet',
  params: { brand: session.brandId, id: props.post.workflowId },
  query: props.post.runId === null ? {} : { reading: 'happened' },
}));
</script>

<template>
  <aside class="sheet p-3" aria-label="The chosen post">
    <div class="flex items-start gap-2">
      <h2 class="min-w-0 flex-1 font-[650]">{{ post.title }}</h2>
      <button class="rounded p-1 text-ink-3 hover:text-ink" aria-label="Close" @click="emit('close')">
        <X :size="15" />
      </button>
    </div>
    <p class="text-ink-2">
      {{ dayAndTime(post.at, session.zone) }} on {{ outlet.name }}. {{ STATES[post.state].about }}
    </p>
    <p v-if="!post.sure && post.post === null" class="text-sm text-ink-3">
      A step before it may still keep it from going out.
    </p>
    <p v-if="post.text" class="mt-2 rounded-(--radius) bg-paper px-2.5 py-2 whitespace-pre-line">{{ post.text }}</p>
    <p class="mt-2 flex flex-wrap gap-3">
      <a v-if="post.url" class="link" :href="webHref(post.url)" target="_blank" rel="noreferrer">See it there</a>
      <RouterLink
        v-if="post.post !== null"
        class="link"
        :to="{ name: 'post', params: { brand: session.brandId, id: post.post } }"
        >{{ post.state === 'out' || post.state === 'deleted' ? 'The post' : 'Open and change it' }}</RouterLink
      >
      <RouterLink
        v-if="post.text"
        class="link"
        :to="{
          name: 'new-post',
          params: { brand: session.brandId },
          query: { outlet: String(outlet.id) },
          state: { text: post.text },
        }"
        >Write one like it</RouterLink
      >
      <RouterLink v-if="post.post === null && post.workflowId !== null" class="link" :to="sheet">{{
        post.workflow
      }}</RouterLink>
    </p>
    <form v-if="canMove(post)" class="mt-3 border-t border-line pt-2" @submit.prevent="to !== null && emit('move', to)">
      <div class="flex flex-wrap items-center gap-2">
        Goes out
        <DatePicker v-model="when" granularity="minute" label="When it goes out" />
        <button class="btn btn-main px-2 py-1" :disabled="busy || to === null || to === post.at || to < now">
          Move
        </button>
      </div>
      <p v-for="conflict in conflicts" :key="conflict" class="mt-1 text-amber">{{ sayConflict(conflict, outlet) }}</p>
      <button
        v-if="nextFree"
        type="button"
        class="link mt-1 block text-left"
        :disabled="busy"
        @click="emit('move', nextFree.at)"
      >
        To the next free time, {{ dayAndTime(nextFree.at, session.zone) }}
      </button>
    </form>
    <p v-else-if="post.state === 'ahead'" class="mt-2 text-sm text-ink-3">
      Its moment comes from its item, and is changed there.
    </p>
  </aside>
</template>
