<script setup lang="ts">
import type { PublishStep } from '@playa/core/steps/publish.ts';
import type { PublishWhen } from '@playa/core/steps/publish-when.ts';
import { hasTimes } from '@playa/core/timetable/timetable.ts';
import { computed } from 'vue';
import { useEditor } from '../../../stores/editor.ts';
import { useSession } from '../../../stores/session.ts';
import FieldSelect from '../../form/FieldSelect.vue';
import DatePicker from '../../form/DatePicker.vue';

// When a Publish sends: at once, at a free time of the timetable, or at a moment; and how far apart its outlets are.
const props = defineProps<{ step: PublishStep }>();
const editor = useEditor();
const session = useSession();
const change = (what: (step: PublishStep) => void, merge = '') =>
  editor.changeStep<PublishStep>(props.step.id, what, merge);
function choose(event: Event) {
  const type = (event.target as HTMLSelectElement).value as PublishWhen['type'] | 'now';
  change((step) => {
    if (type === 'now') delete step.when;
    else if (type === 'moment') step.when = { type, at: '' };
    else if (type === 'field')
      step.when = { type, field: editor.usable.find((field) => field.type === 'moment')?.path ?? '' };
    else step.when = { type };
  });
}
const without = computed(() =>
  props.step.when?.type === 'free' || props.step.when?.type === 'front'
    ? props.step.outlets.flatMap((id) => {
        const outlet = editor.world.outlets.get(id);
        return outlet && !(outlet.timetable && hasTimes(outlet.timetable)) ? [outlet.name] : [];
      })
    : [],
);
const setApart = (event: Event) => {
  const minutes = Number((event.target as HTMLInputElement).value);
  change((step) => {
    if (minutes > 0) step.apart = Math.round(minutes * 60);
    else delete step.apart;
  });
};
</script>

<template>
  <div class="flex flex-wrap items-center gap-2">
    <span class="w-20 text-ink-2">When</span>
    <select class="field" aria-label="When it goes out" :value="step.when?.type ?? 'now'" @change="choose">
      <option value="now">at once</option>
      <option value="free">at the next free time</option>
      <option value="front">before all that waits for a time</option>
      <option value="moment">at a moment</option>
      <option value="field">at the moment a field gives</option>
    </select>
    <DatePicker
      v-if="step.when?.type === 'moment'"
      :model-value="step.when.at"
      granularity="minute"
      label="The moment"
      @change="change((each) => (each.when = { type: 'moment', at: $event }))"
    />
    <FieldSelect
      v-if="step.when?.type === 'field'"
      :field="step.when.field"
      label="The field that gives the moment"
      :types="['moment', 'date', 'text']"
      @change="change((each) => (each.when = { type: 'field', field: $event }))"
    />
    <label v-if="step.outlets.length > 1" class="flex items-center gap-1.5 text-ink-2">
      outlets
      <input
        class="field w-16"
        type="number"
        min="0"
        placeholder="0"
        aria-label="Minutes between two outlets"
        :value="step.apart ? step.apart / 60 : ''"
        @change="setApart"
      />
      min apart
    </label>
    <p v-if="without.length" class="w-full text-sm text-amber">
      {{ without.join(', ') }} {{ without.length === 1 ? 'has' : 'have' }} no timetable: there it goes at once.
      <RouterLink class="link" :to="{ name: 'calendar', params: { brand: session.brandId } }"
        >Make one in the calendar</RouterLink
      >
    </p>
  </div>
</template>
