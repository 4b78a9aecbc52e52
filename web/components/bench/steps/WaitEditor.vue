<script setup lang="ts">
import type { WaitStep } from '@playa/core/steps/wait.ts';
import { OFFICE_HOURS } from '@playa/core/timetable/opening-hours.ts';
import { useEditor } from '../../../stores/editor.ts';
import FieldSelect from '../../form/FieldSelect.vue';
import FormRow from '../../form/FormRow.vue';
import HoursEditor from '../../form/HoursEditor.vue';
import LengthInput from '../../form/LengthInput.vue';

const props = defineProps<{ step: WaitStep }>();
const editor = useEditor();
const change = (until: WaitStep['until'], merge = '') =>
  editor.changeStep<WaitStep>(props.step.id, (step) => (step.until = until), merge);
function setType(type: string) {
  if (type === 'duration') change({ type, seconds: 3600 });
  else if (type === 'hours') change({ type, hours: structuredClone(OFFICE_HOURS) });
  else change({ type: 'field', field: editor.usable.find((field) => field.type === 'moment')?.path ?? '', offset: 0 });
}
const until = () => props.step.until;
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="Wait">
      <select
        class="field"
        aria-label="What is waited for"
        data-bench-first
        :value="step.until.type"
        @change="setType(($event.target as HTMLSelectElement).value)"
      >
        <option value="duration">for a while</option>
        <option value="field">until a moment the item says</option>
        <option value="hours">for the opening hours</option>
      </select>
      <LengthInput
        v-if="step.until.type === 'duration'"
        :seconds="step.until.seconds"
        label="How long"
        @change="change({ type: 'duration', seconds: Math.round($event) }, 'length')"
      />
    </FormRow>
    <FormRow v-if="step.until.type === 'field'" label="Moment" hint="A moment that is over is not waited for.">
      <FieldSelect
        :field="step.until.field"
        label="The field that says when"
        :types="['moment', 'date', 'text']"
        @change="change({ type: 'field', field: $event, offset: (until() as { offset: number }).offset })"
      />
      <LengthInput
        :seconds="Math.abs(step.until.offset)"
        label="How long before or after"
        @change="
          change(
            {
              ...(until() as Extract<WaitStep['until'], { type: 'field' }>),
              offset: Math.round($event) * ((until() as { offset: number }).offset < 0 ? -1 : 1),
            },
            'offset',
          )
        "
      />
      <select
        class="field"
        aria-label="Before or after"
        :value="step.until.offset < 0 ? 'before' : 'after'"
        @change="
          change({
            ...(until() as Extract<WaitStep['until'], { type: 'field' }>),
            offset:
              Math.abs((until() as { offset: number }).offset || 3600) *
              (($event.target as HTMLSelectElement).value === 'before' ? -1 : 1),
          })
        "
      >
        <option value="after">after it</option>
        <option value="before">before it</option>
      </select>
    </FormRow>
    <HoursEditor
      v-if="step.until.type === 'hours'"
      :hours="step.until.hours"
      @change="(hours, merge) => change({ type: 'hours', hours }, merge)"
    />
  </div>
</template>
