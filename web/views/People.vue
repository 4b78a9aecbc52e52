<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { NETWORK_WORDS, type NetworkKind } from '@playa/core/outlets/networks.ts';
import ConversationPanel from '../components/desk/ConversationPanel.vue';
import KeptViews from '../components/form/KeptViews.vue';
import ChooseOne from '../components/form/ChooseOne.vue';
import DataTable from '../components/table/DataTable.vue';
import type { Column } from '../components/table/columns.ts';
import { call } from '../lib/api.ts';
import { ago } from '../lib/times.ts';
import { useFilters } from '../lib/filters.ts';
import type { ListedContacts } from '../lib/types.ts';
import { useNotices } from '../stores/notices.ts';
import { usePages } from '../stores/resource.ts';
import { useSession } from '../stores/session.ts';
import ModalDialog from '../components/form/ModalDialog.vue';

// Everybody who wrote to the brand.
const session = useSession();
const notices = useNotices();
const { text, set, asked } = useFilters<'listContacts'>(['words', 'label', 'network', 'only']);
const search = ref(text('words'));
watch(
  search,
  useDebounceFn(() => void set({ words: search.value.trim() }), 250),
);
const { data, trouble, busy, load, more, further } = usePages('listContacts', () => ({ brand: session.brandId }), {
  query: asked,
  topics: ['desk'],
});
const page = computed(() => data.value?.[0]);
const people = computed(() => data.value?.flatMap((each) => each.contacts) ?? []);
const labelChoices = computed(() =>
  (page.value?.labels ?? []).map(({ label, count }) => ({ value: label, name: `${label} (${count})` })),
);
const ONLY = [
  { value: 'waiting', name: 'waiting for an answer' },
  { value: 'alone', name: 'left alone' },
];
const stopping = ref<string>();
const opened = computed(() => Number(text('contact')) || undefined);
const filtered = computed(() => Object.keys(asked.value).length > 0);

async function keepStopWords() {
  try {
    await call('setStopWords', { brand: session.brandId }, { body: { words: stopping.value! } });
    stopping.value = undefined;
    await load();
  } catch (error) {
    notices.wrong(error);
  }
}
type Row = ListedContacts['contacts'][number];
const columns: Column<Row>[] = [
  { id: 'who', title: 'who' },
  { id: 'labels', title: 'labels' },
  { id: 'said', title: 'what they said last', width: 'hidden sm:table-cell' },
  { id: 'when', title: 'when' },
];
const toggle = ({ id }: Row) => set({ contact: opened.value === id ? '' : String(id) });
const nameOf = (network: string) => NETWORK_WORDS[network as NetworkKind]?.name ?? network;
</script>

<template>
  <div class="mx-auto w-full max-w-[1280px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <h1 class="text-xl">People</h1>
      <input
        v-model="search"
        type="search"
        class="field ml-2 w-48"
        placeholder="Find a name or words"
        aria-label="Find a name or words"
      />
      <ChooseOne
        label="Which label"
        any="any label"
        :options="labelChoices"
        :value="text('label')"
        @change="set({ label: $event })"
      />
      <ChooseOne
        label="Which of them"
        any="everybody"
        :options="ONLY"
        :value="text('only')"
        @change="set({ only: $event })"
      />
      <span class="ml-auto"><KeptViews place="people" /></span>
      <button class="btn btn-quiet" @click="stopping = page?.stopWords ?? ''">Words that say stop</button>
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble }} <button class="underline" @click="load()">Try again</button>
    </p>
    <div class="grid gap-3" :class="opened !== undefined && 'lg:grid-cols-[minmax(0,1fr)_360px]'">
      <div class="min-w-0">
        <p v-if="!page && !trouble" class="text-ink-3">Loading …</p>
        <p v-else-if="people.length === 0" class="sheet px-4 py-5 text-ink-2">
          {{
            filtered
              ? 'Nobody like that has written.'
              : 'Nobody has written yet. Whoever writes a review, a comment or a message stands here, with everything they said.'
          }}
        </p>
        <DataTable
          v-else
          name="people"
          label="People"
          served
          narrow
          :rows="people"
          :columns="columns"
          :key-of="({ id }) => id"
          :marked="({ id }) => id === opened"
          @open="toggle"
        >
          <template #cell-who="{ row: contact }">
            <button
              class="text-left font-[650] hover:underline"
              :aria-expanded="opened === contact.id"
              @click="toggle(contact)"
            >
              {{ contact.name }}
            </button>
            <span class="block text-sm text-ink-3">{{ nameOf(contact.network) }}</span>
          </template>
          <template #cell-labels="{ row: contact }">
            <span class="flex flex-wrap gap-1">
              <span v-for="label in contact.labels" :key="label" class="pill bg-dusk-wash text-dusk">{{ label }}</span>
              <span v-if="contact.leftAlone" class="pill bg-rose-wash text-rose">left alone</span>
              <span v-if="contact.waiting" class="pill bg-amber-wash text-amber">
                {{ contact.waiting === 1 ? 'waits' : `${contact.waiting} wait` }}
              </span>
            </span>
          </template>
          <template #cell-said="{ row: contact }">
            <span class="block max-w-96 truncate text-ink-2" dir="auto">{{ contact.lastText }}</span>
          </template>
          <template #cell-when="{ row: contact }">
            <span class="whitespace-nowrap text-ink-3">{{ ago(contact.lastAt) }}</span>
          </template>
        </DataTable>
        <button v-if="more" class="btn mt-2" :disabled="busy" @click="further">More people</button>
      </div>
      <ConversationPanel v-if="opened" :contact-id="opened" @close="set({ contact: '' })" />
    </div>
    <ModalDialog v-if="stopping !== undefined" title="Words that say stop" width="small" @close="stopping = undefined">
      <p class="mt-1 text-ink-2">
        Whoever sends nothing but one of these words in a message is left alone by every workflow from then on.
      </p>
      <input v-model="stopping" class="field mt-3 w-full" aria-label="Words, separated by commas" maxlength="500" />
      <p class="mt-1 text-sm text-ink-3">Separated by commas. Capitals and signs do not matter.</p>
      <template #actions>
        <button class="btn" @click="stopping = undefined">Cancel</button>
        <button class="btn btn-main" @click="keepStopWords">Keep</button>
      </template>
    </ModalDialog>
  </div>
</template>
