<script setup lang="ts">
import { computed, ref } from 'vue';
import { z } from 'zod';
import { MOST_COLUMNS } from '@playa/core/sheets/column.ts';
import { columnsLike } from '@playa/core/sheets/guess-pairs.ts';
import { call } from '../../lib/api.ts';
import { useSendForm } from '../../lib/form.ts';
import { everyPage } from '../../lib/pages.ts';
import type { TableElsewhere } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import ChooseOne from '../form/ChooseOne.vue';
import FormField from '../form/FormField.vue';
import ModalDialog from '../form/ModalDialog.vue';

// A sheet is made of a table elsewhere, and kept in step with it.
const emit = defineEmits<{ close: []; made: [id: number] }>();
const session = useSession();
const tables = ref<TableElsewhere[]>();
const free = computed(() => tables.value?.filter(({ inStepWith }) => inStepWith === null) ?? []);
const form = useSendForm({
  schema: z.object({
    table: z.number({ error: 'Choose a table.' }),
    name: z.string().trim().min(1, 'The sheet wants a name.').max(120, 'At most 120 characters.'),
  }),
  values: { table: '' as number | '', name: '' } as unknown as { table: number; name: string },
  send: async ({ table: outletId, name }) => {
    const there = tableBy(outletId)!.columns.slice(0, MOST_COLUMNS);
    const columns = columnsLike(there);
    const { id } = await call('makeSheet', { brand: session.brandId }, { body: { name, columns } });
    const at = { brand: session.brandId, id };
    const pairs = columns.map(({ key }, index) => ({ key, there: there[index]!.name }));
    try {
      const rules = { columns: pairs, match: null, wins: 'there', deletions: true } as const;
      await call('keepSheetInStep', at, { body: { outletId, rules, revision: null } });
    } catch (error) {
      // One that is in step with nothing is not what was wanted, and a second try would make another.
      await call('deleteSheet', at).catch(() => undefined);
      throw error;
    }
    emit('made', id);
  },
});
const { busy, trouble: wrong, values } = form;
const tableBy = (id: unknown) => free.value.find((each) => each.id === id);
const table = computed(() => tableBy(values.value.table));

async function load() {
  await form.attempt(async () => {
    const pages = await everyPage('listTablesElsewhere', { brand: session.brandId });
    tables.value = pages.flatMap((page) => page.tables);
  });
}
void load();
function choose(id: string) {
  form.set('table', Number(id));
  form.set('name', table.value?.name.split('·').at(-1)?.trim() ?? '');
}
</script>

<template>
  <ModalDialog title="A sheet from a table elsewhere" :busy="busy" :unsaved="form.changed.value" @close="emit('close')">
    <form id="from-table" class="mt-2 grid gap-3" novalidate @submit.prevent="form.submit()">
      <p class="text-ink-2">
        It gets the columns and rows of the table and is kept in step with it: what is written on one side is written on
        the other.
      </p>
      <p v-if="wrong" role="alert" class="rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
      <p v-if="!tables && !wrong" class="text-ink-3">Loading …</p>
      <p v-else-if="tables && free.length === 0">
        {{ tables.length ? 'Every table has a sheet already.' : 'No connected account has a table.' }}
        <RouterLink :to="{ name: 'accounts', params: { brand: session.brandId } }">Connect an account</RouterLink>
      </p>
      <template v-else-if="tables">
        <FormField v-slot="{ value }" :form="form" name="table" label="The table" group>
          <ChooseOne
            label="The table"
            prompt="Choose a table"
            :value="value"
            :options="free.map(({ id, name: called }) => ({ value: id, name: called }))"
            @change="choose"
          />
        </FormField>
        <p v-if="table" class="text-sm text-ink-3">{{ table.columns.map((column) => column.name).join(', ') }}</p>
        <FormField v-if="table" :form="form" name="name" label="Name of the sheet" :maxlength="120" />
      </template>
    </form>
    <template #actions>
      <button type="button" class="btn" @click="emit('close')">Cancel</button>
      <button form="from-table" class="btn btn-main" :disabled="busy">Make the sheet</button>
    </template>
  </ModalDialog>
</template>
