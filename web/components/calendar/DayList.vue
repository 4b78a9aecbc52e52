<script setup lang="ts">
import { DateTime } from 'luxon';
import { computed } from 'vue';
import type { CalendarDay } from '../../lib/calendar.ts';
import type { CalendarOutlet, CalendarPost, LikelyPost } from '../../lib/types.ts';
import { likelyOn } from './likely.ts';
import LikelyLine from './LikelyLine.vue';
import PostChip from './PostChip.vue';

// A week for a narrow screen: day after day, all outlets together.
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
const emit = defineEmits<{ open: [key: string, beside: boolean] }>();
const names = computed(() => new Map(props.outlets.map((outlet) => [outlet.id, outlet.name])));
const list = computed(() =>
  props.days.map((day) => ({
    ...day,
    label: DateTime.fromMillis(day.from, { zone: props.zone, locale: 'en' }).toFormat('cccc d LLLL'),
    today: props.now >= day.from && props.now < day.to,
    posts: props.posts.filter((post) => post.at >= day.from && post.at < day.to).sort((a, b) => a.at - b.at),
  })),
);
</script>

<template>
  <ol class="sheet px-3">
    <li v-for="day in list" :key="day.date" class="border-b border-line py-2 last:border-b-0">
      <h2 class="mb-1 font-[650]" :class="day.today && 'text-sea'">
        {{ day.label }}<span v-if="day.today" class="font-normal"> today</span>
      </h2>
      <p v-if="day.posts.length === 0 && likelyOn(likely, day).length === 0" class="text-sm text-ink-3">nothing</p>
      <div v-for="post in day.posts" :key="post.key" class="mb-1">
        <span class="text-sm text-ink-3">{{ names.get(post.outlet) }}</span>
        <PostChip :post="post" :zone="zone" :chosen="chosen.has(post.key)" @open="emit('open', post.key, $event)" />
      </div>
      <LikelyLine
        v-for="each in likelyOn(likely, day)"
        :key="`${each.workflow} ${each.outlet}`"
        :post="each"
        :zone="zone"
        :outlet="names.get(each.outlet)"
      />
    </li>
  </ol>
</template>
