<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import { computed } from 'vue';
import type { RecordStep } from '@playa/core/steps/record.ts';
import { useEditor } from '../../../stores/editor.ts';
import FormRow from '../../form/FormRow.vue';
import NameInput from '../../form/NameInput.vue';
import OutletSelect from '../../form/OutletSelect.vue';
import WordsEditor from '../../form/WordsEditor.vue';

const props = defineProps<{ step: RecordStep }>();
const editor = useEditor();
const columns = computed(() =>
  props.step.outlet === null ? [] : (editor.world.outlets.get(props.step.outlet)?.details?.columns ?? []),
);
/** A table that is chosen first brings its columns along. */
function choose(outlet: number | null) {
  change((each) => {
    each.outlet = outlet;
    const known = outlet === null ? undefined : editor.world.outlets.get(outlet)?.details?.columns;
    if (each.values.length === 0) each.values = (known ?? []).map(({ name }) => ({ column: name, value: '' }));
  });
}
const change = (what: (step: RecordStep) => void, merge = '') =>
  editor.changeStep<RecordStep>(props.step.id, what, merge);
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="Table">
      <OutletSelect :outlet="step.outlet" act="record" label="The table" @change="choose" />
    </FormRow>
    <FormRow label="Row">
      <select
        class="field"
        aria-label="Which row"
        :value="step.match ? 'update' : 'add'"
        @change="
          change(
            (each) =>
              (each.match = ($event.target as HTMLSelectElement).value === 'update' ? { column: '', value: '' } : null),
          )
        "
      >
        <option value="add">a new one</option>
        <option value="update">the one where</option>
      </select>
      <template v-if="step.match">
        <input
          class="field w-28"
          aria-label="Column to find it by"
          placeholder="column"
          :list="`columns-${step.id}`"
          :value="step.match.column"
          @input="change((each) => (each.match!.column = ($event.target as HTMLInputElement).value), 'column')"
        />
        <span class="text-ink-3">is</span>
        <WordsEditor
          class="min-w-32 flex-1"
          small
          label="The value to find it by"
          :text="step.match.value"
          @change="change((each) => (each.match!.value = $event), 'match')"
        />
      </template>
    </FormRow>
    <FormRow label="Writes">
      <div v-for="(value, index) in step.values" :key="index" class="flex w-full items-start gap-1.5">
        <input
          class="field w-28"
          :aria-label="`Column ${index + 1}`"
          placeholder="column"
          :list="`columns-${step.id}`"
          :value="value.column"
          @input="
            change((each) => (each.values[index]!.column = ($event.target as HTMLInputElement).value), `c${index}`)
          "
        />
        <WordsEditor
          class="flex-1"
          small
          :label="`What goes into ${value.column || 'the column'}`"
          :text="value.value"
          @change="change((each) => (each.values[index]!.value = $event), `v${index}`)"
        />
        <button
          class="mt-1 rounded p-1 text-ink-3 hover:text-rose"
          :aria-label="`Leave out ${value.column || 'the column'}`"
          @click="change((each) => each.values.splice(index, 1))"
        >
          <X :size="14" />
        </button>
      </div>
      <button class="btn btn-quiet px-1" @click="change((each) => each.values.push({ column: '', value: '' }))">
        <Plus :size="13" /> a column
      </button>
    </FormRow>
    <datalist :id="`columns-${step.id}`">
      <option v-for="column in columns" :key="column.name" :value="column.name">{{ column.type }}</option>
    </datalist>
    <NameInput :name="step.as" what="the row" @change="change((each) => (each.as = $event))" />
  </div>
</template>
