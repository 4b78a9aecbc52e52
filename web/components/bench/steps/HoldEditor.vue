<script setup lang="ts">
import type { HoldStep } from '@playa/core/steps/hold.ts';
import { useEditor } from '../../../stores/editor.ts';
import FormRow from '../../form/FormRow.vue';
import TextSelect from '../../form/TextSelect.vue';
import WordsEditor from '../../form/WordsEditor.vue';

const props = defineProps<{ step: HoldStep }>();
const editor = useEditor();
const change = (what: (step: HoldStep) => void, merge = '') => editor.changeStep<HoldStep>(props.step.id, what, merge);
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="Asks" hint="It waits on Today until somebody says yes. With a no it ends here.">
      <WordsEditor
        class="flex-1"
        small
        first
        label="The question"
        placeholder="May this go on?"
        :text="step.question"
        @change="change((each) => (each.question = $event), 'question')"
      />
    </FormRow>
    <FormRow label="Shows">
      <TextSelect
        :text="step.text ?? ''"
        none="nothing to change, only yes or no"
        label="The text that is shown"
        @change="change((each) => (each.text = $event || null))"
      />
      <span class="text-ink-3">which can be changed before the yes</span>
    </FormRow>
  </div>
</template>
