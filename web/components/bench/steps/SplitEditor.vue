<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import type { Group } from '@playa/core/conditions/condition.ts';
import { caseLabel } from '@playa/core/steps/split.ts';
import type { SplitStep } from '@playa/core/steps/step.ts';
import { stepId } from '../../../lib/make-workflow.ts';
import { useEditor } from '../../../stores/editor.ts';
import ConditionGroup from '../../form/ConditionGroup.vue';
import KeptInput from '../../form/KeptInput.vue';

const props = defineProps<{ step: SplitStep }>();
const editor = useEditor();
const change = (what: (step: SplitStep) => void, merge = '') =>
  editor.changeStep<SplitStep>(props.step.id, what, merge);
const setWhen = (index: number, when: Group, merge: string) =>
  change((step) => (step.cases[index]!.when = when), merge && `${index}.${merge}`);
const addCase = () =>
  change((step) =>
    step.cases.push({
      id: stepId(),
      name: '',
      when: { type: 'group', match: 'all', items: [{ type: 'test', field: 'title', op: 'contains', value: '' }] },
      share: 1,
      steps: [],
    }),
  );
/** The steps of a case go with it; undo brings both back. */
const dropCase = (index: number) => change((step) => step.cases.splice(index, 1));
</script>

<template>
  <div class="grid gap-3">
    <label class="flex items-center gap-2">
      <span class="text-ink-2">An item takes</span>
      <select
        class="field"
        :value="step.by"
        data-bench-first
        @change="change((each) => (each.by = ($event.target as HTMLSelectElement).value as SplitStep['by']))"
      >
        <option value="asks">the first case that holds, or otherwise</option>
        <option value="chance">a case by chance</option>
      </select>
    </label>
    <section
      v-for="(each, index) in step.cases"
      :key="each.id"
      class="rounded-(--radius) border border-line p-2"
      :aria-label="caseLabel(step, each)"
    >
      <div class="mb-1.5 flex items-center gap-2">
        <b>{{ index + 1 }}</b>
        <input
          class="field min-w-0 flex-1"
          :placeholder="caseLabel({ ...step, cases: step.cases }, { ...each, name: '' })"
          :aria-label="`Name of case ${index + 1}`"
          :value="each.name"
          maxlength="60"
          @input="change((s) => (s.cases[index]!.name = ($event.target as HTMLInputElement).value), `name ${index}`)"
        />
        <label v-if="step.by === 'chance'" class="flex items-center gap-1 text-ink-2"
          >share
          <KeptInput
            type="number"
            min="0"
            max="1000"
            class="field w-16"
            :value="each.share"
            @change="
              change(
                (s) => (s.cases[index]!.share = Math.max(0, Number(($event.target as HTMLInputElement).value) || 0)),
              )
            "
        /></label>
        <button
          v-if="step.cases.length > 1"
          class="rounded p-1 text-ink-3 hover:text-rose"
          :aria-label="`Remove case ${index + 1} and its steps`"
          @click="dropCase(index)"
        >
          <X :size="14" />
        </button>
      </div>
      <ConditionGroup
        v-if="step.by === 'asks'"
        :group="each.when"
        :fields="editor.usable"
        :depth="0"
        :path="each.id"
        @change="(when: Group, merge: string) => setWhen(index, when, merge)"
      />
    </section>
    <div class="flex items-baseline gap-3">
      <button class="btn btn-quiet px-1" @click="addCase"><Plus :size="13" /> a case</button>
      <span class="text-sm text-ink-3">Steps are added to a case by its band on the sheet.</span>
    </div>
  </div>
</template>
