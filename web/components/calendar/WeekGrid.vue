<script setup lang="ts">
import { DateTime } from 'luxon';
import { computed } from 'vue';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { cellOf, type CalendarDay } from '../../lib/calendar.ts';
import type { CalendarOutlet, CalendarPost, LikelyPost } from '../../lib/types.ts';
import { likelyOn } from './likely.ts';
import DayCell from './DayCell.vue';

// A week: outlets as rows, days as columns.
const props = defineProps<{
  outlets: readonly CalendarOutlet[];
  days: readonly CalendarDay[];
  posts: readonly CalendarPost[];
  /** What is likely besides. */
  likely: readonly LikelyPost[];
  zone: string;
  now: number;
  chosen: ReadonlySet<string>;
}>();
const emit = defineEmits<{
  open: [key: string, beside: boolean];
  drop: [post: CalendarPost, at: number];
  timetable: [outlet: number];
}>();
const heads = computed(() =>
  props.days.map((day) => ({
    ...day,
    label: DateTime.fromMillis(day.from, { zone: props.zone, locale: 'en' }).toFormat('ccc d'),
    today: props.now >= day.from && props.now < day.to,
  })),
);
const byOutlet = computed(() => {
  const posts = new Map<number, CalendarPost[]>();
  for (const post of props.posts) posts.set(post.outlet, [...(posts.get(post.outlet) ?? []), post]);
  return posts;
});
const rows = computed(() =>
  props.outlets.map((outlet) => {
    const posts = byOutlet.value.get(outlet.id) ?? [];
    const cells = props.days.map((day) => cellOf(outlet, day, posts, props.zone, props.now));
    const times = outlet.timetable.times.reduce((sum, each) => sum + each.length, 0);
    return { outlet, posts, cells, times };
  }),
);
</script>

<template>
  <div class="sheet overflow-auto">
    <table
      class="w-full table-fixed border-collapse"
      :class="days.length > 1 && 'min-w-[900px]'"
      aria-label="Posts by outlet and day"
    >
      <thead>
        <tr>
          <th class="sticky left-0 z-10 w-36 border-r-2 border-b border-line bg-paper-2">
            <span class="sr-only">Outlet</span>
          </th>
          <th
            v-for="day in heads"
            :key="day.date"
            scope="col"
            class="border-b border-l border-line px-2 py-1.5 text-left"
            :class="day.today ? 'border-t-2 border-t-sea bg-sea-wash' : 'bg-paper-2'"
          >
            {{ day.label }} <span v-if="day.today" class="font-normal text-ink-2">today</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ outlet, posts: all, cells, times } in rows" :key="outlet.id">
          <th
            scope="row"
            class="sticky left-0 z-10 border-r-2 border-b border-line bg-paper-2 px-2.5 py-2 text-left align-top"
          >
            {{ outlet.name }}
            <span class="block text-sm font-normal text-ink-3"
              >{{ KIND_RULES[outlet.kind].name }}{{ times ? ` · ${times} a week` : '' }}</span
            >
            <button class="link text-sm font-normal" @click="emit('timetable', outlet.id)">
              {{ times ? 'Timetable' : 'Make a timetable' }}<span class="sr-only"> of {{ outlet.name }}</span>
            </button>
          </th>
          <td
            v-for="(day, index) in days"
            :key="day.date"
            class="border-b border-l border-line align-top"
            :class="heads[index]!.today && 'bg-sea-wash/40'"
          >
            <DayCell
              :outlet="outlet"
              :day="day"
              :cell="cells[index]!"
              :posts="all"
              :likely="likelyOn(likely, day, outlet.id)"
              :zone="zone"
              :now="now"
              :chosen="chosen"
              @open="(key, beside) => emit('open', key, beside)"
              @drop="(post, at) => emit('drop', post, at)"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
