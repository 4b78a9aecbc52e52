<script setup lang="ts">
import { computed } from 'vue';
import { FIND_BY, type FindStep } from '@playa/core/steps/find.ts';
import { useEditor } from '../../../stores/editor.ts';
import ColumnSelect from '../../form/ColumnSelect.vue';
import FormRow from '../../form/FormRow.vue';
import NameInput from '../../form/NameInput.vue';
import OutletSelect from '../../form/OutletSelect.vue';
import WordsEditor from '../../form/WordsEditor.vue';

const props = defineProps<{ step: FindStep }>();
const editor = useEditor();
const change = (what: (step: FindStep) => void, merge = '') => editor.changeStep<FindStep>(props.step.id, what, merge);
const outside = computed(() => props.step.what === 'row' || props.step.what === 'file');
const by = computed(() => FIND_BY[props.step.what]);
const columns = computed(() =>
  props.step.outlet === null ? [] : (editor.world.outlets.get(props.step.outlet)?.details?.columns ?? []),
);
const setWhat = (what: FindStep['what']) =>
  change((step) => {
    step.what = what;
    step.by = FIND_BY[what][0] ?? '';
  });
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="Look for">
      <select
        class="field"
        aria-label="What is looked for"
        data-bench-first
        :value="step.what"
        @change="setWhat(($event.target as HTMLSelectElement).value as FindStep['what'])"
      >
        <option value="person">a person who wrote to the brand</option>
        <option value="post">an earlier post of ours</option>
        <option value="row">a row</option>
        <option value="file">a file</option>
      </select>
    </FormRow>
    <FormRow v-if="outside" label="In">
      <OutletSelect :outlet="step.outlet" act="find" label="Where" @change="change((each) => (each.outlet = $event))" />
    </FormRow>
    <FormRow label="Whose">
      <select
        v-if="by.length"
        class="field"
        aria-label="By what"
        :value="step.by"
        @change="change((each) => (each.by = ($event.target as HTMLSelectElement).value))"
      >
        <option v-for="each in by" :key="each" :value="each">{{ each }}</option>
      </select>
      <ColumnSelect
        v-else
        :columns="columns"
        :column="step.by"
        label="Column"
        @change="change((each) => (each.by = $event), 'by')"
      />
      <span class="text-ink-3">is</span>
      <WordsEditor
        class="min-w-40 flex-1"
        small
        first
        label="What it must be"
        :text="step.value"
        @change="change((each) => (each.value = $event), 'value')"
      />
    </FormRow>
    <FormRow label="None found">
      <select
        class="field"
        aria-label="When none is found"
        :value="step.whenNone"
        @change="change((each) => (each.whenNone = ($event.target as HTMLSelectElement).value as FindStep['whenNone']))"
      >
        <option value="on">go on without</option>
        <option value="stop">stop</option>
        <option value="hold">ask me</option>
      </select>
    </FormRow>
    <FormRow label="Several">
      <select
        class="field"
        aria-label="When several are found"
        :value="step.whenSeveral"
        @change="
          change((each) => (each.whenSeveral = ($event.target as HTMLSelectElement).value as FindStep['whenSeveral']))
        "
      >
        <option value="first">take the first</option>
        <option value="stop">stop</option>
        <option value="hold">ask me</option>
      </select>
    </FormRow>
    <NameInput :name="step.as" what="what was found" @change="change((each) => (each.as = $event))" />
  </div>
</template>
