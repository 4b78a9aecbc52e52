<script setup lang="ts">
import { draggable } from '@atlaskit/pragmatic-drag-and-drop/element/adapter';
import { onBeforeUnmount, onMounted, ref } from 'vue';
import { canMove } from '../../lib/calendar.ts';
import { clockTime } from '../../lib/times.ts';
import type { CalendarPost } from '../../lib/types.ts';
import { STATES } from './states.ts';

// One post in the calendar. What is planned can be dragged; all of them open beside the calendar.
const props = defineProps<{ post: CalendarPost; zone: string; chosen: boolean }>();
const emit = defineEmits<{ /** Beside what is chosen already, or alone. */ open: [beside: boolean] }>();
const root = ref<HTMLElement>();
const dragged = ref(false);
let stop: (() => void) | undefined;
onMounted(() => {
  stop = draggable({
    element: root.value!,
    canDrag: () => canMove(props.post),
    getInitialData: () => ({ post: props.post }),
    onDragStart: () => (dragged.value = true),
    onDrop: () => (dragged.value = false),
  });
});
onBeforeUnmount(() => stop?.());
</script>

<template>
  <button
    ref="root"
    type="button"
    class="block w-full rounded-[5px] border border-l-[3px] px-2 py-1 text-left text-sm leading-tight"
    :class="[
      STATES[post.state].look,
      chosen && 'outline-2 outline-sea',
      dragged && 'opacity-40',
      canMove(post) && 'cursor-grab',
    ]"
    :aria-pressed="chosen"
    @click="emit('open', $event.ctrlKey || $event.metaKey)"
  >
    <span class="line-clamp-3"
      ><b>{{ clockTime(post.at, zone) }}</b> {{ post.title }}</span
    >
    <span class="mt-0.5 block truncate text-ink-3"
      ><span :class="STATES[post.state].word">{{ STATES[post.state].says }}</span>
      {{ post.post === null ? post.workflow : 'by hand' }}</span
    >
  </button>
</template>
