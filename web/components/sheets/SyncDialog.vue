<script setup lang="ts">
import { ArrowLeftRight } from '@lucide/vue';
import { useDebounceFn } from '@vueuse/core';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { z } from 'zod';
import { sayCell, type Cell } from '@playa/core/sheets/cell.ts';
import { isWritten } from '@playa/core/sheets/column.ts';
import { columnsLike, guessPairs } from '@playa/core/sheets/guess-pairs.ts';
import { call } from '../../lib/api.ts';
import { useStale } from '../../lib/changed-meanwhile.ts';
import { useSendForm } from '../../lib/form.ts';
import { everyPage } from '../../lib/pages.ts';
import type { SheetSyncPreview, TableElsewhere } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import SyncPreview from './SyncPreview.vue';
import type { OpenSheet } from './use-sheet.ts';
import ChangedMeanwhile from '../form/ChangedMeanwhile.vue';
import ChooseOne from '../form/ChooseOne.vue';
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
interface Draft {
  outletId: number | undefined;
  /** What each column there is here: a key, "+" for a new column, nothing. */
  here: Record<string, string>;
  match: string;
  wins: 'here' | 'there';
  deletions: boolean;
}
const form = useSendForm<Draft, Draft>({
  schema: z.object({
    outletId: z.number('Choose a table.').optional(),
    here: z
      .record(z.string(), z.string())
      .refine((here) => Object.values(here).some(Boolean), 'Choose for at least one column what it is here.'),
    match: z.string(),
    wins: z.enum(['here', 'there']),
    deletions: z.boolean(),
  }) as z.ZodType<Draft, Draft>,
  values: { outletId: undefined, here: {}, match: '', wins: 'there', deletions: true },
  send: keep,
  known: isStale,
});
const { busy, trouble: wrong, changed, values } = form;
const outletId = computed(() => values.value.outletId);
const here = computed(() => values.value.here);
const preview = ref<SheetSyncPreview>();

const columns = computed(() => props.open.columns.value.filter(isWritten));
const table = computed(() => tables.value?.find(({ id }) => id === outletId.value));
/** A table that another sheet is in step with is shown, so that nobody wonders where it is. */
const tableChoices = computed(() =>
  (tables.value ?? []).map(({ id, name, inStepWith }) => {
    if (!inStepWith || id === known.value?.outlet.id) return { value: id, name };
    return { value: id, name: `${name} (in step with ${inStepWith.name})`, disabled: true };
  }),
);
const columnChoices = computed(() => [
  ...columns.value.map(({ key, name }) => ({ value: key, name })),
  { value: '+', name: 'a new column' },
]);
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
  match: pairs.value.some(({ key }) => key === values.value.match) ? values.value.match : null,
  wins: values.value.wins,
  deletions: values.value.deletions,
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
  // A column that is gone here stands for nothing there any more.
  const left = of.columns.filter(({ key }) => columns.value.some((column) => column.key === key));
  form.reset({
    outletId: outlet.id,
    here: Object.fromEntries(left.map(({ key, there }) => [there, key])),
    match: of.match ?? '',
    wins: of.wins,
    deletions: of.deletions,
  });
}
async function seeTheirs() {
  stale.value = undefined;
  await props.open.load();
  begin();
}

function choose(id: number) {
  form.set('outletId', id);
  const guessed = guessPairs(props.open.columns.value, table.value?.columns ?? []);
  form.set('here', Object.fromEntries(guessed.map(({ key, there }) => [there, key])));
  form.set('match', guessed.find(({ key }) => tells(key))?.key ?? '');
}
/** Whether a column may tell rows apart: many say the same in a choice, and few in a title or an address. */
const tells = (key: string) =>
  ['text', 'longText', 'link'].includes(columns.value.find((column) => column.key === key)?.type ?? '');
/** A column here stands for one there at most. */
function pairUp(name: string, key: string) {
  const rest = Object.entries(here.value).filter(([there, of]) => there !== name && (of === '+' || of !== key));
  form.set('here', { ...Object.fromEntries(rest), [name]: key });
}

const valueOf = (event: Event) => (event.target as HTMLSelectElement).value;

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

function keepMine() {
  seen = stale.value!.current;
  return send();
}
function send() {
  stale.value = undefined;
  return form.submit();
}
async function keep(): Promise<void> {
  const added = columnsLike(fresh.value, props.open.columns.value);
  if (added.length > 0) {
    const made = fresh.value.map(({ name }, index) => [name, added[index]!.key] as const);
    if (!(await props.open.change({ columns: [...props.open.columns.value, ...added] }))) return;
    // Whatever becomes of the rest: they are there now, and are not made once more.
    form.set('here', { ...here.value, ...Object.fromEntries(made) });
  }
  const body = { outletId: outletId.value!, rules: rules.value, revision: seen };
  await call('keepSheetInStep', props.open.is, { body });
  notices.say(`The sheet is kept in step with ${table.value?.name}.`);
  emit('close');
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
  <ModalDialog
    :title="`Keep ${open.sheet.value?.name} in step`"
    width="large"
    :busy="busy"
    :unsaved="changed"
    @close="emit('close')"
  >
    <p class="mt-1 text-ink-2">
      What is written in this sheet is written into a table elsewhere a moment later, and what is written there comes
      here within a minute; among thousands of rows it takes longer.
    </p>
    <p v-if="wrong" role="alert" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
    <ChangedMeanwhile v-if="stale" :says="stale.says" :busy="busy" @theirs="seeTheirs" @mine="keepMine" />
    <p v-if="!tables && !wrong" class="mt-3 text-ink-3">Loading …</p>
    <p v-else-if="tables?.length === 0" class="mt-3">
      No connected account has a table.
      <RouterLink :to="{ name: 'accounts', params: { brand: session.brandId } }">Connect one</RouterLink> first.
    </p>
    <template v-else-if="tables">
      <label class="mt-4 grid gap-1">
        <span class="font-[650]">The table</span>
        <ChooseOne
          class="w-full"
          label="The table"
          prompt="Choose a table"
          :options="tableChoices"
          :value="outletId"
          @change="choose(Number($event))"
        />
      </label>
      <template v-if="table">
        <h3 class="mt-4 font-[650]">Which column is which</h3>
        <div class="mt-1 grid gap-x-6 gap-y-1 sm:grid-cols-2">
          <label v-for="{ name } in table.columns" :key="name" class="flex items-center gap-2">
            <span class="min-w-0 flex-1 truncate" :title="name">{{ name }}</span>
            <ArrowLeftRight :size="14" class="text-ink-3" aria-hidden="true" />
            <ChooseOne
              class="w-44"
              :label="`What ${name} is here`"
              any="stays there"
              :options="columnChoices"
              :value="here[name]"
              @change="pairUp(name, $event)"
            />
          </label>
        </div>
        <p v-if="alone.length" class="mt-1 text-sm text-ink-3">Only here: {{ alone.join(', ') }}.</p>
        <div class="mt-4 grid gap-3 sm:grid-cols-2">
          <label v-if="!known || known.outlet.id !== outletId" class="grid gap-1">
            <span class="font-[650]">Rows on both sides are the same if they say the same in</span>
            <ChooseOne
              label="Rows on both sides are the same if they say the same in"
              any="all of these columns"
              :options="pairs.map(({ key }) => ({ value: key, name: nameOf(key) }))"
              :value="values.match"
              @change="form.set('match', $event)"
            />
          </label>
          <label class="grid content-start gap-1">
            <span class="font-[650]">Where both have changed the same cell</span>
            <select class="field" :value="values.wins" @change="form.set('wins', valueOf($event) as Draft['wins'])">
              <option value="there">the table elsewhere is right</option>
              <option value="here">this sheet is right</option>
            </select>
          </label>
        </div>
        <label class="mt-3 flex items-center gap-2">
          <input
            type="checkbox"
            :checked="values.deletions"
            @change="form.set('deletions', ($event.target as HTMLInputElement).checked)"
          />
          A row that is deleted in one is deleted in the other
        </label>
        <SyncPreview
          v-if="preview && pairs.length"
          :preview="preview"
          :wins="values.wins"
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
      <button class="btn btn-main" :disabled="busy || pairs.length + fresh.length === 0" @click="send">
        Keep in step
      </button>
    </template>
  </ModalDialog>
</template>
