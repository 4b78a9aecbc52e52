<script setup lang="ts">
import { dayAndTime } from '../../lib/times.ts';
import type { CalendarPost, MovedPosts } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import ModalDialog from '../form/ModalDialog.vue';

// A post is moved to a time that somebody holds: what would become of the others is shown before anything is done.
defineProps<{
  post: CalendarPost;
  to: number;
  /** What would go elsewhere if the others moved on; null when they cannot. */
  moved: MovedPosts | null;
  posts: readonly CalendarPost[];
  busy: boolean;
}>();
const emit = defineEmits<{ close: []; choose: [others: 'move' | 'stay'] }>();
const session = useSession();
const titleOf = (posts: readonly CalendarPost[], id: number) =>
  posts.find((each) => each.effect === id)?.title ?? 'a post of a later week';
</script>

<template>
  <ModalDialog :title="`${dayAndTime(to, session.zone)} is taken`" @close="emit('close')">
    <p class="mt-1 text-ink-2">“{{ post.title }}” can take that time all the same.</p>
    <div v-if="moved" class="mt-3">
      <p>
        If the others move on, {{ moved.places.length === 2 ? 'one goes' : `${moved.places.length - 1} go` }} later:
      </p>
      <ul class="mt-1 max-h-48 overflow-auto rounded-(--radius) bg-paper px-3 py-2">
        <li v-for="place in moved.places.slice(1)" :key="place.id" class="flex gap-2">
          <span class="truncate">{{ titleOf(posts, place.id) }}</span>
          <span class="ml-auto shrink-0 text-ink-3"
            >{{ dayAndTime(place.before, session.zone) }} → {{ dayAndTime(place.at, session.zone) }}</span
          >
        </li>
      </ul>
    </div>
    <template #actions>
      <button class="btn" @click="emit('close')">Cancel</button>
      <button class="btn" :disabled="busy" @click="emit('choose', 'stay')">Put it beside</button>
      <button v-if="moved" class="btn btn-main" :disabled="busy" @click="emit('choose', 'move')">
        Move the others on
      </button>
    </template>
  </ModalDialog>
</template>
