<script setup lang="ts">
import { ArrowLeftRight, FileUp, Plus, Scissors } from '@lucide/vue';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { Column as SheetColumn } from '@playa/core/sheets/column.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import ColumnsDialog from '../components/sheets/ColumnsDialog.vue';
import FromTableDialog from '../components/sheets/FromTableDialog.vue';
import { CONTENT_PLAN } from '@playa/core/sheets/content-plan.ts';
import DataTable from '../components/table/DataTable.vue';
import type { Column } from '../components/table/columns.ts';
import { call } from '../lib/api.ts';
import { useAttempt } from '../lib/attempt.ts';
import type { ListedSheet } from '../lib/types.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import { useWholeList } from '../stores/resource.ts';

const session = useSession();
const notices = useNotices();
const router = useRouter();
const {
  data: pages,
  trouble,
  load,
} = useWholeList('listSheets', () => ({ brand: session.brandId }), { topics: ['sheets', 'workflows'] });
const sheets = computed(() => pages.value?.flatMap((page) => page.sheets));
const { busy, attempt } = useAttempt(notices.wrong);
/** A sheet that is being made: its name and columns to begin with. */
const making = ref<{ name: string; columns: SheetColumn[] }>();
const fromTable = ref(false);
const picker = ref<HTMLInputElement>();

const open = (id: number) => ({ name: 'sheet', params: { brand: session.brandId, id } });
const begin = (name: string, columns: readonly SheetColumn[]) =>
  (making.value = { name, columns: JSON.parse(JSON.stringify(columns)) as SheetColumn[] });
const empty = () => begin('', [{ key: 'title', name: 'Title', type: 'text' }]);

async function make(next: { name: string; columns: SheetColumn[] }) {
  const { id } = await call('makeSheet', { brand: session.brandId }, { body: next });
  making.value = undefined;
  await router.push(open(id));
}
async function fromFile(event: Event) {
  const field = event.target as HTMLInputElement;
  const file = field.files?.[0];
  field.value = '';
  if (!file) return;
  await attempt(async () => {
    const name = cutUnits(file.name.replace(/\.\w+$/, ''), 120) || 'A sheet';
    const made = await call('makeSheetFromFile', { brand: session.brandId }, { query: { name: name }, file });
    await router.push(open(made.id));
  });
}
async function remove(sheet: ListedSheet) {
  try {
    await call('deleteSheet', { brand: session.brandId, id: sheet.id });
    await load();
    notices.say(`“${sheet.name}” is deleted.`, () => {
      void call('restoreSheet', { brand: session.brandId, id: sheet.id }).then(load, notices.wrong);
    });
  } catch (error) {
    notices.wrong(error);
  }
}
const names = (sheet: ListedSheet) => [...new Map(sheet.uses.map((use) => [use.workflowId, use])).values()];
const columns: Column<ListedSheet>[] = [
  { id: 'name', title: 'sheet', value: ({ name }) => name },
  { id: 'rows', title: 'rows', width: 'w-24', value: ({ rows }) => rows },
  {
    id: 'columns',
    title: 'columns',
    value: (sheet) => sheet.columns.map((column) => column.name).join(', '),
    optional: true,
  },
  { id: 'uses', title: 'used by', width: 'w-72', value: (sheet) => sheet.uses.map((use) => use.workflow).join(' ') },
  { id: 'actions', title: 'actions', width: 'w-24', quiet: true },
];
</script>

<template>
  <div class="mx-auto max-w-[1280px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <h1 class="text-xl">Sheets</h1>
      <span class="ml-auto flex flex-wrap gap-2">
        <button class="btn" :disabled="busy" @click="picker?.click()"><FileUp :size="15" /> From a file</button>
        <input
          ref="picker"
          type="file"
          class="hidden"
          accept=".csv,.tsv,.txt,.xlsx"
          aria-label="File to make a sheet of"
          @change="fromFile"
        />
        <button class="btn" @click="fromTable = true"><ArrowLeftRight :size="15" /> From a table elsewhere</button>
        <RouterLink class="btn no-underline" :to="{ name: 'clip', params: { brand: session.brandId } }"
          ><Scissors :size="15" /> Clip a page</RouterLink
        >
        <button class="btn" @click="begin('Content plan', CONTENT_PLAN)"><Plus :size="15" /> Content plan</button>
        <button class="btn btn-main" @click="empty"><Plus :size="15" /> New sheet</button>
      </span>
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble }} <button class="underline" @click="load">Try again</button>
    </p>
    <div v-if="sheets?.length === 0" class="sheet px-4 py-6">
      <h2 class="mb-1 text-lg">No sheets yet</h2>
      <p class="mb-3 max-w-prose text-ink-2">
        A sheet is a table that people fill in together and workflows read and write: a plan of what goes out, a list of
        what was posted. A workflow can begin when a row becomes ready, and write back what became of it.
      </p>
      <button class="btn btn-main" @click="begin('Content plan', CONTENT_PLAN)">Begin with a content plan</button>
    </div>
    <DataTable
      v-else-if="sheets"
      name="sheets"
      label="Sheets"
      :rows="sheets"
      :columns="columns"
      :key-of="(sheet) => sheet.id"
      @open="(sheet) => router.push(open(sheet.id))"
    >
      <template #cell-name="{ row: sheet }">
        <RouterLink :to="open(sheet.id)" class="font-[650] no-underline hover:underline">{{ sheet.name }}</RouterLink>
      </template>
      <template #cell-columns="{ row: sheet }">
        <span class="text-ink-2">{{ sheet.columns.map((column) => column.name).join(', ') }}</span>
      </template>
      <template #cell-uses="{ row: sheet }">
        <div v-for="use in names(sheet)" :key="use.workflowId">
          <RouterLink :to="{ name: 'run-sheet', params: { brand: session.brandId, id: use.workflowId } }">{{
            use.workflow
          }}</RouterLink>
          <span v-if="!use.live" class="text-ink-3"> (not on)</span>
        </div>
        <span v-if="sheet.inStepWith" class="text-ink-2">in step with {{ sheet.inStepWith }}</span>
        <span v-else-if="sheet.uses.length === 0" class="text-ink-3">nothing yet</span>
      </template>
      <template #cell-actions="{ row: sheet }">
        <button
          v-if="!sheet.uses.some((use) => use.live)"
          class="btn btn-quiet"
          :aria-label="`Delete ${sheet.name}`"
          @click="remove(sheet)"
        >
          Delete
        </button>
      </template>
    </DataTable>
    <p v-else-if="!trouble" class="text-ink-3">Loading …</p>
    <FromTableDialog
      v-if="fromTable"
      @close="fromTable = false"
      @made="(id) => ((fromTable = false), router.push(open(id)))"
    />
    <ColumnsDialog
      v-if="making"
      :name="making.name"
      :columns="making.columns"
      :uses="[]"
      :send="make"
      @close="making = undefined"
    />
  </div>
</template>
