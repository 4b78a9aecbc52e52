<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { DateTime } from 'luxon';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import { dayAndTime } from '../../lib/times.ts';
import { useSession } from '../../stores/session.ts';
import DatePicker from '../form/DatePicker.vue';
import TimePicker from '../form/TimePicker.vue';

// A schedule as a source: the usual ones by choosing, any other as a recurrence rule (RFC 5545).
const emit = defineEmits<{ made: [id: number] }>();
const session = useSession();
const DAYS = [
  ['MO', 'Mon'],
  ['TU', 'Tue'],
  ['WE', 'Wed'],
  ['TH', 'Thu'],
  ['FR', 'Fri'],
  ['SA', 'Sat'],
  ['SU', 'Sun'],
] as const;
const how = ref<'DAILY' | 'WEEKLY' | 'MONTHLY' | 'rule'>('WEEKLY');
const days = ref<string[]>(['MO']);
const time = ref('09:00');
const own = ref('FREQ=MONTHLY;BYDAY=1MO');
const today = DateTime.now().setZone(session.zone);
const start = ref(today.toISODate() ?? '');
const next = ref<number[]>([]);
const { busy, trouble: wrong, attempt } = useAttempt();

const rule = computed(() => {
  if (how.value === 'rule') return own.value.trim();
  if (how.value === 'WEEKLY')
    return `FREQ=WEEKLY;BYDAY=${
      DAYS.map(([code]) => code)
        .filter((code) => days.value.includes(code))
        .join(',') || 'MO'
    }`;
  return `FREQ=${how.value}`;
});
const body = computed(() => ({ rule: rule.value, start: `${start.value}T${time.value}` }));
const name = computed(() => {
  const at = `at ${time.value}`;
  if (how.value === 'DAILY') return `Every day ${at}`;
  if (how.value === 'WEEKLY')
    return `${DAYS.filter(([code]) => days.value.includes(code))
      .map(([, label]) => label)
      .join(', ')} ${at}`;
  if (how.value === 'MONTHLY') return `Monthly on the ${Number(start.value.slice(8))}. ${at}`;
  return `${rule.value} ${at}`.slice(0, 120);
});
let timer: ReturnType<typeof setTimeout> | undefined;
watch(
  body,
  (asked) => {
    clearTimeout(timer);
    timer = setTimeout(async () => {
      try {
        const answer = await call('previewSchedule', { brand: session.brandId }, { body: asked });
        next.value = answer.next;
        wrong.value = answer.next.length ? '' : 'This never happens again.';
      } catch (error) {
        next.value = [];
        wrong.value = (error as Error).message;
      }
    }, 250);
  },
  { immediate: true },
);
async function make() {
  await attempt(async () => {
    const { id } = await call(
      'makeSchedule',
      { brand: session.brandId },
      {
        body: {
          name: name.value,
          ...body.value,
        },
      },
    );
    emit('made', id);
  });
}
</script>

<template>
  <div class="grid gap-2">
    <div class="flex flex-wrap items-center gap-2">
      <select v-model="how" class="field" aria-label="How often" data-bench-first>
        <option value="DAILY">every day</option>
        <option value="WEEKLY">every week on</option>
        <option value="MONTHLY">every month on the day of</option>
        <option value="rule">by a recurrence rule</option>
      </select>
      <template v-if="how === 'WEEKLY'">
        <label v-for="[code, label] in DAYS" :key="code" class="flex items-center gap-1"
          ><input v-model="days" type="checkbox" :value="code" class="accent-(--sea)" />{{ label }}</label
        >
      </template>
      <input
        v-if="how === 'rule'"
        v-model="own"
        class="field min-w-56 flex-1 font-mono text-sm"
        aria-label="Recurrence rule"
      />
    </div>
    <div class="flex flex-wrap items-center gap-2 text-ink-2">
      at <TimePicker v-model="time" label="Time of day" /> from <DatePicker v-model="start" label="First day" /> in
      {{ session.zone }}
    </div>
    <p v-if="wrong" role="alert" class="text-sm text-rose">{{ wrong }}</p>
    <p v-else-if="next.length" class="text-sm text-ink-2">
      Next: {{ next.map((at) => dayAndTime(at, session.zone)).join(' · ') }}
    </p>
    <div>
      <button class="btn btn-main" :disabled="busy || !!wrong || !next.length" @click="make">Use this schedule</button>
    </div>
  </div>
</template>
