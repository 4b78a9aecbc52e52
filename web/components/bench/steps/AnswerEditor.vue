<script setup lang="ts">
import { computed } from 'vue';
import type { Meanwhile } from '@playa/core/model/acts.ts';
import type { MessageStep, ReactStep, ReplyStep } from '@playa/core/steps/respond.ts';
import { rulesAt } from '@playa/core/workflow/word-uses.ts';
import { useEditor } from '../../../stores/editor.ts';
import FieldSelect from '../../form/FieldSelect.vue';
import FormRow from '../../form/FormRow.vue';
import OutletSelect from '../../form/OutletSelect.vue';
import TextSelect from '../../form/TextSelect.vue';
import FittingEditor from './FittingEditor.vue';
import WordsEditor from '../../form/WordsEditor.vue';

// Reply, Message and React: where, to what or whom, with which words.
type Answering = ReplyStep | MessageStep | ReactStep;
const props = defineProps<{ step: Answering }>();
const editor = useEditor();
const change = (what: (step: Answering) => void) => editor.changeStep<Answering>(props.step.id, what);
const sendsLetters = computed(
  () => props.step.outlet !== null && editor.world.outlets.get(props.step.outlet)?.kind === 'mailbox',
);
/** Whether what is watched is seen at an outlet that can be answered at. */
const seen = computed(() =>
  editor.watchIds.some((id) => {
    const outlet = editor.world.watches.get(id)?.outlet;
    return outlet !== undefined && editor.world.outlets.get(outlet)?.acts?.includes(props.step.verb);
  }),
);
/** The tightest of the places where it may be answered. */
const limit = computed(() => {
  if (props.step.verb === 'react') return null;
  const uses = (editor.uses.get(props.step.caption) ?? []).filter((use) => use.step === props.step.id);
  const limits = uses.flatMap((use) => use.outlets.flatMap((id) => rulesAt(uses, id, editor.world)?.limit ?? []));
  return limits.length ? Math.min(...limits) : null;
});
const happenings = [
  { key: 'answered', label: 'somebody answered' },
  { key: 'edited', label: 'the words changed' },
] as const;
const setMeanwhile = (key: 'answered' | 'edited', what: Meanwhile) =>
  change((each) => {
    if (each.verb !== 'reply') return;
    each.meanwhile = { ...each.meanwhile, [key]: what === 'hold' ? undefined : what };
    if (!each.meanwhile.answered && !each.meanwhile.edited) delete each.meanwhile;
  });
const whom = { reply: 'Answers', message: 'Writes to', react: 'Likes' } as const;
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="At">
      <label v-if="seen" class="flex items-center gap-1.5">
        <input
          type="checkbox"
          class="size-4 accent-(--sea)"
          :checked="step.where === 'item'"
          @change="change((each) => (each.where === 'item' ? delete each.where : (each.where = 'item')))"
        />
        the place it came from
      </label>
      <OutletSelect
        v-if="step.where !== 'item'"
        :outlet="step.outlet"
        :act="step.verb"
        label="Where"
        @change="change((each) => (each.outlet = $event))"
      />
    </FormRow>
    <FormRow
      :label="whom[step.verb]"
      :hint="
        step.verb === 'message'
          ? 'The field with the network’s own id of the person.'
          : 'The field with the network’s own id of what they wrote.'
      "
    >
      <FieldSelect :field="step.to" label="What or whom" @change="change((each) => (each.to = $event))" />
    </FormRow>
    <FormRow
      v-if="step.verb === 'message' && sendsLetters"
      label="Subject"
      hint="Without one, the first line of the words is taken."
    >
      <WordsEditor
        class="flex-1"
        small
        label="The subject"
        :text="step.subject ?? ''"
        @change="change((each) => each.verb === 'message' && (each.subject = $event || undefined))"
      />
    </FormRow>
    <FormRow v-if="step.verb !== 'react'" label="Words">
      <TextSelect
        :text="step.caption"
        label="The words"
        @change="change((each) => each.verb !== 'react' && (each.caption = $event))"
      />
      <span v-if="limit !== null" class="text-sm text-ink-3">up to {{ limit }} characters</span>
    </FormRow>
    <FormRow
      v-if="step.verb === 'reply'"
      label="Meanwhile"
      hint="It is looked at once more right before the answer goes out."
    >
      <label v-for="{ key, label } in happenings" :key="key" class="flex w-full flex-wrap items-center gap-1.5">
        <span class="w-40 text-ink-2">{{ label }}</span>
        <select
          class="field"
          :aria-label="label"
          :value="step.meanwhile?.[key] ?? 'hold'"
          @change="setMeanwhile(key, ($event.target as HTMLSelectElement).value as Meanwhile)"
        >
          <option value="hold">hold it for me</option>
          <option value="end">leave it, and end the run</option>
          <option value="send">answer all the same</option>
        </select>
      </label>
    </FormRow>
    <FittingEditor v-if="step.verb !== 'react' && limit !== null" :step="step" />
  </div>
</template>
