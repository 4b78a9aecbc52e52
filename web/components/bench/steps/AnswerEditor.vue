<script setup lang="ts">
import type { MessageStep, ReactStep, ReplyStep } from '@playa/core/steps/respond.ts';
import { useEditor } from '../../../stores/editor.ts';
import FieldSelect from '../../form/FieldSelect.vue';
import FormRow from '../../form/FormRow.vue';
import OutletSelect from '../../form/OutletSelect.vue';
import TextSelect from '../../form/TextSelect.vue';

// Reply, Message and React: where, to what or whom, with which words.
type Answering = ReplyStep | MessageStep | ReactStep;
const props = defineProps<{ step: Answering }>();
const editor = useEditor();
const change = (what: (step: Answering) => void) => editor.changeStep<Answering>(props.step.id, what);
const whom = { reply: 'Answers', message: 'Writes to', react: 'Likes' } as const;
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="At">
      <OutletSelect
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
    <FormRow v-if="step.verb !== 'react'" label="Words">
      <TextSelect
        :text="step.caption"
        label="The words"
        @change="change((each) => each.verb !== 'react' && (each.caption = $event))"
      />
    </FormRow>
  </div>
</template>
