<script setup lang="ts">
import { computed } from 'vue';
import { PathError, readPath } from '@playa/core/items/json-path.ts';
import type { ForEachStep } from '@playa/core/steps/step.ts';
import { useEditor } from '../../../stores/editor.ts';
import FieldSelect from '../../form/FieldSelect.vue';
import FormRow from '../../form/FormRow.vue';
import KeptInput from '../../form/KeptInput.vue';

const props = defineProps<{ step: ForEachStep }>();
const editor = useEditor();
const change = (what: (step: ForEachStep) => void, merge = '') =>
  editor.changeStep<ForEachStep>(props.step.id, what, merge);
const query = computed(() => props.step.list.startsWith('$'));
const wrong = computed(() => {
  try {
    readPath(props.step.list);
    return '';
  } catch (error) {
    return error instanceof PathError ? error.message : String(error);
  }
});
const found = computed(() => {
  if (wrong.value || !editor.chosenItem) return null;
  return readPath(props.step.list).read(editor.chosenItem.fields).length;
});
function rename(event: Event) {
  const input = event.target as HTMLInputElement;
  const name = input.value.trim();
  if (!/^\p{L}[\p{L}\p{N}_-]{0,39}$/u.test(name)) return void (input.value = props.step.as);
  change((step) => (step.as = name));
}
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="List" :hint="found === null ? '' : `${found} in this item`">
      <FieldSelect
        v-if="!query"
        :field="step.list"
        label="The list"
        first
        @change="change((each) => (each.list = $event))"
      />
      <input
        v-else
        class="field min-w-0 flex-1 font-mono text-sm"
        aria-label="JSONPath query"
        data-bench-first
        :value="step.list"
        :aria-invalid="!!wrong"
        @input="change((each) => (each.list = ($event.target as HTMLInputElement).value || '$'), 'list')"
      />
      <button class="btn btn-quiet px-1" @click="change((each) => (each.list = query ? '' : '$..*'))">
        {{ query ? 'choose a field' : 'by a JSONPath query' }}
      </button>
    </FormRow>
    <p v-if="wrong" role="alert" class="text-sm text-rose">{{ wrong }}</p>
    <FormRow label="Called" hint="How the steps inside call one element.">
      <KeptInput class="field w-32" aria-label="Name of an element" :value="step.as" @change="rename" />
    </FormRow>
    <FormRow label="At most">
      <KeptInput
        type="number"
        min="1"
        max="500"
        class="field w-20"
        aria-label="At most so many elements"
        placeholder="all"
        :value="step.most ?? ''"
        @change="
          change((each) => (each.most = Math.min(500, Number(($event.target as HTMLInputElement).value)) || null))
        "
      />
      <span class="text-ink-3">of them, the first ones</span>
    </FormRow>
    <FormRow label="They go">
      <select
        class="field"
        aria-label="Together or one after another"
        :value="step.together ? 'together' : 'turn'"
        @change="change((each) => (each.together = ($event.target as HTMLSelectElement).value === 'together'))"
      >
        <option value="together">all together</option>
        <option value="turn">one after another</option>
      </select>
    </FormRow>
  </div>
</template>
