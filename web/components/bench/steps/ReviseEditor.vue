<script setup lang="ts">
import { computed } from 'vue';
import type { ReviseStep } from '@playa/core/steps/revise.ts';
import { allSteps, stepsBefore } from '@playa/core/workflow/tree.ts';
import { useEditor } from '../../../stores/editor.ts';
import FormRow from '../../form/FormRow.vue';
import OutletSelect from '../../form/OutletSelect.vue';
import FittingEditor from './FittingEditor.vue';
import TextSelect from '../../form/TextSelect.vue';

const props = defineProps<{ step: ReviseStep }>();
const editor = useEditor();
const change = (what: (step: ReviseStep) => void) => editor.changeStep<ReviseStep>(props.step.id, what);
/** Earlier posts: of this run, by their Publish, or found. */
const posts = computed(() =>
  stepsBefore(editor.definition, props.step.id).flatMap((step) => {
    if (step.verb === 'publish')
      return [{ id: step.id, as: step.as, label: `the post of step ${editor.numberOf(step.id)}` }];
    if (step.verb === 'find' && step.what === 'post') return [{ id: step.id, as: step.as, label: `${step.as}, found` }];
    return [];
  }),
);
/** A Publish that nobody has referred to yet gets a name by being chosen. */
function choose(id: string) {
  const chosen = posts.value.find((each) => each.id === id);
  if (!chosen) return;
  const taken = new Set(posts.value.map((each) => each.as));
  let name = chosen.as ?? 'post';
  for (let n = 2; !chosen.as && taken.has(name); n++) name = `post${n}`;
  editor.edit((draft) => {
    for (const { step } of allSteps(draft.definition)) {
      if (step.id === id && step.verb === 'publish') step.as = name;
      if (step.id === props.step.id && step.verb === 'revise') step.of = name;
    }
  });
}
const says = {
  edit: 'put other words in it',
  delete: 'delete it',
  pin: 'pin it',
  unpin: 'unpin it',
  forward: 'forward it',
};
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="Post">
      <select
        class="field"
        aria-label="Which post"
        data-bench-first
        :value="posts.find((each) => each.as === step.of)?.id ?? ''"
        @change="choose(($event.target as HTMLSelectElement).value)"
      >
        <option value="" disabled>{{ posts.length ? 'choose' : 'publish or find a post above first' }}</option>
        <option v-for="each in posts" :key="each.id" :value="each.id">{{ each.label }}</option>
      </select>
    </FormRow>
    <FormRow label="Change">
      <select
        class="field"
        aria-label="What is changed"
        :value="step.change"
        @change="change((each) => (each.change = ($event.target as HTMLSelectElement).value as ReviseStep['change']))"
      >
        <option v-for="(label, key) in says" :key="key" :value="key">{{ label }}</option>
      </select>
    </FormRow>
    <FormRow v-if="step.change === 'edit'" label="New words">
      <TextSelect
        :text="step.caption ?? ''"
        label="The new words"
        @change="change((each) => (each.caption = $event))"
      />
    </FormRow>
    <FittingEditor v-if="step.change === 'edit'" :step="step" />
    <FormRow v-if="step.change === 'forward'" label="To">
      <OutletSelect
        :outlet="step.to ?? null"
        act="revise"
        label="Where it is forwarded to"
        @change="change((each) => (each.to = $event))"
      />
    </FormRow>
  </div>
</template>
