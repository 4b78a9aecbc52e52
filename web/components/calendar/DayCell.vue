<script setup lang="ts">
import {
  dropTargetForElements,
  type ElementDropTargetEventBasePayload,
} from '@atlaskit/pragmatic-drag-and-drop/element/adapter';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import type { CalendarCell, CalendarDay } from '../../lib/calendar.ts';
import { beginOn, conflictsFor, sameTimeOn, sayConflict, toField } from '../../lib/calendar.ts';
import { clockTime } from '../../lib/times.ts';
import type { CalendarOutlet, CalendarPost, LikelyPost } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import LikelyLine from './LikelyLine.vue';
import PostChip from './PostChip.vue';

// One outlet on one day: its posts by time, and the times that are free. A post of the same outlet can be dropped on a free
// time, or on the day, where it keeps its time.
const props = defineProps<{
  outlet: CalendarOutlet;
  day: CalendarDay;
  cell: CalendarCell;
  posts: readonly CalendarPost[];
  likely: readonly LikelyPost[];
  zone: string;
  now: number;
  chosen: ReadonlySet<string>;
}>();
const session = useSession();
const begin = computed(() => beginOn(props.day, props.zone, props.now));
const writeAt = (at: string) => ({
  name: 'new-post',
  params: { brand: session.brandId },
  query: { outlet: String(props.outlet.id), at },
});
const emit = defineEmits<{ open: [key: string, beside: boolean]; drop: [post: CalendarPost, at: number] }>();
const root = ref<HTMLElement>();
/** What is said while something is over this cell. */
const over = ref<{ at: number; says: string[] } | null>(null);
let stop: (() => void) | undefined;

const postOf = (data: Record<string | symbol, unknown>) => data.post as CalendarPost;
/** The free time under the pointer, or the time that the post has. */
function momentAt(post: CalendarPost, x: number, y: number): number {
  const free = document
    .elementsFromPoint(x, y)
    .map((element) => (element as HTMLElement).dataset?.free)
    .find((each) => each !== undefined);
  return free === undefined ? sameTimeOn(post.at, props.day, props.zone) : Number(free);
}
/** Says where what is dragged would go, and what speaks against it. */
function look({ source, location }: ElementDropTargetEventBasePayload) {
  const post = postOf(source.data);
  const { clientX, clientY } = location.current.input;
  const at = momentAt(post, clientX, clientY);
  if (over.value?.at === at) return;
  const conflicts = conflictsFor(post, props.outlet, at, props.posts, props.zone, props.now);
  over.value = { at, says: conflicts.map((each) => sayConflict(each, props.outlet)) };
}
onMounted(() => {
  stop = dropTargetForElements({
    element: root.value!,
    canDrop: ({ source }) => postOf(source.data)?.outlet === props.outlet.id,
    onDragEnter: look,
    onDrag: look,
    onDragLeave: () => (over.value = null),
    onDrop({ source, location }) {
      over.value = null;
      const post = postOf(source.data);
      const { clientX, clientY } = location.current.input;
      const at = momentAt(post, clientX, clientY);
      if (at !== post.at) emit('drop', post, at);
    },
  });
});
onBeforeUnmount(() => stop?.());
</script>

<template>
  <div
    ref="root"
    class="group grid min-h-14 grid-cols-[minmax(0,1fr)] content-start gap-1 p-1.5"
    :class="over && (over.says.length ? 'bg-amber-wash' : 'bg-sea-wash')"
  >
    <template v-for="post in cell.posts" :key="post.key">
      <PostChip :post="post" :zone="zone" :chosen="chosen.has(post.key)" @open="emit('open', post.key, $event)" />
    </template>
    <RouterLink
      v-for="at in cell.free"
      :key="at"
      :data-free="at"
      :to="writeAt(toField(at, zone))"
      draggable="false"
      class="rounded-[5px] border border-dashed border-ink-3/40 px-2 py-0.5 text-sm text-ink-3 no-underline hover:border-sea hover:text-sea"
      :title="`Write a post for ${outlet.name}`"
      >{{ clockTime(at, zone) }} free</RouterLink
    >
    <LikelyLine v-for="each in likely" :key="each.workflow" :post="each" :zone="zone" />
    <RouterLink
      v-if="begin"
      :to="writeAt(begin)"
      class="w-fit rounded px-1.5 text-ink-3 no-underline opacity-0 group-hover:opacity-100 hover:text-sea focus-visible:opacity-100"
      :aria-label="`Write a post for ${outlet.name}, ${begin.replace('T', ' ')}`"
      title="Write a post"
      >+</RouterLink
    >
    <p v-if="over" class="text-sm" :class="over.says.length ? 'text-amber' : 'text-sea'" role="status">
      to {{ clockTime(over.at, zone) }}{{ over.says.length ? `. ${over.says.join(' ')}` : '' }}
    </p>
  </div>
</template>
