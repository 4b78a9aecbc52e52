<script setup lang="ts">
import type { DraftStep } from '@playa/core/steps/draft.ts';
import { useEditor } from '../../../stores/editor.ts';
import FormRow from '../../form/FormRow.vue';
import NameInput from '../../form/NameInput.vue';
import OutletSelect from '../../form/OutletSelect.vue';
import WordsEditor from '../../form/WordsEditor.vue';
import KeptInput from '../../form/KeptInput.vue';

const props = defineProps<{ step: DraftStep }>();
const editor = useEditor();
const change = (what: (step: DraftStep) => void, merge = '') =>
  editor.changeStep<DraftStep>(props.step.id, what, merge);
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="Text model">
      <OutletSelect
        :outlet="step.outlet"
        act="draft"
        label="The text model"
        @change="change((each) => (each.outlet = $event))"
      />
    </FormRow>
    <FormRow label="Instruction">
      <WordsEditor
        class="flex-1"
        first
        label="The instruction"
        :text="step.instruction"
        @change="change((each) => (each.instruction = $event), 'instruction')"
      />
    </FormRow>
    <FormRow label="About">
      <WordsEditor
        class="flex-1"
        small
        label="What it is about"
        :text="step.about"
        @change="change((each) => (each.about = $event), 'about')"
      />
    </FormRow>
    <FormRow label="At most">
      <KeptInput
        type="number"
        min="10"
        max="5000"
        class="field w-20"
        aria-label="Characters at most"
        :value="step.longest"
        @change="
          change(
            (each) =>
              (each.longest = Math.min(5000, Math.max(10, Number(($event.target as HTMLInputElement).value) || 10))),
          )
        "
      />
      <span class="text-ink-3">characters; variety</span>
      <input
        type="range"
        min="0"
        max="1"
        step="0.1"
        aria-label="Variety"
        :value="step.variety"
        @input="change((each) => (each.variety = Number(($event.target as HTMLInputElement).value)), 'variety')"
      />
    </FormRow>
    <NameInput :name="step.name" what="the text" @change="change((each) => (each.name = $event))" />
  </div>
</template>
