<script setup lang="ts">
import { computed } from 'vue';
import type { DraftStep } from '@playa/core/steps/draft.ts';
import { useEditor } from '../../../stores/editor.ts';
import FormRow from '../../form/FormRow.vue';
import NameInput from '../../form/NameInput.vue';
import OutletSelect from '../../form/OutletSelect.vue';
import WordsEditor from '../../form/WordsEditor.vue';
import KeptInput from '../../form/KeptInput.vue';
import DraftTries from './DraftTries.vue';

const props = defineProps<{ step: DraftStep }>();
const editor = useEditor();
const change = (what: (step: DraftStep) => void, merge = '') =>
  editor.changeStep<DraftStep>(props.step.id, what, merge);
const answers = computed(() => props.step.as === 'answer');
const numberOf = (event: Event) => Number((event.target as HTMLInputElement).value);
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
    <FormRow
      label="It words"
      :hint="
        answers
          ? 'What they wrote, their stars and name, and what was said before go along. The draft is held against what you may tell (Desk, Voice): once wrong it is drafted again, twice wrong it waits for you.'
          : 'Whatever the instruction says. Nothing checks it.'
      "
    >
      <select
        class="field"
        aria-label="What it words"
        :value="step.as ?? ''"
        @change="
          change((each) => (each.as = ($event.target as HTMLSelectElement).value === 'answer' ? 'answer' : undefined))
        "
      >
        <option value="answer">an answer to what they wrote, in your voice</option>
        <option value="">anything</option>
      </select>
    </FormRow>
    <FormRow :label="answers ? 'Besides' : 'Instruction'">
      <WordsEditor
        class="flex-1"
        first
        label="The instruction"
        :placeholder="answers ? 'what it should do besides, if you like' : ''"
        :text="step.instruction"
        @change="change((each) => (each.instruction = $event), 'instruction')"
      />
    </FormRow>
    <DraftTries :step="step" />
    <FormRow :label="answers ? 'To know' : 'About'">
      <WordsEditor
        class="flex-1"
        small
        label="What it is about"
        :placeholder="answers ? 'what else it should know, if you like' : ''"
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
        @change="change((each) => (each.longest = Math.min(5000, Math.max(10, numberOf($event) || 10))))"
      />
      <span class="text-ink-3">characters; variety</span>
      <input
        type="range"
        min="0"
        max="1"
        step="0.1"
        aria-label="Variety"
        :value="step.variety"
        @input="change((each) => (each.variety = numberOf($event)), 'variety')"
      />
      <select
        class="field"
        aria-label="How many drafts"
        :value="step.count ?? 1"
        @change="change((each) => (each.count = numberOf($event) === 1 ? undefined : numberOf($event)))"
      >
        <option :value="1">one draft</option>
        <option :value="2">the best of two</option>
        <option :value="3">the best of three</option>
      </select>
    </FormRow>
    <NameInput :name="step.name" what="the text" @change="change((each) => (each.name = $event))" />
  </div>
</template>
