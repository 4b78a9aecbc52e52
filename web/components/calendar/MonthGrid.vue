<script setup lang="ts">
import { DateTime } from 'luxon';
import { computed } from 'vue';
import type { CalendarDay } from '../../lib/calendar.ts';
import { clockTime } from '../../lib/times.ts';
import type { CalendarOutlet, CalendarPost, LikelyPost } from '../../lib/types.ts';
import { likelyOn } from './likely.ts';
import LikelyLine from './LikelyLine.vue';
import { STATES } from './states.ts';

// A month: weeks as rows, days as columns, the posts of all outlets by time. A day opens its week.
const props = defineProps<{
  outlets: readonly CalendarOutlet[];
  days: readonly CalendarDay[];
  posts: readonly CalendarPost[];
  /** What is likely besides. */
  likely: readonly LikelyPost[];
  month: string;
  zone: string;
  now: number;
}>();
const emit = defineEmits<{ day: [date: string]; open: [key: string] }>();
/** So many are listed on a day; the others are counted. */
const FEW = 4;
const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const names = computed(() => new Map(props.outlets.map((outlet) => [outlet.id, outlet.name])));
const weeks = computed(() => {
  const filled = props.days.map((day) => {
    const posts = props.posts.filter((post) => post.at >= day.from && post.at < day.to).sort((a, b) => a.at - b.at);
    const local = DateTime.fromMillis(day.from, { zone: props.zone });
    return {
      ...day,
      posts,
      number: local.day,
      inside: local.toFormat('yyyy-MM') === props.month.slice(0, 7),
      today: props.now >= day.from && props.now < day.to,
    };
  });
  return Array.from({ length: filled.length / 7 }, (_, week) => filled.slice(week * 7, week * 7 + 7));
});
</script>

<template>
  <div class="sheet overflow-auto">
    <table class="w-full min-w-[760px] table-fixed border-collapse" aria-label="Posts by day">
      <thead>
        <tr>
          <th
            v-for="name in WEEKDAYS"
            :key="name"
            scope="col"
            class="border-b border-l border-line bg-paper-2 px-2 py-1.5 text-left first:border-l-0"
          >
            {{ name }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="week in weeks" :key="week[0]!.date">
          <td
            v-for="day in week"
            :key="day.date"
            class="h-28 border-b border-l border-line p-1 align-top first:border-l-0"
            :class="[!day.inside && 'bg-paper-2', day.today && 'bg-sea-wash']"
          >
            <button
              class="rounded px-1 font-[650] hover:bg-sea-wash"
              :class="!day.inside && 'text-ink-3'"
              :aria-label="`The week of ${day.date}`"
              @click="emit('day', day.date)"
            >
              {{ day.number }}
            </button>
            <button
              v-for="post in day.posts.slice(0, FEW)"
              :key="post.key"
              class="mt-0.5 block w-full truncate rounded border-l-[3px] px-1 text-left text-sm"
              :class="STATES[post.state].look"
              :title="`${names.get(post.outlet) ?? ''}: ${post.title}`"
              @click="emit('open', post.key)"
            >
              {{ clockTime(post.at, zone) }}
              <span class="sr-only">{{ STATES[post.state].says }} {{ names.get(post.outlet) }}</span>
              {{ post.title }}
            </button>
            <LikelyLine
              v-for="each in likelyOn(likely, day).slice(0, Math.max(1, FEW - day.posts.length))"
              :key="`${each.workflow} ${each.outlet}`"
              :post="each"
              :zone="zone"
              :outlet="names.get(each.outlet)"
            />
            <button v-if="day.posts.length > FEW" class="link px-1 text-sm" @click="emit('day', day.date)">
              and {{ day.posts.length - FEW }} more
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
