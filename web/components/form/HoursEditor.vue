<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import type { WeeklyHours } from '@playa/core/timetable/opening-hours.ts';
import TimePicker from './TimePicker.vue';

// Opening hours by weekday, each with any number of stretches.
const props = defineProps<{ hours: WeeklyHours }>();
const emit = defineEmits<{ change: [hours: WeeklyHours, merge: string] }>();
const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

function put(day: number, stretches: WeeklyHours[number], merge = '') {
  emit(
    'change',
    props.hours.map((each, index) => (index === day ? stretches : each)),
    merge,
  );
}
function setTime(day: number, index: number, end: 'from' | 'to', value: string) {
  const stretch = props.hours[day]![index]!;
  // Midnight as an end is the day's end.
  const next = { ...stretch, [end]: end === 'to' && value === '00:00' ? '24:00' : value };
  if (value === '' || next.from >= next.to) return;
  put(
    day,
    props.hours[day]!.map((each, at) => (at === index ? next : each)),
  );
}
function add(day: number) {
  const last = props.hours[day]!.at(-1);
  const from = last
    ? last.to < '22:00'
      ? `${String(Number(last.to.slice(0, 2)) + 1).padStart(2, '0')}:00`
      : null
    : '09:00';
  if (from) put(day, [...props.hours[day]!, { from, to: from < '17:00' ? '17:00' : '23:00' }]);
}
</script>

<template>
  <table class="text-sm">
    <tbody>
      <tr v-for="(stretches, day) in hours" :key="day">
        <th class="w-24 py-0.5 text-left font-normal text-ink-2" scope="row">{{ DAYS[day] }}</th>
        <td class="flex flex-wrap items-center gap-2 py-0.5">
          <span v-if="stretches.length === 0" class="text-ink-3">closed</span>
          <span v-for="(stretch, index) in stretches" :key="index" class="flex items-center gap-1">
            <TimePicker
              class="py-0"
              :label="`${DAYS[day]} from`"
              :model-value="stretch.from"
              @change="setTime(day, index, 'from', $event)"
            />–<TimePicker
              class="py-0"
              :label="`${DAYS[day]} to`"
              :model-value="stretch.to === '24:00' ? '00:00' : stretch.to"
              @change="setTime(day, index, 'to', $event)"
            />
            <button
              class="rounded p-0.5 text-ink-3 hover:text-rose"
              :aria-label="`Remove ${stretch.from} to ${stretch.to} on ${DAYS[day]}`"
              @click="
                put(
                  day,
                  stretches.filter((_, at) => at !== index),
                )
              "
            >
              <X :size="13" />
            </button>
          </span>
          <button class="rounded p-0.5 text-sea" :aria-label="`Open on ${DAYS[day]}`" @click="add(day)">
            <Plus :size="13" />
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>
