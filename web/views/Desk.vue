<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue';
import { ChartLine, Quote, Radio, Scale } from '@lucide/vue';
import { useDebounceFn, useElementHover, useFocusWithin } from '@vueuse/core';
import { computed, nextTick, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import {
  KIND_CHOICES,
  LANGUAGE_CHOICES,
  placeChoices,
  STAR_CHOICES,
  TONE_CHOICES,
} from '../components/desk/choices.ts';
import ConversationPanel from '../components/desk/ConversationPanel.vue';
import DeskRow from '../components/desk/DeskRow.vue';
import PolicyDialog from '../components/desk/PolicyDialog.vue';
import SourcesDialog from '../components/desk/SourcesDialog.vue';
import VoiceDialog from '../components/desk/VoiceDialog.vue';
import { useDesk, type BrandEntry, type Tend } from '../components/desk/use-desk.ts';
import FilterSelect from '../components/form/FilterSelect.vue';
import KeptViews from '../components/form/KeptViews.vue';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';

// What people wrote to the brand, beside what we would answer.
const session = useSession();
const notices = useNotices();
const route = useRoute();
const router = useRouter();
const text = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '');
const FILTERS = [
  'shelf',
  'kind',
  'outlet',
  'stars',
  'tone',
  'language',
  'label',
  'assigned',
  'words',
  'order',
] as const;
type Filter = (typeof FILTERS)[number];
/** The filters are in the address, so that a view can be kept and sent to a colleague. */
const set = (name: Filter | 'brands', value: string) =>
  router.replace({ query: { ...route.query, [name]: value || undefined } });
/** Whose desk: that of the chosen brand, or of all of somebody's. */
const everyBrand = computed(() => text('brands') === 'all' && session.brands.length > 1);
const BRANDS = [{ value: 'all', name: 'all brands' }];
const query = computed(() => {
  const asked = new URLSearchParams();
  for (const name of FILTERS) if (text(name)) asked.set(name, text(name));
  return asked.toString();
});
const shelf = computed(() => text('shelf') || 'open');
/** The server counts no further. */
const counted = (count: number) => (count >= 1000 ? '1000 or more' : String(count));
const usualOrder = computed(() => (shelf.value === 'open' || shelf.value === 'later' ? 'oldest' : 'newest'));
type Order = (typeof ORDERS)[number]['value'];
const order = computed(() => (text('order') || usualOrder.value) as Order);
const asked = computed(() => ({
  query: query.value,
  order: order.value,
  brands: everyBrand.value ? session.brands.map(({ id }) => id) : [session.brandId],
}));
const setOrder = (order: string) => set('order', order === usualOrder.value ? '' : order);
const ORDERS = [
  { value: 'oldest', name: 'oldest first' },
  { value: 'atRisk', name: 'at risk first' },
  { value: 'newest', name: 'newest first' },
] as const;
const memberChoices = computed(() =>
  (desk.value?.members ?? []).map(({ id, name }) => ({ value: id, name: id === session.user?.id ? 'mine' : name })),
);
/** One that nobody has any more is still what is looked at. */
const labelChoices = computed(() =>
  [...new Set([...(desk.value?.labels ?? []), ...(text('label') ? [text('label')] : [])])].map((label) => ({
    value: label,
    name: label,
  })),
);
const filtered = computed(() => FILTERS.some((name) => name !== 'shelf' && name !== 'order' && text(name) !== ''));
const search = ref(text('words'));
watch(
  search,
  useDebounceFn(() => void set('words', search.value.trim()), 250),
);

const list = useTemplateRef<HTMLElement>('list');
const hovered = useElementHover(list);
const { focused } = useFocusWithin(list);
const busy = computed(() => hovered.value || focused.value);
const { desk, membersOf, rows, more, trouble, loading, now, load, textOf, isTyped, type, ready, ...acts } = useDesk(
  asked,
  busy,
);
const { send, callBack, tend, open } = acts;

const chosen = ref<Set<number>>(new Set());
const opened = ref<number>();
const active = ref<number>();
const listening = ref(false);
const ruling = ref(false);
const voicing = ref(false);
const asking = ref<BrandEntry[]>();
const rowsAt = ref<Record<number, InstanceType<typeof DeskRow> | null>>({});
const tabs = computed(() => [
  { shelf: 'open', label: 'To answer', count: desk.value?.counts.open },
  { shelf: 'later', label: 'Put off', count: desk.value?.counts.later },
  { shelf: 'answered', label: 'Answered', count: undefined },
  { shelf: 'left', label: 'Left', count: undefined },
]);
watch(asked, () => {
  chosen.value = new Set();
  opened.value = undefined;
  active.value = undefined;
});
watch(rows, (shown) => {
  const here = new Set(shown.map(({ row }) => row.itemId));
  if ([...chosen.value].some((item) => !here.has(item)))
    chosen.value = new Set([...chosen.value].filter((item) => here.has(item)));
});

const chosenRows = computed(() =>
  rows.value.filter(({ row, gone }) => !gone && chosen.value.has(row.itemId)).map(({ row }) => row),
);
/** What is sent by the button for many: those chosen, or all that are shown and have words. */
const many = computed(() => {
  const sendable = ready.value.map(({ row }) => row);
  return chosen.value.size > 0 ? sendable.filter(({ itemId }) => chosen.value.has(itemId)) : sendable;
});
function choose(item: number) {
  const after = new Set(chosen.value);
  if (!after.delete(item)) after.add(item);
  chosen.value = after;
}

const indexOf = (item: number | undefined) => rows.value.findIndex(({ row }) => row.itemId === item);
async function goTo(index: number) {
  const at = rows.value[Math.min(Math.max(index, 0), rows.value.length - 1)];
  if (!at) return;
  active.value = at.row.itemId;
  await nextTick();
  const row = list.value?.querySelector<HTMLElement>(`[data-item="${at.row.itemId}"]`);
  row?.focus();
  row?.scrollIntoView({ block: 'nearest' });
}
/** The next one below that still waits, where there is one. */
function nextAfter(item: number): number {
  const from = indexOf(item);
  const after = rows.value.findIndex(({ row, gone }, index) => index > from && !gone && row.sending === null);
  return after < 0 ? from : after;
}

async function sendOne(entry: BrandEntry, go = false) {
  if (textOf(entry).trim() === '') return;
  const next = nextAfter(entry.itemId);
  const refused = await send([entry]);
  if (refused.length === 0) notices.say('It goes in ten seconds.', () => void callBack([entry.itemId]));
  if (go && refused.length === 0) await goTo(next);
}
async function sendMany(entries: readonly BrandEntry[]) {
  asking.value = undefined;
  const items = entries.map(({ itemId }) => itemId);
  const refused = await send(entries);
  const count = items.length - refused.length;
  chosen.value = new Set(refused.map(({ itemId }) => itemId));
  if (count > 0)
    notices.say(
      count === 1 ? 'One answer goes in ten seconds.' : `${count} answers go in ten seconds.`,
      () => void callBack(items.filter((item) => !refused.some(({ itemId }) => itemId === item))),
    );
}
async function tendMany(items: readonly number[], doing: Tend) {
  await tend(items, doing);
  if (doing.do === 'ignore')
    notices.say(
      items.length === 1 ? 'Left without an answer.' : `${items.length} left without an answer.`,
      () => void tend(items, { do: 'reopen' }),
    );
}

let answering: BrandEntry | undefined;
/** Keeps a claim on what is being answered, for as long as somebody is at it. */
const keepOpen = setInterval(() => answering && void open(answering, true), 25_000);
function onAnswering(entry: BrandEntry, at: boolean, over = false) {
  if (at) {
    active.value = entry.itemId;
    answering = entry;
    void open(entry, true, over);
  } else {
    if (answering?.itemId === entry.itemId) answering = undefined;
    void open(entry, false);
    // What was typed is kept for colleagues too.
    if (isTyped(entry)) void tend([entry.itemId], { do: 'keep', text: textOf(entry) });
  }
}
onBeforeUnmount(() => {
  clearInterval(keepOpen);
  if (answering) void open(answering, false);
});

function onKey(event: KeyboardEvent) {
  const target = event.target as HTMLElement;
  const entry = rows.value[indexOf(active.value)]?.row;
  const sends = (event.ctrlKey || event.metaKey) && event.key === 'Enter';
  if (sends && entry) {
    event.preventDefault();
    return void sendOne(entry, true);
  }
  if (target.tagName === 'TEXTAREA' || target.tagName === 'INPUT') {
    if (event.key === 'Escape' && entry) void goTo(indexOf(entry.itemId));
    return;
  }
  if (event.ctrlKey || event.metaKey || event.altKey || !target.dataset.item) return;
  const at = indexOf(Number(target.dataset.item));
  const doing: Record<string, () => unknown> = {
    j: () => goTo(at + 1),
    ArrowDown: () => goTo(at + 1),
    k: () => goTo(at - 1),
    ArrowUp: () => goTo(at - 1),
    Home: () => goTo(0),
    End: () => goTo(rows.value.length - 1),
    d: () => rowsAt.value[Number(target.dataset.item)]?.draft(),
    e: () => rowsAt.value[Number(target.dataset.item)]?.edit(),
    Enter: () => entry && sendOne(entry, true),
    x: () => choose(Number(target.dataset.item)),
    o: () => (opened.value = Number(target.dataset.item)),
    u: () => entry?.sending && callBack([entry.itemId]),
  };
  const act = doing[event.key.length === 1 ? event.key.toLowerCase() : event.key];
  if (!act) return;
  event.preventDefault();
  void act();
}
</script>

<template>
  <div class="mx-auto w-full max-w-[1280px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <h1 class="text-xl">Desk</h1>
      <span class="text-ink-2" role="status">
        <template v-if="desk">{{
          desk.counts.open === 0 ? 'Nobody waits for an answer' : `${counted(desk.counts.open)} to answer`
        }}</template>
      </span>
      <span class="ml-auto flex flex-wrap gap-2">
        <button v-if="many.length" class="btn" @click="asking = many">
          Send the {{ many.length }} {{ chosen.size ? 'chosen' : 'shown' }} …
        </button>
        <FilterSelect label="In which order" :options="ORDERS" :value="order" @change="setOrder($event)" />
        <FilterSelect
          v-if="session.brands.length > 1"
          label="Whose desk"
          :any="session.brand?.name ?? ''"
          :options="BRANDS"
          :value="everyBrand ? 'all' : ''"
          @change="set('brands', $event)"
        />
        <KeptViews place="desk" />
        <template v-if="!everyBrand">
          <RouterLink class="btn" :to="{ name: 'desk-numbers', params: { brand: session.brandId } }">
            <ChartLine :size="15" /> Numbers
          </RouterLink>
          <button class="btn" @click="ruling = true"><Scale :size="15" /> Policy</button>
          <button class="btn" @click="voicing = true"><Quote :size="15" /> Voice</button>
          <button class="btn" @click="listening = true"><Radio :size="15" /> Where it listens</button>
        </template>
      </span>
    </div>
    <div class="sheet mb-3 flex flex-wrap items-center gap-x-2 gap-y-2 px-3 py-2">
      <div role="radiogroup" aria-label="Which part of the desk" class="flex flex-wrap gap-1">
        <button
          v-for="tab in tabs"
          :key="tab.shelf"
          role="radio"
          :aria-checked="shelf === tab.shelf"
          class="rounded-(--radius) px-2 py-1"
          :class="shelf === tab.shelf ? 'bg-sea-wash font-[650]' : 'hover:bg-paper'"
          @click="set('shelf', tab.shelf === 'open' ? '' : tab.shelf)"
        >
          {{ tab.count ? `${tab.label} ${counted(tab.count)}` : tab.label }}
        </button>
      </div>
      <span class="hidden h-5 w-px bg-line sm:block"></span>
      <input
        v-model="search"
        type="search"
        class="field w-28"
        placeholder="Words, name"
        aria-label="Find words or a name"
      />
      <FilterSelect
        label="Which kind"
        any="every kind"
        :options="KIND_CHOICES"
        :value="text('kind')"
        @change="set('kind', $event)"
      />
      <FilterSelect
        class="max-w-32"
        label="Which place"
        any="every place"
        :options="placeChoices(desk?.outlets)"
        :value="text('outlet')"
        @change="set('outlet', $event)"
      />
      <FilterSelect
        label="How many stars"
        any="any stars"
        :options="STAR_CHOICES"
        :value="text('stars')"
        @change="set('stars', $event)"
      />
      <FilterSelect
        label="How it sounds"
        any="any tone"
        :options="TONE_CHOICES"
        :value="text('tone')"
        @change="set('tone', $event)"
      />
      <FilterSelect
        label="Which language"
        any="any language"
        :options="LANGUAGE_CHOICES"
        :value="text('language')"
        @change="set('language', $event)"
      />
      <FilterSelect
        label="Who has it"
        any="anyone’s"
        :options="memberChoices"
        :value="text('assigned')"
        @change="set('assigned', $event)"
      />
      <FilterSelect
        v-if="labelChoices.length"
        class="max-w-28"
        label="Which label"
        any="any label"
        :options="labelChoices"
        :value="text('label')"
        @change="set('label', $event)"
      />
      <span class="ml-auto flex flex-wrap gap-2">
        <template v-if="chosenRows.length && shelf !== 'answered'">
          <button
            v-if="shelf !== 'left'"
            class="btn"
            @click="
              tendMany(
                chosenRows.map(({ itemId }) => itemId),
                { do: 'ignore' },
              )
            "
          >
            Leave {{ chosenRows.length }}
          </button>
          <button
            v-else
            class="btn"
            @click="
              tendMany(
                chosenRows.map(({ itemId }) => itemId),
                { do: 'reopen' },
              )
            "
          >
            Take {{ chosenRows.length }} up
          </button>
        </template>
      </span>
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble }} <button class="underline" @click="load()">Try again</button>
    </p>
    <div class="grid gap-3" :class="opened !== undefined && 'lg:grid-cols-[minmax(0,1fr)_340px]'">
      <div class="min-w-0">
        <p v-if="!desk && !trouble" class="text-ink-3">Loading …</p>
        <div v-else-if="desk && rows.length === 0" class="sheet px-4 py-5 text-ink-2">
          <template v-if="filtered"
            >Nothing like that is here.
            <button class="link" @click="((search = ''), router.replace({ query: {} }))">Show all</button></template
          >
          <template v-else-if="shelf === 'open'">
            Nobody waits for an answer. Reviews, comments and messages that people write to
            {{ everyBrand ? 'your brands' : session.brand?.name }} come here, whether or not a workflow answers them.
            <button class="link" @click="listening = true">Choose where the desk listens</button>
          </template>
          <template v-else>Nothing is here yet.</template>
        </div>
        <div v-else ref="list" role="table" aria-label="What people wrote" class="sheet" @keydown="onKey">
          <div role="row" class="desk-head grid gap-x-3 border-b border-line px-3 py-1.5 text-sm text-ink-3">
            <span role="columnheader"><span class="sr-only">choose</span></span>
            <span role="columnheader">who</span>
            <span role="columnheader">what they said</span>
            <span role="columnheader">{{ shelf === 'answered' ? 'what we answered' : 'what we would answer' }}</span>
            <span role="columnheader" class="desk-head-acts"><span class="sr-only">what to do</span></span>
          </div>
          <DeskRow
            v-for="{ row, gone, place } in rows"
            :key="place"
            :ref="(at) => (rowsAt[row.itemId] = at as InstanceType<typeof DeskRow> | null)"
            tabindex="0"
            :data-item="row.itemId"
            :entry="row"
            :gone="gone"
            :text="textOf(row)"
            :now="now"
            :chosen="chosen.has(row.itemId)"
            :active="active === row.itemId"
            :opened="opened === row.itemId"
            :members="membersOf(row.brandId)"
            :several="everyBrand"
            @focus="active = row.itemId"
            @text="type(row, $event)"
            @send="sendOne(row)"
            @back="callBack([row.itemId])"
            @tend="tendMany([row.itemId], $event)"
            @choose="choose(row.itemId)"
            @label="set('label', $event)"
            @show="opened = opened === row.itemId ? undefined : row.itemId"
            @answering="(at, over) => onAnswering(row, at, over)"
          />
        </div>
        <p v-if="rows.length" class="mt-2 hidden text-sm text-ink-3 sm:block">
          J and K move · E edits the answer · Enter or Ctrl+Enter sends · X marks · O opens the conversation · ten
          seconds to undo before anything leaves
        </p>
        <button v-if="more" class="btn mt-2" :disabled="loading" @click="load(true)">More of them</button>
      </div>
      <ConversationPanel
        v-if="opened !== undefined"
        :item="opened"
        :brand-id="rows.find(({ row }) => row.itemId === opened)?.row.brandId"
        @close="opened = undefined"
      />
    </div>
    <PolicyDialog v-if="ruling" @close="ruling = false" />
    <VoiceDialog v-if="voicing" @close="voicing = false" />
    <SourcesDialog v-if="listening" @close="((listening = false), load())" />
    <Dialog
      v-if="asking"
      :open="true"
      class="fixed inset-0 z-40 grid place-items-center bg-ink/40 p-4"
      @close="asking = undefined"
    >
      <DialogPanel class="sheet flex max-h-[86vh] w-full max-w-lg flex-col p-5 shadow-xl">
        <DialogTitle class="text-lg font-[650]"
          >Send {{ asking.length === 1 ? 'one answer' : `${asking.length} answers` }}?</DialogTitle
        >
        <ul class="mt-2 min-h-0 overflow-auto rounded-(--radius) bg-paper px-3 py-2" tabindex="0">
          <li v-for="entry in asking" :key="entry.itemId" class="border-b border-line py-1.5 last:border-0">
            <b>{{ entry.person.name }}</b> <span class="text-ink-3">{{ entry.outlet }}</span>
            <span class="block break-words">{{ textOf(entry) }}</span>
          </li>
        </ul>
        <div class="mt-4 flex flex-wrap justify-end gap-2">
          <button class="btn" @click="asking = undefined">Cancel</button>
          <button class="btn btn-main" @click="sendMany(asking)">Send {{ asking.length }}</button>
        </div>
      </DialogPanel>
    </Dialog>
  </div>
</template>

<style scoped>
.desk-head {
  grid-template-columns: 18px minmax(0, 150px) minmax(0, 1fr) minmax(0, 1fr) auto;
}
.desk-head-acts {
  min-width: 108px;
}
@media (max-width: 760px) {
  .desk-head {
    display: none;
  }
}
</style>
