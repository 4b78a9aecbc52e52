<script setup lang="ts">
import { computed } from 'vue';
import type { Closing } from '@playa/core/model/asks.ts';
import type { GatherStep } from '@playa/core/steps/gather.ts';
import { stepsBefore } from '@playa/core/workflow/tree.ts';
import { useEditor } from '../../../stores/editor.ts';
import { fieldsMadeBefore } from '../../../lib/fields-before.ts';
import ChooseOne from '../../form/ChooseOne.vue';
import FieldSelect from '../../form/FieldSelect.vue';
import FormRow from '../../form/FormRow.vue';
import LengthInput from '../../form/LengthInput.vue';
import KeptInput from '../../form/KeptInput.vue';
import TimePicker from '../../form/TimePicker.vue';

const props = defineProps<{ step: GatherStep }>();
const editor = useEditor();
const change = (what: (step: GatherStep) => void, merge = '') =>
  editor.changeStep<GatherStep>(props.step.id, what, merge);
const loops = computed(() =>
  stepsBefore(editor.definition, props.step.id).flatMap((step) => (step.verb === 'foreach' ? [step] : [])),
);
/** What is known inside the For each that is gathered from. */
const inside = computed(() => {
  const { from } = props.step;
  const loop = from.type === 'each' ? loops.value.find((each) => each.id === from.step) : undefined;
  const last = loop?.steps.at(-1);
  if (!loop) return [];
  const made = last ? fieldsMadeBefore(editor.definition, last.id, editor.items, editor.world) : [];
  const own = loop.steps.flatMap((step) =>
    step.verb === 'compose' || step.verb === 'draft' ? [{ path: step.name, label: step.name }] : [],
  );
  return [...own, ...made].filter((each, index, all) => all.findIndex((other) => other.path === each.path) === index);
});
function setFrom(value: string) {
  change((step) => {
    step.from =
      value === 'runs'
        ? { type: 'runs', group: null, closing: { at: '18:00', count: null, silence: null } }
        : { type: 'each', step: value };
  });
}
const closing = computed(() => (props.step.from.type === 'runs' ? props.step.from.closing : null));
function setClosing(what: (closing: Closing) => void) {
  change((step) => step.from.type === 'runs' && what(step.from.closing));
}
const between = [
  { value: '\n', label: 'a new line' },
  { value: '\n\n', label: 'an empty line' },
  { value: ', ', label: 'a comma' },
  { value: ' ', label: 'a space' },
];
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="From">
      <select
        class="field max-w-72"
        aria-label="Gathered from"
        data-bench-first
        :value="step.from.type === 'runs' ? 'runs' : step.from.step"
        @change="setFrom(($event.target as HTMLSelectElement).value)"
      >
        <option v-for="loop in loops" :key="loop.id" :value="loop.id">
          step {{ editor.numberOf(loop.id) }}, for each {{ loop.as }}
        </option>
        <option value="runs">many items, over time</option>
        <option
          v-if="step.from.type === 'each' && !loops.some((l) => l.id === (step.from as { step: string }).step)"
          :value="step.from.step"
        >
          choose
        </option>
      </select>
    </FormRow>
    <FormRow label="Takes">
      <ChooseOne
        v-if="step.from.type === 'each'"
        label="What is taken of each"
        prompt="choose"
        :options="inside.map(({ path, label }) => ({ value: path, name: label }))"
        :value="step.take"
        @change="change((each) => (each.take = $event))"
      />
      <FieldSelect
        v-else
        :field="step.take"
        label="What is taken of each"
        @change="change((each) => (each.take = $event))"
      />
      <span class="text-ink-3">of each, with</span>
      <select
        class="field"
        aria-label="What stands between two"
        :value="step.between"
        @change="change((each) => (each.between = ($event.target as HTMLSelectElement).value))"
      >
        <option v-for="each in between" :key="each.label" :value="each.value">{{ each.label }}</option>
        <option v-if="!between.some((each) => each.value === step.between)" :value="step.between">
          “{{ step.between }}”
        </option>
      </select>
      <span class="text-ink-3">between</span>
    </FormRow>
    <template v-if="closing">
      <FormRow label="Complete" hint="Whichever comes first.">
        <label class="flex items-center gap-1"
          ><input
            type="checkbox"
            class="accent-(--sea)"
            :checked="closing.at !== null"
            @change="setClosing((each) => (each.at = closing!.at === null ? '18:00' : null))"
          />at</label
        >
        <TimePicker
          v-if="closing.at !== null"
          class="py-0"
          label="Time of day"
          :model-value="closing.at"
          @change="setClosing((each) => (each.at = $event || '18:00'))"
        />
        <label class="ml-2 flex items-center gap-1"
          ><input
            type="checkbox"
            class="accent-(--sea)"
            :checked="closing.count !== null"
            @change="setClosing((each) => (each.count = closing!.count === null ? 5 : null))"
          />after</label
        >
        <KeptInput
          v-if="closing.count !== null"
          type="number"
          min="1"
          max="500"
          class="field w-16 py-0"
          aria-label="After so many"
          :value="closing.count"
          @change="
            setClosing(
              (each) =>
                (each.count = Math.min(500, Math.max(1, Number(($event.target as HTMLInputElement).value) || 1))),
            )
          "
        /><span v-if="closing.count !== null" class="text-ink-3">items</span>
        <label class="ml-2 flex items-center gap-1"
          ><input
            type="checkbox"
            class="accent-(--sea)"
            :checked="closing.silence !== null"
            @change="setClosing((each) => (each.silence = closing!.silence === null ? 3600 : null))"
          />after silence</label
        >
        <LengthInput
          v-if="closing.silence !== null"
          :seconds="closing.silence"
          label="Length of the silence"
          @change="setClosing((each) => (each.silence = Math.max(1, Math.round($event))))"
        />
      </FormRow>
      <FormRow label="One for every" hint="Items with the same value are gathered together.">
        <FieldSelect
          :field="(step.from.type === 'runs' && step.from.group) || ''"
          label="One for every"
          none="all items together"
          @change="change((each) => each.from.type === 'runs' && (each.from.group = $event || null))"
        />
      </FormRow>
      <FormRow label="Goes on with" hint="Its answer, its picture and its link are this one’s.">
        <select
          class="field"
          aria-label="Which item goes on with the whole"
          :value="(step.from.type === 'runs' && step.from.goesOn) || 'first'"
          @change="
            change(
              (each) =>
                each.from.type === 'runs' &&
                (each.from.goesOn = ($event.target as HTMLSelectElement).value as 'first' | 'last'),
            )
          "
        >
          <option value="first">the first that came</option>
          <option value="last">the last that came: one answer to all that somebody wrote</option>
        </select>
      </FormRow>
    </template>
    <FormRow label="Order">
      <FieldSelect
        :field="step.order?.by ?? ''"
        label="Ordered by"
        none="as they came"
        @change="
          change((each) => (each.order = $event ? { by: $event, direction: each.order?.direction ?? 'up' } : null))
        "
      />
      <select
        v-if="step.order"
        class="field"
        aria-label="Direction"
        :value="step.order.direction"
        @change="
          change((each) => (each.order!.direction = ($event.target as HTMLSelectElement).value as 'up' | 'down'))
        "
      >
        <option value="up">smallest first</option>
        <option value="down">largest first</option>
      </select>
      <span class="text-ink-3">at most</span>
      <KeptInput
        type="number"
        min="1"
        max="500"
        class="field w-16"
        placeholder="all"
        aria-label="At most so many"
        :value="step.most ?? ''"
        @change="change((each) => (each.most = Number(($event.target as HTMLInputElement).value) || null))"
      />
    </FormRow>
    <FormRow label="Nothing there">
      <select
        class="field"
        aria-label="When there is nothing to gather"
        :value="step.whenEmpty"
        @change="change((each) => (each.whenEmpty = ($event.target as HTMLSelectElement).value as 'stop' | 'on'))"
      >
        <option value="stop">stop</option>
        <option value="on">go on with an empty text</option>
      </select>
      <span class="ml-3 text-ink-2">called</span>
      <KeptInput
        class="field w-28"
        aria-label="What the whole is called"
        :value="step.as"
        pattern="\p{L}[\p{L}\p{N}_\-]*"
        @change="
          /^\p{L}[\p{L}\p{N}_-]{0,39}$/u.test(($event.target as HTMLInputElement).value)
            ? change((each) => (each.as = ($event.target as HTMLInputElement).value))
            : (($event.target as HTMLInputElement).value = step.as)
        "
      />
    </FormRow>
  </div>
</template>
