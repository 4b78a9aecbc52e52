<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import { computed } from 'vue';
import type { RecordStep } from '@playa/core/steps/record.ts';
import { useEditor } from '../../../stores/editor.ts';
import ColumnSelect from '../../form/ColumnSelect.vue';
import FormRow from '../../form/FormRow.vue';
import NameInput from '../../form/NameInput.vue';
import OutletSelect from '../../form/OutletSelect.vue';
import WordsEditor from '../../form/WordsEditor.vue';

const props = defineProps<{ step: RecordStep }>();
const editor = useEditor();
/** The table that the items are rows of, if they are. */
const ownTable = computed(() => {
  const tables = editor.watchIds.flatMap((id) => {
    const outlet = editor.world.watches.get(id)?.outlet;
    const table = outlet === undefined ? undefined : editor.world.outlets.get(outlet);
    return table?.acts?.includes('record') ? [table] : [];
  });
  return tables.length === editor.watchIds.length ? tables[0] : undefined;
});
const table = computed(() =>
  props.step.where === 'item'
    ? ownTable.value
    : props.step.outlet === null
      ? undefined
      : editor.world.outlets.get(props.step.outlet),
);
const columns = computed(() => table.value?.details?.columns ?? []);
const nameOf = (column: string) => {
  const known = columns.value.find(({ name }) => name === column);
  return (known?.label ?? column) || 'the column';
};
/** Columns that are not written yet. */
const free = computed(() =>
  columns.value.filter(
    ({ name, computed: worked }) => !worked && !props.step.values.some(({ column }) => column === name),
  ),
);
const sameName = (name: string) =>
  editor.usable.find((field) => [field.path, field.label].some((each) => each.toLowerCase() === name.toLowerCase()));
/** A table that is chosen gets what items have under the same names. Nothing else is written. */
function choose(outlet: number | null) {
  change((each) => {
    each.outlet = outlet;
    const known = outlet === null ? [] : (editor.world.outlets.get(outlet)?.details?.columns ?? []);
    const matched = known.flatMap(({ name, label, computed: worked }) => {
      const field = worked ? undefined : (sameName(name) ?? sameName(label ?? name));
      return field ? [{ column: name, value: `{$${field.path}}` }] : [];
    });
    if (each.values.every(({ value }) => value.trim() === '')) each.values = matched;
  });
}
function chooseRow(what: string) {
  change((each) => {
    if (what === 'own') {
      each.where = 'item';
      each.outlet = null;
      each.match = null;
      return;
    }
    delete each.where;
    each.match = what === 'update' ? { column: '', value: '' } : null;
  });
}
const addColumn = (column: string) => change((each) => each.values.push({ column, value: '' }));
const change = (what: (step: RecordStep) => void, merge = '') =>
  editor.changeStep<RecordStep>(props.step.id, what, merge);
</script>

<template>
  <div class="grid gap-2">
    <FormRow v-if="step.where !== 'item'" label="Table">
      <OutletSelect :outlet="step.outlet" act="record" label="The table" @change="choose" />
    </FormRow>
    <FormRow label="Row">
      <select
        class="field"
        aria-label="Which row"
        :value="step.where === 'item' ? 'own' : step.match ? 'update' : 'add'"
        @change="chooseRow(($event.target as HTMLSelectElement).value)"
      >
        <option v-if="ownTable || step.where === 'item'" value="own">this row</option>
        <option value="add">a new one</option>
        <option value="update">the one where</option>
      </select>
      <template v-if="step.match">
        <ColumnSelect
          :columns="columns"
          :column="step.match.column"
          written
          label="Column to find it by"
          @change="change((each) => (each.match!.column = $event), 'column')"
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
    <FormRow label="Writes" hint="Only these columns are written. One without words stays as it is.">
      <div v-for="(value, index) in step.values" :key="index" class="flex w-full items-start gap-1.5">
        <ColumnSelect
          :columns="columns"
          :column="value.column"
          written
          :label="`Column ${index + 1}`"
          @change="change((each) => (each.values[index]!.column = $event), `c${index}`)"
        />
        <WordsEditor
          class="flex-1"
          small
          :label="`What goes into ${nameOf(value.column)}`"
          :text="value.value"
          @change="change((each) => (each.values[index]!.value = $event), `v${index}`)"
        />
        <button
          class="mt-1 rounded p-1 text-ink-3 hover:text-rose"
          :aria-label="`Leave out ${nameOf(value.column)}`"
          @click="change((each) => each.values.splice(index, 1))"
        >
          <X :size="14" />
        </button>
      </div>
      <div class="flex w-full flex-wrap gap-1">
        <button v-for="column in free" :key="column.name" class="btn btn-quiet px-1" @click="addColumn(column.name)">
          <Plus :size="13" /> {{ column.label ?? column.name }}
        </button>
        <button v-if="columns.length === 0" class="btn btn-quiet px-1" @click="addColumn('')">
          <Plus :size="13" /> a column
        </button>
      </div>
    </FormRow>
    <NameInput :name="step.as" what="the row" @change="change((each) => (each.as = $event))" />
  </div>
</template>
