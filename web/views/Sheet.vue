<script setup lang="ts">
import { ArrowLeftRight, FileUp, Plus, Redo2, Settings2, Trash2, Undo2, Workflow } from '@lucide/vue';
import { useMediaQuery } from '@vueuse/core';
import { computed, defineAsyncComponent, nextTick, ref, shallowRef, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { evaluate } from '@playa/core/conditions/evaluate.ts';
import { sayCell, type Cell, type Cells } from '@playa/core/sheets/cell.ts';
import { fold, type Column } from '@playa/core/sheets/column.ts';
import { rowFields } from '@playa/core/sheets/row-fields.ts';
import type { SheetView } from '@playa/core/sheets/view.ts';
import SaveAsMenu from '../components/form/SaveAsMenu.vue';
import ColumnsDialog from '../components/sheets/ColumnsDialog.vue';
import ConflictsDialog from '../components/sheets/ConflictsDialog.vue';
import ImportDialog from '../components/sheets/ImportDialog.vue';
import RowPanel from '../components/sheets/RowPanel.vue';
import SyncBar from '../components/sheets/SyncBar.vue';
import SyncDialog from '../components/sheets/SyncDialog.vue';
import ViewBar from '../components/sheets/ViewBar.vue';
import { useSheet } from '../components/sheets/use-sheet.ts';
import type { SheetRow } from '../lib/types.ts';
import { makeSheetWorkflow } from '../lib/make-workflow.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import { addressOf } from '../lib/api.ts';

const RowsGrid = defineAsyncComponent(() => import('../components/sheets/RowsGrid.vue'));

// One sheet: its rows in a grid, a row beside it, ways to look at it, files in and out.
const route = useRoute();
const router = useRouter();
const session = useSession();
const notices = useNotices();
const open = useSheet(Number(route.params.id));
const grid = ref<InstanceType<typeof RowsGrid>>();
const narrow = useMediaQuery('(max-width: 760px)');
const chosenView = ref('');
const view = ref<SheetView>({ name: '', sort: [], filter: null, hidden: [] });
const search = ref('');
const shown = ref(0);
const columnsOpen = ref(false);
const syncOpen = ref(false);
const file = shallowRef<File>();
const picker = ref<HTMLInputElement>();
void open.load();

const row = computed(() => (typeof route.query.row === 'string' ? Number(route.query.row) : null));
const showRow = (id: number | null) =>
  router.replace({ query: { ...route.query, row: id === null ? undefined : String(id) } });
const visible = computed<Column[]>(() => open.columns.value.filter(({ key }) => !view.value.hidden.includes(key)));
const views = computed(() => (open.sheet.value?.views ?? []) as SheetView[]);

const filter = computed<((each: SheetRow) => boolean) | undefined>(() => {
  const words = fold(search.value).split(/\s+/).filter(Boolean);
  const asked = view.value.filter;
  if (words.length === 0 && !asked) return undefined;
  const { value: context } = open.context;
  const columns = open.columns.value;
  return ({ cells }) => {
    if (asked && !evaluate(asked, rowFields(columns, cells as Cells, context), Date.now(), context).holds) return false;
    if (words.length === 0) return true;
    const said = fold(columns.map((column) => sayCell(column, (cells[column.key] ?? null) as Cell, context)).join(' '));
    return words.every((word) => said.includes(word));
  };
});
watch([open.rows, filter], () => {
  if (!filter.value) shown.value = open.rows.value.size;
});

function choose(name: string) {
  const kept = views.value.find((each) => each.name === name);
  chosenView.value = name;
  view.value = kept ? { ...kept } : { name: '', sort: [], filter: null, hidden: [] };
}
async function keepView(name: string) {
  const next = { ...view.value, name };
  const rest = views.value.filter((each) => fold(each.name) !== fold(name));
  if (await open.change({ views: [...rest, next] })) {
    chosenView.value = name;
    notices.say(`The view “${name}” is kept, for everybody.`);
  }
}
async function removeView() {
  const name = chosenView.value;
  if (await open.change({ views: views.value.filter((each) => each.name !== name) })) choose('');
}
async function addRow() {
  // Whoever types at once types into the new row, though it takes a moment to be there.
  let typed = '';
  const keep = (event: KeyboardEvent) => {
    if (event.key.length !== 1 || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    typed += event.key;
  };
  window.addEventListener('keydown', keep, true);
  try {
    const [added] = await open.add([{}]);
    if (!added) return;
    await nextTick();
    if (narrow.value) await showRow(added.id);
    else await grid.value?.show(added.id, () => typed);
  } finally {
    window.removeEventListener('keydown', keep, true);
  }
}
async function removeRows(ids: readonly number[]) {
  if (ids.length === 0) return notices.say('Choose cells of the rows first.');
  await open.remove(ids);
  if (row.value !== null && ids.includes(row.value)) await showRow(null);
  notices.say(ids.length === 1 ? 'The row is deleted.' : `${ids.length} rows are deleted.`, () => void open.undo());
}
async function keepColumns(next: { name: string; columns: Column[] }, over: number | undefined) {
  await open.changeOver(next, over!);
  columnsOpen.value = false;
}
function resized(key: string, width: number) {
  const columns = open.columns.value.map((column) =>
    column.key === key ? { ...column, width: Math.min(900, Math.max(40, width)) } : column,
  );
  void open.change({ columns });
}
function pick(event: Event) {
  const field = event.target as HTMLInputElement;
  file.value = field.files?.[0];
  field.value = '';
}
async function startWorkflow() {
  try {
    const id = await makeSheetWorkflow(session.brandId, open.sheet.value!);
    await router.push({ name: 'run-sheet', params: { brand: session.brandId, id } });
  } catch (error) {
    notices.wrong(error);
  }
}
const title = (each: SheetRow) => {
  const [first] = open.columns.value;
  return (first && sayCell(first, (each.cells[first.key] ?? null) as Cell, open.context.value)) || 'Untitled';
};
const listed = computed(() => [...open.rows.value.values()].filter(filter.value ?? (() => true)));
const secondary = computed(() =>
  open.columns.value.filter(({ type }) => type === 'choice' || type === 'moment').slice(0, 2),
);
watch(listed, (rows) => narrow.value && (shown.value = rows.length));
</script>

<template>
  <div class="mx-auto flex h-full w-full max-w-[1700px] flex-col p-4">
    <p v-if="open.trouble.value" role="alert" class="rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ open.trouble.value }} <button class="underline" @click="open.load()">Try again</button>
      <RouterLink :to="{ name: 'sheets', params: { brand: session.brandId } }" class="ml-2 underline"
        >All sheets</RouterLink
      >
    </p>
    <p v-else-if="!open.sheet.value" class="text-ink-3">Loading …</p>
    <template v-else>
      <div class="mb-2 flex flex-wrap items-center gap-2">
        <RouterLink :to="{ name: 'sheets', params: { brand: session.brandId } }" class="text-ink-2">Sheets</RouterLink>
        <span aria-hidden="true" class="text-ink-3">/</span>
        <h1 class="mr-2 text-xl font-[650]">{{ open.sheet.value.name }}</h1>
        <button class="btn btn-main" @click="addRow"><Plus :size="15" /> A row</button>
        <button class="btn px-2" :disabled="!open.canUndo.value" aria-label="Undo" @click="open.undo()">
          <Undo2 :size="15" />
        </button>
        <button class="btn px-2" :disabled="!open.canRedo.value" aria-label="Do again" @click="open.redo()">
          <Redo2 :size="15" />
        </button>
        <button
          v-if="!narrow"
          class="btn px-2"
          aria-label="Delete the chosen rows"
          title="Delete the chosen rows"
          @click="removeRows(grid?.chosenRows() ?? [])"
        >
          <Trash2 :size="15" />
        </button>
        <span class="text-sm text-ink-3" role="status">{{ open.sending.value ? 'Saving …' : '' }}</span>
        <span class="ml-auto flex flex-wrap gap-2">
          <button class="btn" @click="startWorkflow"><Workflow :size="15" /> Workflow</button>
          <button v-if="!open.sheet.value.inStep" class="btn" @click="syncOpen = true">
            <ArrowLeftRight :size="15" /> Keep in step
          </button>
          <button class="btn" @click="columnsOpen = true"><Settings2 :size="15" /> Edit columns</button>
          <button class="btn" @click="picker?.click()"><FileUp :size="15" /> Read a file</button>
          <input
            ref="picker"
            type="file"
            class="hidden"
            accept=".csv,.tsv,.txt,.xlsx"
            aria-label="File to read"
            @change="pick"
          />
          <SaveAsMenu :address="(as) => addressOf('exportSheet', open.is, { as })" />
        </span>
      </div>
      <SyncBar
        v-if="open.sheet.value.inStep"
        :open="open"
        :sync="open.sheet.value.inStep"
        @change="syncOpen = true"
        @row="showRow"
      />
      <ViewBar
        class="mb-3"
        :columns="open.columns.value"
        :views="views"
        :view="view"
        :chosen="chosenView"
        :search="search"
        :shown="shown"
        :all="open.rows.value.size"
        @choose="choose"
        @change="view = $event"
        @search="search = $event"
        @keep="keepView"
        @remove="removeView"
      />
      <div class="grid min-h-0 flex-1 gap-3" :class="row !== null && !narrow && 'grid-cols-[minmax(0,1fr)_360px]'">
        <ul v-if="narrow && row === null" class="sheet min-h-40 overflow-auto" aria-label="Rows">
          <li v-for="each in listed.slice(0, 300)" :key="each.id" class="border-b border-line last:border-0">
            <button class="w-full px-3 py-2 text-left" @click="showRow(each.id)">
              <b class="block font-[650]">{{ title(each) }}</b>
              <span v-for="column in secondary" :key="column.key" class="mr-3 text-ink-2">{{
                sayCell(column, (each.cells[column.key] ?? null) as Cell, open.context.value)
              }}</span>
            </button>
          </li>
          <li v-if="listed.length === 0" class="px-3 py-4 text-ink-2">No rows here.</li>
        </ul>
        <div v-else-if="!narrow" class="sheet min-h-60 overflow-hidden">
          <RowsGrid
            ref="grid"
            :open="open"
            :columns="visible"
            :sort="view.sort"
            :filter="filter"
            @row="showRow"
            @sorted="view = { ...view, sort: $event }"
            @resized="resized"
            @counted="shown = $event"
          />
        </div>
        <RowPanel
          v-if="row !== null"
          :id="row"
          :key="row"
          :open="open"
          @close="showRow(null)"
          @remove="removeRows([row!])"
        />
      </div>
      <ColumnsDialog
        v-if="columnsOpen"
        :name="open.sheet.value.name"
        :columns="open.columns.value"
        :uses="open.sheet.value.uses"
        :revision="open.sheet.value.revision"
        :send="keepColumns"
        @close="columnsOpen = false"
      />
      <SyncDialog v-if="syncOpen" :open="open" @close="((syncOpen = false), open.load())" />
      <ImportDialog
        v-if="file"
        :open="open"
        :file="file"
        @close="file = undefined"
        @added="((file = undefined), open.load())"
      />
      <ConflictsDialog v-if="open.conflicts.value.length" :open="open" />
    </template>
  </div>
</template>
