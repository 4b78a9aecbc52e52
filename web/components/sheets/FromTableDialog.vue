<script setup lang="ts">
import { computed, ref } from 'vue';
import { MOST_COLUMNS } from '@playa/core/sheets/column.ts';
import { columnsLike } from '@playa/core/sheets/guess-pairs.ts';
import { call } from '../../lib/api.ts';
import { everyPage } from '../../lib/pages.ts';
import type { TableElsewhere } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import ChooseOne from '../form/ChooseOne.vue';
import ModalDialog from '../form/ModalDialog.vue';

// A sheet is made of a table elsewhere, and kept in step with it.
const emit = defineEmits<{ close: []; made: [id: number] }>();
const session = useSession();
const tables = ref<TableElsewhere[]>();
const chosen = ref<number | ''>('');
const name = ref('');
const wrong = ref('');
const busy = ref(false);
const free = computed(() => tables.value?.filter(({ inStepWith }) => inStepWith === null) ?? []);
const table = computed(() => free.value.find(({ id }) => id === chosen.value));

async function load() {
  try {
    const pages = await everyPage('listTablesElsewhere', { brand: session.brandId });
    tables.value = pages.flatMap((page) => page.tables);
  } catch (error) {
    wrong.value = (error as Error).message;
  }
}
void load();
function choose(id: string) {
  chosen.value = Number(id);
  name.value = table.value?.name.split('·').at(-1)?.trim() ?? '';
}
async function make() {
  if (!table.value) return;
  busy.value = true;
  wrong.value = '';
  try {
    const there = table.value.columns.slice(0, MOST_COLUMNS);
    const columns = columnsLike(there);
    const { id } = await call('makeSheet', { brand: session.brandId }, { body: { name: name.value, columns } });
    const pairs = columns.map(({ key }, index) => ({ key, there: there[index]!.name }));
    await call(
      'keepSheetInStep',
      { brand: session.brandId, id },
      {
        body: {
          outletId: table.value.id,
          rules: { columns: pairs, match: null, wins: 'there', deletions: true },
        },
      },
    );
    emit('made', id);
  } catch (error) {
    wrong.value = (error as Error).message;
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ModalDialog title="A sheet from a table elsewhere" :busy="busy" @close="emit('close')">
    <form id="from-table" class="mt-2 grid gap-3" @submit.prevent="make">
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
        <div class="grid gap-1">
          <span class="font-[650]">The table</span>
          <ChooseOne
            label="The table"
            prompt="Choose a table"
            :value="chosen"
            :options="free.map(({ id, name: called }) => ({ value: id, name: called }))"
            @change="choose"
          />
        </div>
        <p v-if="table" class="text-sm text-ink-3">{{ table.columns.map((column) => column.name).join(', ') }}</p>
        <label v-if="table" class="grid gap-1">
          <span class="font-[650]">Name of the sheet</span>
          <input v-model="name" class="field" required maxlength="120" />
        </label>
      </template>
    </form>
    <template #actions>
      <button type="button" class="btn" @click="emit('close')">Cancel</button>
      <button form="from-table" class="btn btn-main" :disabled="busy || !table">Make the sheet</button>
    </template>
  </ModalDialog>
</template>
