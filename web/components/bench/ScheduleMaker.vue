<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { z } from 'zod';
import { DateTime } from 'luxon';
import { call } from '../../lib/api.ts';
import { useSendForm } from '../../lib/form.ts';
import { dayAndTime } from '../../lib/times.ts';
import { useSession } from '../../stores/session.ts';
import FormField from '../form/FormField.vue';
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
const today = DateTime.now().setZone(session.zone);
const form = useSendForm({
  schema: z
    .object({
      how: z.enum(['DAILY', 'WEEKLY', 'MONTHLY', 'rule']),
      days: z.array(z.string()),
      time: z.string().min(1, 'Say at which time of day.'),
      start: z.string().min(1, 'Say from which day on.'),
      own: z.string().trim(),
    })
    .refine(({ how, days }) => how !== 'WEEKLY' || days.length > 0, {
      path: ['days'],
      message: 'Choose a day of the week.',
    })
    .refine(({ how, own }) => how !== 'rule' || own !== '', { path: ['own'], message: 'Write the rule.' }),
  values: {
    how: 'WEEKLY' as 'DAILY' | 'WEEKLY' | 'MONTHLY' | 'rule',
    days: ['MO'] as string[],
    time: '09:00',
    start: today.toISODate() ?? '',
    own: 'FREQ=MONTHLY;BYDAY=1MO',
  },
  send: async () => {
    const made = { name: name.value, ...body.value! };
    emit('made', (await call('makeSchedule', { brand: session.brandId }, { body: made })).id);
  },
});
const { busy, trouble, values } = form;
const next = ref<number[]>([]);
/** Why it never happens, or is no rule. */
const wrong = ref('');

/** In the order of the week, whatever order they were ticked in. */
const chosen = computed(() => DAYS.filter(([code]) => values.value.days.includes(code)));
const rule = computed(() => {
  const { how, own } = values.value;
  if (how === 'rule') return own.trim();
  return how === 'WEEKLY' ? `FREQ=WEEKLY;BYDAY=${chosen.value.map(([code]) => code).join(',')}` : `FREQ=${how}`;
});
/** What is asked for; null while something is missing. */
const body = computed(() => {
  const { how, time, start } = values.value;
  if (!time || !start || rule.value === '' || (how === 'WEEKLY' && chosen.value.length === 0)) return null;
  return { rule: rule.value, start: `${start}T${time}` };
});
const name = computed(() => {
  const { how, time, start } = values.value;
  const at = `at ${time}`;
  if (how === 'DAILY') return `Every day ${at}`;
  if (how === 'WEEKLY') return `${chosen.value.map(([, label]) => label).join(', ')} ${at}`;
  if (how === 'MONTHLY') return `Monthly on the ${Number(start.slice(8))}. ${at}`;
  return `${rule.value} ${at}`.slice(0, 120);
});
const toggle = (code: string) => {
  const { days } = values.value;
  form.set('days', days.includes(code) ? days.filter((each) => each !== code) : [...days, code]);
};
let asked = 0;
const look = useDebounceFn(async () => {
  const turn = ++asked;
  const of = body.value;
  next.value = [];
  wrong.value = '';
  if (!of) return;
  try {
    const answer = await call('previewSchedule', { brand: session.brandId }, { body: of });
    // What was chosen meanwhile is looked at by itself.
    if (turn !== asked) return;
    next.value = answer.next;
    wrong.value = answer.next.length ? '' : 'This never happens again.';
  } catch (error) {
    if (turn === asked) wrong.value = (error as Error).message;
  }
}, 250);
watch(body, look, { immediate: true });
</script>

<template>
  <form class="grid gap-2" novalidate @submit.prevent="form.submit()">
    <div class="flex flex-wrap items-start gap-x-4 gap-y-2">
      <FormField v-slot="{ bind, change }" :form="form" name="how" label="How often">
        <select
          v-bind="bind"
          class="field justify-self-start"
          :value="values.how"
          data-bench-first
          @change="change(($event.target as HTMLSelectElement).value)"
        >
          <option value="DAILY">every day</option>
          <option value="WEEKLY">every week on</option>
          <option value="MONTHLY">every month on the day of</option>
          <option value="rule">by a recurrence rule</option>
        </select>
      </FormField>
      <FormField v-slot="{ value, change }" :form="form" name="time" label="At" group>
        <TimePicker :model-value="String(value)" label="Time of day" @update:model-value="change" />
      </FormField>
      <FormField v-slot="{ value, change }" :form="form" name="start" label="From" group>
        <DatePicker :model-value="String(value)" label="First day" @update:model-value="change" />
      </FormField>
    </div>
    <FormField v-if="values.how === 'WEEKLY'" v-slot="{ bind }" :form="form" name="days" label="Days of the week" group>
      <div :id="bind.id" class="flex flex-wrap gap-2" role="group" aria-label="Days of the week">
        <label v-for="[code, label] in DAYS" :key="code" class="flex items-center gap-1"
          ><input
            type="checkbox"
            class="accent-(--sea)"
            :checked="values.days.includes(code)"
            @change="toggle(code)"
          />{{ label }}</label
        >
      </div>
    </FormField>
    <FormField v-if="values.how === 'rule'" :form="form" name="own" label="Recurrence rule" />
    <p class="text-sm text-ink-3">By the clock of {{ session.zone }}.</p>
    <p v-if="trouble || wrong" role="alert" class="text-sm text-rose">{{ trouble || wrong }}</p>
    <p v-else-if="next.length" class="text-sm text-ink-2">
      Next: {{ next.map((at) => dayAndTime(at, session.zone)).join(' · ') }}
    </p>
    <div>
      <button class="btn btn-main" :disabled="busy || wrong !== ''">Use this schedule</button>
    </div>
  </form>
</template>
