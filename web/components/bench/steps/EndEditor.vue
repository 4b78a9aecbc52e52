<script setup lang="ts">
import type { EndStep } from '@playa/core/steps/end.ts';
import { useEditor } from '../../../stores/editor.ts';
import FormRow from '../../form/FormRow.vue';

const props = defineProps<{ step: EndStep }>();
const editor = useEditor();
</script>

<template>
  <FormRow label="Because" hint="For whoever reads the sheet. Inside a For each only this element ends.">
    <input
      class="field min-w-0 flex-1"
      aria-label="Why it ends here"
      data-bench-first
      maxlength="200"
      :value="step.why"
      @input="
        editor.changeStep<EndStep>(
          props.step.id,
          (each) => (each.why = ($event.target as HTMLInputElement).value),
          'why',
        )
      "
    />
  </FormRow>
</template>
