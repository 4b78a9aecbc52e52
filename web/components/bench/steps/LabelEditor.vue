<script setup lang="ts">
import type { LabelStep } from '@playa/core/steps/label.ts';
import { useEditor } from '../../../stores/editor.ts';
import FieldSelect from '../../form/FieldSelect.vue';
import FormRow from '../../form/FormRow.vue';
import KeptInput from '../../form/KeptInput.vue';

const props = defineProps<{ step: LabelStep }>();
const editor = useEditor();
const change = (what: (step: LabelStep) => void) => editor.changeStep<LabelStep>(props.step.id, what);
const list = (text: string) => [
  ...new Set(
    text
      .split(',')
      .map((part) => part.trim().slice(0, 60))
      .filter(Boolean),
  ),
];
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="Person" hint="The field that tells one person from another.">
      <FieldSelect :field="step.person" label="Who it is" first @change="change((each) => (each.person = $event))" />
    </FormRow>
    <FormRow label="Named by">
      <FieldSelect
        :field="step.name"
        label="Their name"
        none="the same field"
        @change="change((each) => (each.name = $event))"
      />
    </FormRow>
    <FormRow label="Add" hint="Several labels with commas between.">
      <KeptInput
        class="field min-w-0 flex-1"
        aria-label="Labels to add"
        :value="step.add.join(', ')"
        @change="change((each) => (each.add = list(($event.target as HTMLInputElement).value)))"
      />
    </FormRow>
    <FormRow label="Take away">
      <KeptInput
        class="field min-w-0 flex-1"
        aria-label="Labels to take away"
        :value="step.remove.join(', ')"
        @change="change((each) => (each.remove = list(($event.target as HTMLInputElement).value)))"
      />
    </FormRow>
  </div>
</template>
