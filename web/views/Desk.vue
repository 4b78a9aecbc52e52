<script setup lang="ts">
import { ChartLine, Quote, Radio, Scale } from '@lucide/vue';
import { useElementHover, useFocusWithin } from '@vueuse/core';
import { computed, ref, useTemplateRef, watch } from 'vue';
import ConversationPanel from '../components/desk/ConversationPanel.vue';
import { useChosen, useDeskActs } from '../components/desk/desk-acts.ts';
import { ORDERS, sayCounted, useDeskFilters } from '../components/desk/desk-filters.ts';
import { useDeskKeys } from '../components/desk/desk-keys.ts';
import DeskFilterBar from '../components/desk/DeskFilterBar.vue';
import DeskRow from '../components/desk/DeskRow.vue';
import PolicyDialog from '../components/desk/PolicyDialog.vue';
import SendManyDialog from '../components/desk/SendManyDialog.vue';
import SourcesDialog from '../components/desk/SourcesDialog.vue';
import VoiceDialog from '../components/desk/VoiceDialog.vue';
import { useDesk, type BrandEntry } from '../components/desk/use-desk.ts';
import ChooseOne from '../components/form/ChooseOne.vue';
import KeptViews from '../components/form/KeptViews.vue';
import { useSession } from '../stores/session.ts';

// What people wrote to the brand, beside what we would answer.
const session = useSession();
const filters = useDeskFilters();
const { asked, set, shelf, order, setOrder, everyBrand, filtered } = filters;
const BRANDS = [{ value: 'all', name: 'all brands' }];

const list = useTemplateRef<HTMLElement>('list');
const hovered = useElementHover(list);
const { focused } = useFocusWithin(list);
const busy = computed(() => hovered.value || focused.value);
const openDesk = useDesk(asked, busy);
const { desk, membersOf, rows, more, trouble, loading, now, load, textOf, type, ready, callBack } = openDesk;
const { chosen, choose } = useChosen(openDesk);
const { sendOne, sendMany, tendMany, onAnswering } = useDeskActs(openDesk, chosen);

const opened = ref<number>();
const active = ref<number>();
const listening = ref(false);
const ruling = ref(false);
const voicing = ref(false);
const asking = ref<BrandEntry[]>();
const rowsAt = ref<Record<number, InstanceType<typeof DeskRow> | null>>({});
watch(asked, () => {
  chosen.value = new Set();
  opened.value = undefined;
  active.value = undefined;
});

const chosenRows = computed(() =>
  rows.value.filter(({ row, gone }) => !gone && chosen.value.has(row.itemId)).map(({ row }) => row),
);
/** What is sent by the button for many: those chosen, or all that are shown and have words. */
const many = computed(() => {
  const sendable = ready.value.map(({ row }) => row);
  return chosen.value.size > 0 ? sendable.filter(({ itemId }) => chosen.value.has(itemId)) : sendable;
});
async function sendAsked() {
  const entries = asking.value ?? [];
  asking.value = undefined;
  await sendMany(entries);
}
function answering(entry: BrandEntry, at: boolean, over?: boolean) {
  if (at) active.value = entry.itemId;
  onAnswering(entry, at, over);
}
const onKey = useDeskKeys(openDesk, {
  active,
  list,
  rowOf: (item) => rowsAt.value[item],
  send: sendOne,
  choose,
  show: (item) => (opened.value = item),
});
</script>

<template>
  <div class="mx-auto w-full max-w-[1280px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <h1 class="text-xl">Desk</h1>
      <span class="text-ink-2" role="status">
        <template v-if="desk">{{
          desk.counts.open === 0 ? 'Nobody waits for an answer' : `${sayCounted(desk.counts.open)} to answer`
        }}</template>
      </span>
      <span class="ml-auto flex flex-wrap gap-2">
        <button v-if="many.length" class="btn" @click="asking = many">
          Send the {{ many.length }} {{ chosen.size ? 'chosen' : 'shown' }} …
        </button>
        <ChooseOne label="In which order" :options="ORDERS" :value="order" @change="setOrder($event)" />
        <ChooseOne
          v-if="session.brands.length > 1"
          label="Whose desk"
          :any="session.brand?.name ?? ''"
          :options="BRANDS"
          :value="everyBrand ? 'all' : ''"
          @change="set({ brands: $event })"
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
    <DeskFilterBar :filters="filters" :desk="desk">
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
    </DeskFilterBar>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble }} <button class="underline" @click="load()">Try again</button>
    </p>
    <div class="grid gap-3" :class="opened !== undefined && 'lg:grid-cols-[minmax(0,1fr)_340px]'">
      <div class="min-w-0">
        <p v-if="!desk && !trouble" class="text-ink-3">Loading …</p>
        <div v-else-if="desk && rows.length === 0" class="sheet px-4 py-5 text-ink-2">
          <template v-if="filtered"
            >Nothing like that is here. <button class="link" @click="filters.clear()">Show all</button></template
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
            @label="set({ label: $event })"
            @show="opened = opened === row.itemId ? undefined : row.itemId"
            @answering="(at, over) => answering(row, at, over)"
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
    <SendManyDialog v-if="asking" :entries="asking" :text-of="textOf" @close="asking = undefined" @send="sendAsked" />
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
