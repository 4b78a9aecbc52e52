<script setup lang="ts">
import { ArrowLeftRight } from '@lucide/vue';
import { useDebounceFn } from '@vueuse/core';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { sayCell, type Cell } from '@playa/core/sheets/cell.ts';
import { isWritten } from '@playa/core/sheets/column.ts';
import { columnsLike, guessPairs } from '@playa/core/sheets/guess-pairs.ts';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import { useStale } from '../../lib/changed-meanwhile.ts';
import { everyPage } from '../../lib/pages.ts';
import type { SheetSyncPreview, TableElsewhere } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import SyncPreview from './SyncPreview.vue';
import type { OpenSheet } from './use-sheet.ts';
import ChangedMeanwhile from '../form/ChangedMeanwhile.vue';
import ModalDialog from '../form/ModalDialog.vue';

// A sheet is kept in step with a table elsewhere: with which, which column is which, whose word stands; and what would be
// done first, before it is.
const props = defineProps<{ open: OpenSheet }>();
const emit = defineEmits<{ close: [] }>();
const session = useSession();
const notices = useNotices();
const known = computed(() => props.open.sheet.value?.inStep ?? null);
/** The revision of how it was kept in step when it was opened here; null for not at all. */
let seen = known.value?.revision ?? null;
const { stale, isStale } = useStale();
const tables = ref<TableElsewhere[]>();
const outletId = ref<number>();
/** What each column there is here: a key, "+" for a new column, nothing. */
const here = ref<Record<string, string>>({});
const match = ref('');
const wins = ref<'here' | 'there'>(known.value?.rules.wins ?? 'there');
const deletions = ref(known.value?.rules.deletions ?? true);
const preview = ref<SheetSyncPreview>();
const { busy, trouble: wrong, attempt } = useAttempt();

const columns = computed(() => props.open.columns.value.filter(isWritten));
const table = computed(() => tables.value?.find(({ id }) => id === outletId.value));
const pairs = computed(() =>
  (table.value?.columns ?? []).flatMap(({ name }) => {
    const key = here.value[name];
    return key && key !== '+' ? [{ key, there: name }] : [];
  }),
);
const fresh = computed(() => (table.value?.columns ?? []).filter(({ name }) => here.value[name] === '+'));
const alone = computed(() =>
  columns.value.filter(({ key }) => !pairs.value.some((pair) => pair.key === key)).map(({ name }) => name),
);
const rules = computed(() => ({
  columns: pairs.value,
  match: pairs.value.some(({ key }) => key === match.value) ? match.value : null,
  wins: wins.value,
  deletions: deletions.value,
}));
const nameOf = (key: string) => props.open.columns.value.find((column) => column.key === key)?.name ?? key;
function titleOf(id: number): string {
  const cells = props.open.rows.value.get(id)?.cells;
  const [first] = props.open.columns.value;
  return (first && cells && sayCell(first, (cells[first.key] ?? null) as Cell, props.open.context.value)) || 'Untitled';
}

async function load() {
  try {
    const pages = await everyPage('listTablesElsewhere', { brand: session.brandId });
    tables.value = pages.flatMap((page) => page.tables);
    begin();
  } catch (error) {
    wrong.value = (error as Error).message;
  }
}
void load();
/** As it is kept in step now. */
function begin() {
  seen = known.value?.revision ?? null;
  if (!known.value) return;
  const { outlet, rules: of } = known.value;
  outletId.value = outlet.id;
  // A column that is gone here stands for nothing there any more.
  const left = of.columns.filter(({ key }) => columns.value.some((column) => column.key === key));
  here.value = Object.fromEntries(left.map(({ key, there }) => [there, key]));
  match.value = of.match ?? '';
  wins.value = of.wins;
  deletions.value = of.deletions;
}
async function seeTheirs() {
  stale.value = undefined;
  await props.open.load();
  begin();
}

function choose(id: number) {
  outletId.value = id;
  const guessed = guessPairs(props.open.columns.value, table.value?.columns ?? []);
  here.value = Object.fromEntries(guessed.map(({ key, there }) => [there, key]));
  match.value = guessed.find(({ key }) => tells(key))?.key ?? '';
}
/** Whether a column may tell rows apart: many say the same in a choice, and few in a title or an address. */
const tells = (key: string) =>
  ['text', 'longText', 'link'].includes(columns.value.find((column) => column.key === key)?.type ?? '');
/** A column here stands for one there at most. */
function pairUp(name: string, key: string) {
  const rest = Object.entries(here.value).filter(([there, of]) => there !== name && (of === '+' || of !== key));
  here.value = { ...Object.fromEntries(rest), [name]: key };
}

let asked = 0;
let closed = false;
onBeforeUnmount(() => (closed = true));
const look = useDebounceFn(async () => {
  const turn = ++asked;
  if (closed) return;
  if (outletId.value === undefined || pairs.value.length === 0) return void (preview.value = undefined);
  try {
    const body = { outletId: outletId.value, rules: rules.value };
    const seen = await call('previewSheetSync', props.open.is, { body });
    if (turn !== asked) return;
    preview.value = seen;
    wrong.value = '';
  } catch (error) {
    if (turn === asked) wrong.value = (error as Error).message;
  }
}, 250);
watch([outletId, rules], () => void look());

async function keep(over = seen) {
  stale.value = undefined;
  await attempt(async () => {
    const added = columnsLike(fresh.value, props.open.columns.value);
    if (added.length > 0 && !(await props.open.change({ columns: [...props.open.columns.value, ...added] }))) return;
    const more = added.map(({ key }, index) => ({ key, there: fresh.value[index]!.name }));
    const body = {
      outletId: outletId.value!,
      rules: { ...rules.value, columns: [...pairs.value, ...more] },
      revision: over,
    };
    await call('keepSheetInStep', props.open.is, { body });
    notices.say(`The sheet is kept in step with ${table.value?.name}.`);
    emit('close');
  }, isStale);
}
async function leave() {
  try {
    await call('leaveSheetApart', props.open.is);
    notices.say('The sheet is no longer kept in step. Both sides stay as they are.');
    emit('close');
  } catch (error) {
    wrong.value = (error as Error).message;
  }
}
</script>

<template>
  <ModalDialog :title="`Keep ${open.sheet.value?.name} in step`" width="large" @close="emit('close')">
    <p class="mt-1 text-ink-2">
      What is written in this sheet is written into a table elsewhere a moment later, and what is written there comes
      here within a minute; among thousands of rows it takes longer.
    </p>
    <p v-if="wrong" role="alert" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
    <ChangedMeanwhile v-if="stale" :says="stale.says" :busy="busy" @theirs="seeTheirs" @mine="keep(stale.current)" />
    <p v-if="!tables && !wrong" class="mt-3 text-ink-3">Loading …</p>
    <p v-else-if="tables?.length === 0" class="mt-3">
      No connected account has a table.
      <RouterLink :to="{ name: 'accounts', params: { brand: session.brandId } }">Connect one</RouterLink> first.
    </p>
    <template v-else-if="tables">
      <label class="mt-4 grid gap-1">
        <span class="font-[650]">The table</span>
        <select
          class="field"
          :value="outletId ?? ''"
          @change="choose(Number(($event.target as HTMLSelectElement).value))"
        >
          <option value="" disabled>Choose a table</option>
          <option
            v-for="each in tables"
            :key="each.id"
            :value="each.id"
            :disabled="each.inStepWith !== null && each.id !== known?.outlet.id"
          >
            {{ each.name
            }}{{ each.inStepWith && each.id !== known?.outlet.id ? ` (in step with ${each.inStepWith.name})` : '' }}
          </option>
        </select>
      </label>
      <template v-if="table">
        <h3 class="mt-4 font-[650]">Which column is which</h3>
        <div class="mt-1 grid gap-x-6 gap-y-1 sm:grid-cols-2">
          <label v-for="{ name } in table.columns" :key="name" class="flex items-center gap-2">
            <span class="min-w-0 flex-1 truncate" :title="name">{{ name }}</span>
            <ArrowLeftRight :size="14" class="text-ink-3" aria-hidden="true" />
            <select
              class="field w-44"
              :aria-label="`What ${name} is here`"
              :value="here[name] ?? ''"
              @change="pairUp(name, ($event.target as HTMLSelectElement).value)"
            >
              <option value="">stays there</option>
              <option v-for="column in columns" :key="column.key" :value="column.key">{{ column.name }}</option>
              <option value="+">a new column</option>
            </select>
          </label>
        </div>
        <p v-if="alone.length" class="mt-1 text-sm text-ink-3">Only here: {{ alone.join(', ') }}.</p>
        <div class="mt-4 grid gap-3 sm:grid-cols-2">
          <label v-if="!known || known.outlet.id !== outletId" class="grid gap-1">
            <span class="font-[650]">Rows on both sides are the same if they say the same in</span>
            <select v-model="match" class="field">
              <option value="">all of these columns</option>
              <option v-for="pair in pairs" :key="pair.key" :value="pair.key">{{ nameOf(pair.key) }}</option>
            </select>
          </label>
          <label class="grid content-start gap-1">
            <span class="font-[650]">Where both have changed the same cell</span>
            <select v-model="wins" class="field">
              <option value="there">the table elsewhere is right</option>
              <option value="here">this sheet is right</option>
            </select>
          </label>
        </div>
        <label class="mt-3 flex items-center gap-2">
          <input v-model="deletions" type="checkbox" /> A row that is deleted in one is deleted in the other
        </label>
        <SyncPreview
          v-if="preview && pairs.length"
          :preview="preview"
          :wins="wins"
          :name-of="nameOf"
          :title-of="titleOf"
        />
        <p v-else-if="pairs.length + fresh.length === 0" class="mt-3 text-ink-2">
          Choose for at least one column what it is here.
        </p>
      </template>
    </template>
    <template #actions>
      <button v-if="known" class="btn mr-auto" @click="leave">Stop keeping in step</button>
      <button class="btn" @click="emit('close')">Cancel</button>
      <button class="btn btn-main" :disabled="busy || pairs.length + fresh.length === 0" @click="keep()">
        Keep in step
      </button>
    </template>
  </ModalDialog>
</template>
