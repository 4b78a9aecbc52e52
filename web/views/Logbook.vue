<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue';
import { Columns3, Rss } from '@lucide/vue';
import { useDebounceFn } from '@vueuse/core';
import { DateTime } from 'luxon';
import { computed, ref, watch } from 'vue';
import DayRange from '../components/form/DayRange.vue';
import DeleteDialog from '../components/logbook/DeleteDialog.vue';
import { COLUMNS, useColumns, type LogbookColumn } from '../components/logbook/columns.ts';
import EntryPanel from '../components/logbook/EntryPanel.vue';
import EntryRow from '../components/logbook/EntryRow.vue';
import ChooseOne from '../components/form/ChooseOne.vue';
import SaveAsMenu from '../components/form/SaveAsMenu.vue';
import KeptViews from '../components/form/KeptViews.vue';
import AddressDialog from '../components/form/AddressDialog.vue';
import TidyList from '../components/logbook/TidyList.vue';
import { SORTS } from '../components/logbook/words.ts';
import { addressOf } from '../lib/api.ts';
import { daysBetween, useFilters } from '../lib/filters.ts';
import type { LogbookEntry } from '../lib/types.ts';
import { usePages, useResource } from '../stores/resource.ts';
import { useSession } from '../stores/session.ts';

// Everything that went out, was answered, recorded or changed; and what of it wants tidying up.
const choices = (list: readonly { id: number | string; name: string }[] = []) =>
  list.map(({ id, name }) => ({ value: id, name }));
const CHANGED = [
  { value: 'edited', name: 'edited since' },
  { value: 'deleted', name: 'deleted since' },
];
const session = useSession();
const opened = ref<LogbookEntry>();
const chosen = ref<Set<string>>(new Set());
const deleting = ref(false);
const feed = ref(false);
const tidying = computed(() => text('show') === 'tidy');
const { text, set, asked: named, clear } = useFilters<'readLogbook'>(['words', 'outlet', 'workflow', 'changed']);
const search = ref(text('words'));
const searchSoon = useDebounceFn(() => void set({ words: search.value.trim() }), 200);
watch(search, searchSoon);
const asked = computed(() => {
  const actions = SORTS.find((sort) => sort.id === text('sort'))?.actions.join(',');
  return { ...named.value, ...(actions && { actions }), ...daysBetween(text('from'), text('to'), session.zone) };
});
const brand = () => ({ brand: session.brandId });
const { data, trouble, busy, load, more, further } = usePages('readLogbook', brand, {
  query: asked,
  topics: ['runs', 'accounts'],
});
const { data: filters } = useResource('openLogbook', brand);
const entries = computed(() => data.value?.flatMap((page) => page.entries));
watch(entries, (now) => {
  if (!now) return;
  const here = new Map(now.map((entry) => [entry.key, entry]));
  chosen.value = new Set([...chosen.value].filter((key) => here.has(key)));
  opened.value &&= here.get(opened.value.key) ?? opened.value;
});

const days = computed(() => {
  const groups = new Map<string, LogbookEntry[]>();
  for (const entry of entries.value ?? []) {
    const day = DateTime.fromMillis(entry.at, { zone: session.zone, locale: 'en' }).toFormat('cccc d LLLL yyyy');
    groups.set(day, [...(groups.get(day) ?? []), entry]);
  }
  return [...groups];
});
const outletOf = (id: number | null) => filters.value?.outlets.find((each) => each.id === id);
const canDelete = (entry: LogbookEntry) =>
  entry.action === 'publish' &&
  entry.deletedAt === null &&
  outletOf(entry.outletId)?.revisions.includes('delete') === true;
const toDelete = computed(() =>
  (entries.value ?? []).filter((entry) => chosen.value.has(entry.key) && canDelete(entry)),
);
function choose(key: string) {
  const after = new Set(chosen.value);
  if (!after.delete(key)) after.add(key);
  chosen.value = after;
}
const any = computed(() => Object.keys(asked.value).length > 0);
const { shows, inFiles, toggle } = useColumns(session.brandId);
</script>

<template>
  <div class="mx-auto w-full max-w-[1280px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <h1 class="text-xl">Logbook</h1>
      <div role="radiogroup" aria-label="What is shown" class="sheet ml-2 flex overflow-hidden">
        <button
          v-for="[of, name] in [
            ['', 'Everything'],
            ['tidy', 'To tidy up'],
          ] as const"
          :key="of"
          role="radio"
          :aria-checked="tidying === (of === 'tidy')"
          class="px-3 py-1.5"
          :class="tidying === (of === 'tidy') && 'bg-bar text-bar-ink'"
          @click="set({ show: of })"
        >
          {{ name }}
        </button>
      </div>
      <span class="ml-auto flex flex-wrap gap-2">
        <KeptViews place="logbook" />
        <Popover class="relative">
          <PopoverButton class="btn"><Columns3 :size="15" /> Columns</PopoverButton>
          <PopoverPanel
            class="absolute right-0 z-30 mt-1 w-52 rounded-(--radius) border border-line bg-card p-2 shadow-lg"
          >
            <label
              v-for="(name, column) in COLUMNS"
              :key="column"
              class="flex items-center gap-2 rounded px-1.5 py-1 hover:bg-sea-wash"
              ><input
                type="checkbox"
                class="accent-(--sea)"
                :checked="shows(column as LogbookColumn)"
                @change="toggle(column as LogbookColumn)"
              />{{ name }}</label
            >
          </PopoverPanel>
        </Popover>
        <button class="btn" @click="feed = true"><Rss :size="15" /> Feed</button>
        <SaveAsMenu
          :address="(as) => addressOf('exportLogbook', brand(), { ...asked, as, ...(inFiles && { columns: inFiles }) })"
        />
      </span>
    </div>
    <div v-if="!tidying" class="mb-3 flex flex-wrap items-center gap-2">
      <input
        v-model="search"
        type="search"
        class="field w-44"
        placeholder="Find in what was said"
        aria-label="Find in what was said"
      />
      <ChooseOne
        class="w-32"
        label="Which outlet"
        any="all outlets"
        :options="choices(filters?.outlets)"
        :value="text('outlet')"
        @change="set({ outlet: $event })"
      />
      <ChooseOne
        class="w-36"
        label="Which workflow"
        any="all workflows"
        :options="choices(filters?.workflows)"
        :value="text('workflow')"
        @change="set({ workflow: $event })"
      />
      <ChooseOne
        class="w-36"
        label="Which sort"
        any="everything"
        :options="choices(SORTS)"
        :value="text('sort')"
        @change="set({ sort: $event })"
      />
      <ChooseOne
        class="w-36"
        label="What became of it"
        any="in any state"
        :options="CHANGED"
        :value="text('changed')"
        @change="set({ changed: $event })"
      />
      <DayRange :from="text('from')" :to="text('to')" @change="set($event)" />
      <button v-if="any" class="btn btn-quiet" @click="((search = ''), clear())">All of it</button>
      <button v-if="toDelete.length" class="btn ml-auto text-rose" @click="deleting = true">
        Delete {{ toDelete.length }} there …
      </button>
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble }} <button class="underline" @click="load()">Try again</button>
    </p>
    <div class="grid gap-3" :class="opened && 'lg:grid-cols-[minmax(0,1fr)_340px]'">
      <TidyList v-if="tidying" @open="opened = $event" />
      <div v-else>
        <p v-if="!entries" class="text-ink-3">Loading …</p>
        <p v-else-if="entries.length === 0" class="sheet px-4 py-5 text-ink-2">
          {{
            any
              ? 'Nothing like that went out.'
              : 'Nothing has gone out yet. Once a workflow is on, what it does stands here.'
          }}
        </p>
        <section v-for="[day, ofDay] in days" :key="day" class="mb-3" :aria-label="day">
          <h2 class="mb-1 text-sm font-[650] text-ink-2">{{ day }}</h2>
          <ul class="sheet">
            <EntryRow
              v-for="entry in ofDay"
              :key="entry.key"
              :entry="entry"
              :outlet="outletOf(entry.outletId)"
              :zone="session.zone"
              :opened="opened?.key === entry.key"
              :shows="shows"
              :chosen="canDelete(entry) ? chosen.has(entry.key) : null"
              @open="opened = entry"
              @choose="choose(entry.key)"
            />
          </ul>
        </section>
        <button v-if="more" class="btn" :disabled="busy" @click="further">Earlier ones</button>
      </div>
      <EntryPanel v-if="opened" :entry="opened" :outlet="outletOf(opened.outletId)" @close="opened = undefined" />
    </div>
    <DeleteDialog
      v-if="deleting"
      :entries="toDelete"
      @close="deleting = false"
      @done="((deleting = false), (chosen = new Set()), load())"
    />
    <AddressDialog
      v-if="feed"
      opens="openFeed"
      sets="setFeed"
      :title="`A feed of what ${session.brand?.name} publishes`"
      about="The last 50 posts that are out, for a website or a reader of feeds."
      :names="{ atom: 'Atom', json: 'JSON Feed' }"
      @close="feed = false"
    />
  </div>
</template>
