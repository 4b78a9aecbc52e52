<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import { computed, ref } from 'vue';
import type { z } from 'zod';
import { timetableSchema, type Timetable } from '@playa/core/timetable/timetable.ts';
import { call, Refused } from '../../lib/api.ts';
import { today } from '../../lib/date-values.ts';
import { useSendForm } from '../../lib/form.ts';
import type { CalendarOutlet } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ChangedMeanwhile from '../form/ChangedMeanwhile.vue';
import DatePicker from '../form/DatePicker.vue';
import ModalDialog from '../form/ModalDialog.vue';
import TimePicker from '../form/TimePicker.vue';

// When an outlet publishes: weekly times, pauses, how much a day; taken over by other outlets where that is wanted.
const props = defineProps<{ outlet: CalendarOutlet; outlets: readonly CalendarOutlet[] }>();
const emit = defineEmits<{ close: []; kept: [] }>();
const session = useSession();
const notices = useNotices();
const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const copyOf = <T,>(of: T): T => JSON.parse(JSON.stringify(of)) as T;
const adding = ref<string[]>(DAYS.map(() => '09:00'));
const also = ref<number[]>([]);
const others = computed(() => props.outlets.filter((each) => each.id !== props.outlet.id));
const chosen = computed(() => [props.outlet, ...others.value.filter((each) => also.value.includes(each.id))]);
/** What is known of each outlet's timetable on the server: a second try goes on where the first was refused. */
const revisions = new Map(props.outlets.concat(props.outlet).map(({ id, revision }) => [id, revision]));
const keptAs = new Map<number, string>();
/** Somebody has changed one of them meanwhile. */
const stale = ref<{ says: string; outlet: CalendarOutlet; timetable: Timetable; revision: number }>();
let at = props.outlet;

const form = useSendForm({
  schema: timetableSchema as unknown as z.ZodType<Timetable, Timetable>,
  values: copyOf(props.outlet.timetable) as Timetable,
  send: async (timetable) => {
    const said = JSON.stringify(timetable);
    for (at of chosen.value) {
      if (keptAs.get(at.id) === said) continue;
      const body = { timetable, revision: revisions.get(at.id)! };
      const { revision } = await call('keepTimetable', { brand: session.brandId, id: at.id }, { body });
      revisions.set(at.id, revision);
      keptAs.set(at.id, said);
    }
    notices.say(
      chosen.value.length > 1
        ? `${chosen.value.length} timetables are kept.`
        : `The timetable of ${props.outlet.name} is kept.`,
    );
    emit('kept');
  },
  known(error) {
    if (!(error instanceof Refused) || error.status !== 409 || !('timetable' in error.details)) return false;
    const { timetable, revision } = error.details as unknown as { timetable: Timetable; revision: number };
    stale.value = { says: `${at.name}: ${error.message}`, outlet: at, timetable, revision };
    return true;
  },
});
const { busy, trouble: wrong, values: draft } = form;
/** What of it is none yet, in a sentence; said once it was to be kept. */
const missing = form.problem;

/** What is there now is known; mine is kept over it, or theirs is shown. */
function go(on: 'mine' | 'theirs') {
  const { outlet, timetable, revision } = stale.value!;
  stale.value = undefined;
  revisions.set(outlet.id, revision);
  if (on === 'mine') return form.submit();
  if (outlet.id === props.outlet.id) form.reset(copyOf(timetable));
  // Another outlet keeps its own.
  else also.value = also.value.filter((id) => id !== outlet.id);
}
const setDay = (day: number, times: readonly string[]) =>
  form.set(
    'times',
    draft.value.times.map((each, index) => (index === day ? [...times] : each)),
  );
function add(day: number) {
  const time = adding.value[day]!;
  const times = draft.value.times[day]!;
  if (time && !times.includes(time)) setDay(day, [...times, time].sort());
}
const remove = (day: number, time: string) =>
  setDay(
    day,
    draft.value.times[day]!.filter((each) => each !== time),
  );
/** The times of Monday on the days that follow it, up to this one. */
const copyUntil = (last: number) =>
  form.set(
    'times',
    draft.value.times.map((each, day) => (day <= last ? [...draft.value.times[0]!] : each)),
  );
const setPause = (index: number, change: Partial<Timetable['pauses'][number]>) =>
  form.set(
    'pauses',
    draft.value.pauses.map((each, at) => (at === index ? { ...each, ...change } : each)),
  );
function addPause() {
  const day = today(session.zone, 'day').toString();
  form.set('pauses', [...draft.value.pauses, { from: day, to: day, name: '' }]);
}
const setLate = (change: Partial<Timetable['late']>) => form.set('late', { ...draft.value.late, ...change });
const numberOf = (event: Event) => Number((event.target as HTMLInputElement).value);
</script>

<template>
  <ModalDialog
    :title="`When ${outlet.name} publishes`"
    width="large"
    :busy="busy"
    :unsaved="form.changed.value"
    @close="emit('close')"
  >
    <p class="text-ink-2">
      Posts that go “at the next free time” take these, one each. Times are those of {{ session.zone }}, in summer and
      in winter.
    </p>
    <div class="mt-3 grid gap-1">
      <div v-for="(name, day) in DAYS" :key="name" class="flex flex-wrap items-center gap-1.5">
        <span class="w-24">{{ name }}</span>
        <span
          v-for="time in draft.times[day]"
          :key="time"
          class="inline-flex items-center gap-1 rounded-[5px] border border-line bg-paper px-1.5 py-0.5"
          >{{ time
          }}<button
            :aria-label="`Take ${time} away from ${name}`"
            class="text-ink-3 hover:text-rose"
            @click="remove(day, time)"
          >
            <X :size="12" /></button
        ></span>
        <TimePicker
          v-model="adding[day]!"
          class="py-0.5"
          :label="`Another time on ${name}`"
          @keydown.enter.prevent="add(day)"
        />
        <button class="btn btn-quiet px-1 py-0.5" :aria-label="`Add the time to ${name}`" @click="add(day)">
          <Plus :size="13" /> add
        </button>
        <template v-if="day === 0 && draft.times[0]!.length">
          <button class="link text-sm" @click="copyUntil(4)">the same until Friday</button>
          <button class="link text-sm" @click="copyUntil(6)">the same every day</button>
        </template>
      </div>
    </div>
    <fieldset class="mt-4 grid gap-2 border-t border-line pt-3">
      <legend class="sr-only">How much</legend>
      <label class="flex flex-wrap items-center gap-2"
        >At least
        <input
          class="field w-20"
          type="number"
          min="0"
          aria-label="Minutes between two posts"
          :value="draft.gap / 60"
          @change="form.set('gap', Math.max(0, Math.round(numberOf($event) * 60)))"
        />
        min between two posts, at most
        <input
          class="field w-20"
          type="number"
          min="1"
          placeholder="any"
          aria-label="Most posts a day"
          :value="draft.mostPerDay ?? ''"
          @change="form.set('mostPerDay', numberOf($event) || null)"
        />
        a day</label
      >
      <label class="flex flex-wrap items-center gap-2"
        >The same words of another workflow wait for a yes within
        <input
          class="field w-20"
          type="number"
          min="0"
          max="1440"
          aria-label="Hours within which the same words wait for a yes"
          :value="draft.sameWords / 3600"
          @change="form.set('sameWords', Math.max(0, Math.round(numberOf($event) * 3600)))"
        />
        h <span class="text-sm text-ink-3">0: they go out all the same</span></label
      >
      <label class="flex flex-wrap items-center gap-2"
        >What is more than
        <input
          class="field w-20"
          type="number"
          min="1"
          aria-label="Minutes after which something is late"
          :value="draft.late.after / 60"
          @change="setLate({ after: Math.max(60, Math.round(numberOf($event) * 60)) })"
        />
        min late, since it could not be sent,
        <select
          class="field"
          aria-label="What becomes of what is late"
          :value="draft.late.then"
          @change="setLate({ then: ($event.target as HTMLSelectElement).value as Timetable['late']['then'] })"
        >
          <option value="free">takes the next free time</option>
          <option value="send">goes out all the same</option>
          <option value="hold">waits for a yes</option>
        </select></label
      >
    </fieldset>
    <div class="mt-4 border-t border-line pt-3">
      <div v-for="(pause, index) in draft.pauses" :key="index" class="mb-1 flex flex-wrap items-center gap-2">
        Pause from
        <DatePicker
          :model-value="pause.from"
          label="First day of the pause"
          @update:model-value="setPause(index, { from: $event })"
        />
        to
        <DatePicker
          :model-value="pause.to"
          label="Last day of the pause"
          @update:model-value="setPause(index, { to: $event })"
        />
        <input
          :value="pause.name"
          class="field w-36"
          maxlength="80"
          placeholder="what for"
          aria-label="What the pause is for"
          @input="setPause(index, { name: ($event.target as HTMLInputElement).value })"
        />
        <button
          class="text-ink-3 hover:text-rose"
          aria-label="Take this pause away"
          @click="
            form.set(
              'pauses',
              draft.pauses.filter((_, at) => at !== index),
            )
          "
        >
          <X :size="14" />
        </button>
      </div>
      <button class="btn btn-quiet px-1" @click="addPause">
        <Plus :size="13" /> a pause: holidays, the end of a campaign
      </button>
    </div>
    <details v-if="others.length" class="mt-3 border-t border-line pt-3">
      <summary class="cursor-pointer text-ink-2">Keep the same for other outlets</summary>
      <div class="mt-2 grid gap-1 sm:grid-cols-2">
        <label v-for="each in others" :key="each.id" class="flex items-center gap-2"
          ><input v-model="also" type="checkbox" :value="each.id" class="accent-(--sea)" /> {{ each.name }}</label
        >
      </div>
    </details>
    <ChangedMeanwhile v-if="stale" :says="stale.says" :busy="busy" @theirs="go('theirs')" @mine="go('mine')" />
    <p v-if="wrong || missing" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose" role="alert">
      {{ wrong || missing }}
    </p>
    <template #actions>
      <button class="btn" @click="emit('close')">Cancel</button>
      <button class="btn btn-main" :disabled="busy" @click="form.submit()">Keep the timetable</button>
    </template>
  </ModalDialog>
</template>
