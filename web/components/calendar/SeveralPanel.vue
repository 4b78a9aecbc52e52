<script setup lang="ts">
import { X } from '@lucide/vue';
import type { DurationLike } from 'luxon';
import { computed, ref } from 'vue';
import { dayAndTime } from '../../lib/times.ts';
import type { CalendarPost } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import { ableTo } from './several.ts';

// Several posts that were chosen: what can be done to them together.
const props = defineProps<{ posts: readonly CalendarPost[]; busy: boolean }>();
const emit = defineEmits<{ close: []; move: [by: DurationLike]; approve: []; remove: [] }>();
const session = useSession();
/** What is deleted is asked about once more. */
const sure = ref(false);
const can = computed(() => ableTo(props.posts));
const MOVES: readonly (readonly [says: string, by: DurationLike])[] = [
  ['an hour later', { hours: 1 }],
  ['a day earlier', { days: -1 }],
  ['a day later', { days: 1 }],
  ['a week later', { weeks: 1 }],
];
const count = (number: number) => `${number} ${number === 1 ? 'post' : 'posts'}`;
</script>

<template>
  <aside class="sheet p-3" aria-label="The chosen posts">
    <div class="flex items-start gap-2">
      <h2 class="min-w-0 flex-1 font-[650]">{{ count(posts.length) }} chosen</h2>
      <button class="rounded p-1 text-ink-3 hover:text-ink" aria-label="Choose no more" @click="emit('close')">
        <X :size="15" />
      </button>
    </div>
    <p v-if="posts.length === 0" class="text-sm text-ink-3">Choose posts in the calendar.</p>
    <ol class="mt-1 grid max-h-40 gap-0.5 overflow-auto text-sm">
      <li v-for="post in posts" :key="post.key" class="truncate">
        <span class="text-ink-3">{{ dayAndTime(post.at, session.zone) }}</span> {{ post.title }}
      </li>
    </ol>
    <div v-if="can.move.length" class="mt-2 border-t border-line pt-2">
      <p class="text-sm text-ink-2">Move {{ count(can.move.length) }}</p>
      <div class="mt-1 flex flex-wrap gap-1">
        <button
          v-for="[says, by] in MOVES"
          :key="says"
          class="btn px-2 py-0.5"
          :disabled="busy"
          @click="emit('move', by)"
        >
          {{ says }}
        </button>
      </div>
    </div>
    <div v-if="can.approve.length || can.remove.length" class="mt-2 flex flex-wrap gap-1">
      <button v-if="can.approve.length" class="btn btn-main px-2 py-0.5" :disabled="busy" @click="emit('approve')">
        Say yes to {{ count(can.approve.length) }}
      </button>
      <button
        v-if="can.remove.length"
        class="btn px-2 py-0.5 text-rose"
        :disabled="busy"
        @click="sure ? emit('remove') : (sure = true)"
      >
        {{ sure ? 'Really delete' : 'Delete' }} {{ count(can.remove.length) }}
      </button>
    </div>
    <p v-if="posts.length > can.move.length" class="mt-2 text-sm text-ink-3">
      What is out, or gets its moment from its item, cannot be moved here.
    </p>
  </aside>
</template>
