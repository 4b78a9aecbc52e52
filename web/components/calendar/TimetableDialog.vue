<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import { computed, ref } from 'vue';
import { timetableSchema, type Timetable } from '@playa/core/timetable/timetable.ts';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import type { CalendarOutlet } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import DatePicker from '../form/DatePicker.vue';
import ModalDialog from '../form/ModalDialog.vue';
import TimePicker from '../form/TimePicker.vue';

// When an outlet publishes: weekly times, pauses, how much a day; taken over by other outlets where that is wanted.
const props = defineProps<{ outlet: CalendarOutlet; outlets: readonly CalendarOutlet[] }>();
const emit = defineEmits<{ close: []; kept: [] }>();
const session = useSession();
const notices = useNotices();
const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const draft = ref<Timetable>(JSON.parse(JSON.stringify(props.outlet.timetable)) as Timetable);
const changed = computed(() => JSON.stringify(draft.value) !== JSON.stringify(props.outlet.timetable));
const adding = ref<string[]>(DAYS.map(() => '09:00'));
const also = ref<number[]>([]);
const { busy, trouble: wrong, attempt } = useAttempt();
const others = computed(() => props.outlets.filter((each) => each.id !== props.outlet.id));

function add(day: number) {
  const time = adding.value[day]!;
  if (!time || draft.value.times[day]!.includes(time)) return;
  draft.value.times[day] = [...draft.value.times[day]!, time].sort();
}
const remove = (day: number, time: string) =>
  (draft.value.times[day] = draft.value.times[day]!.filter((each) => each !== time));
/** The times of one day on all others that follow it in the week, weekends left as they are. */
const copyToWeekdays = () => {
  for (const day of [1, 2, 3, 4]) draft.value.times[day] = [...draft.value.times[0]!];
};
const copyToAll = () => {
  for (let day = 1; day < 7; day++) draft.value.times[day] = [...draft.value.times[0]!];
};
const addPause = () => {
  const today = new Date().toISOString().slice(0, 10);
  draft.value.pauses.push({ from: today, to: today, name: '' });
};
async function keep() {
  const read = timetableSchema.safeParse(draft.value);
  if (!read.success) return void (wrong.value = read.error.issues[0]?.message ?? 'Something is missing.');
  await attempt(async () => {
    for (const outlet of [props.outlet, ...others.value.filter((each) => also.value.includes(each.id))])
      await call(
        'keepTimetable',
        { brand: session.brandId, id: outlet.id },
        {
          body: {
            timetable: read.data,
            revision: outlet.revision,
          },
        },
      );
    notices.say(
      also.value.length
        ? `${also.value.length + 1} timetables are kept.`
        : `The timetable of ${props.outlet.name} is kept.`,
    );
    emit('kept');
  });
}
</script>

<template>
  <ModalDialog
    :title="`When ${outlet.name} publishes`"
    width="large"
    :busy="busy"
    :unsaved="changed"
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
          <button class="link text-sm" @click="copyToWeekdays">the same until Friday</button>
          <button class="link text-sm" @click="copyToAll">the same every day</button>
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
          @change="draft.gap = Math.max(0, Math.round(Number(($event.target as HTMLInputElement).value) * 60))"
        />
        min between two posts, at most
        <input
          class="field w-20"
          type="number"
          min="1"
          placeholder="any"
          aria-label="Most posts a day"
          :value="draft.mostPerDay ?? ''"
          @change="draft.mostPerDay = Number(($event.target as HTMLInputElement).value) || null"
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
          @change="draft.sameWords = Math.max(0, Math.round(Number(($event.target as HTMLInputElement).value) * 3600))"
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
          @change="draft.late.after = Math.max(60, Math.round(Number(($event.target as HTMLInputElement).value) * 60))"
        />
        min late, since it could not be sent,
        <select v-model="draft.late.then" class="field" aria-label="What becomes of what is late">
          <option value="free">takes the next free time</option>
          <option value="send">goes out all the same</option>
          <option value="hold">waits for a yes</option>
        </select></label
      >
    </fieldset>
    <div class="mt-4 border-t border-line pt-3">
      <div v-for="(pause, index) in draft.pauses" :key="index" class="mb-1 flex flex-wrap items-center gap-2">
        Pause from <DatePicker v-model="pause.from" label="First day of the pause" /> to
        <DatePicker v-model="pause.to" label="Last day of the pause" />
        <input
          v-model="pause.name"
          class="field w-36"
          maxlength="80"
          placeholder="what for"
          aria-label="What the pause is for"
        />
        <button
          class="text-ink-3 hover:text-rose"
          aria-label="Take this pause away"
          @click="draft.pauses.splice(index, 1)"
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
    <p v-if="wrong" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose" role="alert">{{ wrong }}</p>
    <template #actions>
      <button class="btn" @click="emit('close')">Cancel</button>
      <button class="btn btn-main" :disabled="busy" @click="keep">Keep the timetable</button>
    </template>
  </ModalDialog>
</template>
