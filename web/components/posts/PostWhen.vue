<script setup lang="ts">
import { computed } from 'vue';
import type { PublishStep } from '@playa/core/steps/publish.ts';
import type { PublishWhen } from '@playa/core/steps/publish-when.ts';
import { hasTimes } from '@playa/core/timetable/timetable.ts';
import { useEditor } from '../../stores/editor.ts';
import ChooseOne from '../form/ChooseOne.vue';
import DatePicker from '../form/DatePicker.vue';

// When a post goes: at a moment, at the next free time of each outlet, or at once; single outlets at another moment.
const props = defineProps<{ step: PublishStep }>();
const editor = useEditor();
const change = (what: (step: PublishStep) => void, merge = '') =>
  editor.changeStep<PublishStep>(props.step.id, what, merge);
const type = computed(() => props.step.when?.type ?? 'now');
function choose(event: Event) {
  const chosen = (event.target as HTMLSelectElement).value as 'moment' | 'free' | 'front' | 'now';
  change((step) => {
    if (chosen === 'now') delete step.when;
    else if (chosen === 'moment') step.when = { type: 'moment', at: '' };
    else step.when = { type: chosen } as PublishWhen;
  });
}
const moment = computed(() => (props.step.when?.type === 'moment' ? props.step.when : null));
const setAt = (at: string) =>
  change((step) => {
    if (step.when?.type === 'moment') step.when.at = at;
  }, 'at');
const nameOf = (outlet: number) => editor.world.outlets.get(outlet)?.name ?? 'an outlet that is gone';
const own = computed(() => (moment.value?.own ?? []).filter(({ outlet }) => props.step.outlets.includes(outlet)));
const others = computed(() => props.step.outlets.filter((id) => !own.value.some(({ outlet }) => outlet === id)));
const setOwn = (outlet: number, at: string | null) =>
  change((step) => {
    if (step.when?.type !== 'moment') return;
    const rest = (step.when.own ?? []).filter((each) => each.outlet !== outlet);
    const next = at === null ? rest : [...rest, { outlet, at }];
    if (next.length > 0) step.when.own = next;
    else delete step.when.own;
  }, `own ${outlet}`);
const without = computed(() =>
  type.value === 'free' || type.value === 'front'
    ? props.step.outlets.flatMap((id) => {
        const outlet = editor.world.outlets.get(id);
        return outlet && !(outlet.timetable && hasTimes(outlet.timetable)) ? [outlet.name] : [];
      })
    : [],
);
</script>

<template>
  <div class="grid gap-1.5">
    <div class="flex flex-wrap items-center gap-2">
      <select class="field" aria-label="When it goes out" :value="type" @change="choose">
        <option value="moment">at a moment</option>
        <option value="free">at the next free time of each outlet</option>
        <option value="front">before all that waits for a free time</option>
        <option value="now">at once, when it is ready</option>
      </select>
      <DatePicker
        v-if="moment"
        :model-value="moment.at"
        granularity="minute"
        label="The moment it goes out"
        @update:model-value="setAt"
      />
    </div>
    <p v-for="each in own" :key="each.outlet" class="flex flex-wrap items-center gap-2 text-ink-2">
      {{ nameOf(each.outlet) }}
      <DatePicker
        :model-value="each.at"
        granularity="minute"
        :label="`The moment on ${nameOf(each.outlet)}`"
        @update:model-value="setOwn(each.outlet, $event)"
      />
      <button type="button" class="link" @click="setOwn(each.outlet, null)">with the others</button>
    </p>
    <span
      v-if="moment && moment.at && step.outlets.length > 1 && others.length > 0"
      class="flex flex-wrap items-center gap-1.5 text-sm text-ink-3"
    >
      another moment on
      <ChooseOne
        label="An outlet that has another moment"
        value=""
        :options="others.map((id) => ({ value: id, name: nameOf(id) }))"
        @change="setOwn(Number($event), moment.at)"
      />
    </span>
    <p v-if="without.length" class="text-sm text-amber">
      {{ without.join(', ') }} {{ without.length === 1 ? 'has' : 'have' }} no timetable: there it goes at once.
    </p>
  </div>
</template>
