<script setup lang="ts">
import { Search } from '@lucide/vue';
import { nextTick, ref } from 'vue';
import type { Item } from '@playa/core/items/item.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { itemTitle } from '@playa/core/items/title.ts';
import { addressOf, call } from '../../lib/api.ts';
import { dayAndTime } from '../../lib/times.ts';
import type { OutletRow, WatchableOutlet } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import ScheduleMaker from './ScheduleMaker.vue';
import WatchableChooser from './WatchableChooser.vue';

// Choosing what to watch: paste an address in any form, or take a channel of a connected account. What was found is
// shown with its newest items before it is kept.
defineProps<{ channels: readonly OutletRow[]; watchable: WatchableOutlet[] }>();
const emit = defineEmits<{
  /** The watches that were made, the first of them by its name. `next` goes on to the first step. */
  chosen: [watches: number[], name: string, next: boolean];
}>();
interface Found {
  name: string;
  things: string;
  params: { url: string };
  newest: Item[];
}
const session = useSession();
const way = ref<'find' | 'account' | 'hook' | 'schedule'>('find');
const text = ref('');
const hookName = ref('');
const finding = ref(false);
const found = ref<Found | null>(null);
const tried = ref<{ address: string; says: string }[]>([]);
const wrong = ref('');

/** Does something that takes a while; what goes wrong is said below. */
async function busy(work: () => Promise<void>) {
  if (finding.value) return;
  finding.value = true;
  wrong.value = '';
  try {
    await work();
  } catch (error) {
    wrong.value = (error as Error).message;
  } finally {
    finding.value = false;
  }
}
const find = (what: string) =>
  busy(async () => {
    if (!what.trim()) return;
    found.value = null;
    tried.value = [];
    const answer = await call(
      'findSource',
      { brand: session.brandId },
      {
        body: {
          text: what,
        },
      },
    );
    found.value = answer.found;
    tried.value = answer.tried;
    if (!answer.found) wrong.value = 'Nothing was found there that can be watched.';
  });
/** What is pasted into the empty field is looked for at once. */
async function findPasted() {
  if (text.value !== '') return;
  await nextTick();
  await find(text.value);
}
const keep = () =>
  busy(async () => {
    if (!found.value) return;
    const { name, params } = found.value;
    const { id } = await call('watchFeed', { brand: session.brandId }, { body: { url: params.url } });
    emit('chosen', [id], name, true);
  });
const makeHook = () =>
  busy(async () => {
    const name = hookName.value.trim() || 'A web hook';
    const { id } = await call('makeHook', { brand: session.brandId }, { body: { name } });
    emit('chosen', [id], name, false);
  });
/** Watches what appears at outlets of connected accounts; each further one is a source of its own. */
const watchOutlets = (outlets: WatchableOutlet[]) =>
  busy(async () => {
    const ids: number[] = [];
    for (const { outlet, what } of outlets) {
      const { id } = await call('watchOutlet', { brand: session.brandId }, { body: { outlet, what } });
      ids.push(id);
    }
    emit('chosen', ids, outlets[0]!.name, false);
  });
/** The feeds of a list that another program has written, each a source of its own. */
const readList = (event: Event) =>
  busy(async () => {
    const field = event.target as HTMLInputElement;
    const file = field.files?.[0];
    field.value = '';
    if (!file) return;
    const { feeds } = await call('watchFeeds', { brand: session.brandId }, { body: { text: await file.text() } });
    const watched = feeds.flatMap((feed) => feed.watch ?? []);
    tried.value = feeds.flatMap(({ url, says }) => (says ? [{ address: url, says }] : []));
    if (tried.value.length > 0) wrong.value = `${tried.value.length} of ${feeds.length} cannot be watched.`;
    if (watched.length > 0)
      emit('chosen', [...new Set(watched)], feeds.find((feed) => feed.watch !== null)!.name, false);
    else if (feeds.length === 0) wrong.value = 'There is no feed in this list.';
  });
const title = (item: Item) => itemTitle(item.fields);
const picture = (item: Item) => fieldText(readField(item.fields, 'thumbnail.url'));
</script>

<template>
  <div>
    <div role="radiogroup" aria-label="What to watch" class="mb-2 flex gap-3 text-ink-2">
      <label class="flex items-center gap-1.5"
        ><input v-model="way" type="radio" value="find" class="accent-(--sea)" /> a channel, feed or page</label
      >
      <label class="flex items-center gap-1.5"
        ><input v-model="way" type="radio" value="account" class="accent-(--sea)" /> what an account sees</label
      >
      <label class="flex items-center gap-1.5"
        ><input v-model="way" type="radio" value="hook" class="accent-(--sea)" /> what others send (web hook)</label
      >
      <label class="flex items-center gap-1.5"
        ><input v-model="way" type="radio" value="schedule" class="accent-(--sea)" /> a schedule</label
      >
    </div>
    <form v-if="way === 'hook'" class="flex gap-2" @submit.prevent="makeHook">
      <input
        v-model="hookName"
        class="field min-w-0 flex-1 py-1.5"
        placeholder="What it tells of, such as closures"
        aria-label="Name of the web hook"
        maxlength="200"
      />
      <button class="btn btn-main" :disabled="finding">Make a secret address</button>
    </form>
    <WatchableChooser v-else-if="way === 'account'" :watchable="watchable" :busy="finding" @chosen="watchOutlets" />
    <ScheduleMaker v-else-if="way === 'schedule'" @made="emit('chosen', [$event], 'A schedule', false)" />
    <form v-else class="flex gap-2" @submit.prevent="find(text)">
      <label class="min-w-0 flex-1">
        <span class="sr-only">What to watch</span>
        <input
          v-model="text"
          class="field w-full py-1.5"
          placeholder="Paste any address of a channel or feed, a handle, or a video of it"
          data-bench-first
          @paste="findPasted"
        />
      </label>
      <button class="btn btn-main" :disabled="finding || !text.trim()">
        <Search :size="14" /> {{ finding ? 'Looking …' : 'Find' }}
      </button>
    </form>
    <div v-if="way === 'find' && channels.length && !found" class="mt-2 flex flex-wrap items-center gap-1.5 text-ink-2">
      or one of your channels:
      <button v-for="channel in channels" :key="channel.id" class="btn px-2 py-0.5" @click="find(channel.feed!)">
        {{ channel.name }}
      </button>
    </div>
    <div v-if="way === 'find' && !found" class="mt-2 flex flex-wrap items-center gap-1.5 text-ink-2">
      or the feeds of a list (OPML):
      <label class="btn cursor-pointer px-2 py-0.5">
        read a file<input type="file" class="sr-only" accept=".opml,.xml,text/x-opml" @change="readList" />
      </label>
      <a class="link ml-2" :href="addressOf('exportFeeds', { brand: session.brandId })" download
        >save what is watched</a
      >
    </div>
    <div v-if="wrong" role="alert" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ wrong }}
      <ul v-if="tried.length" class="mt-1 text-sm text-ink-2">
        <li v-for="each in tried" :key="each.address">
          <span class="break-all">{{ each.address }}</span>: {{ each.says }}
        </li>
      </ul>
    </div>
    <div v-if="found" class="mt-3">
      <p class="mb-2">
        Found <b>{{ found.name }}</b>. Is this the one?
      </p>
      <ul class="mb-2 grid grid-cols-3 gap-2">
        <li
          v-for="item in found.newest"
          :key="item.identity"
          class="overflow-hidden rounded-(--radius) border border-line"
        >
          <img v-if="picture(item)" :src="picture(item)" alt="" class="h-16 w-full object-cover" />
          <div class="px-2 py-1">
            <b class="line-clamp-2 leading-tight">{{ title(item) }}</b><span class="text-[11.5px] text-ink-3">{{
              item.publishedAt ? dayAndTime(item.publishedAt, session.zone) : ''
            }}</span>
          </div>
        </li>
      </ul>
      <p v-if="found.newest.length === 0" class="mb-3 text-ink-3">Nothing has appeared there yet.</p>
      <button class="btn btn-main" :disabled="finding" @click="keep">Watch {{ found.name }}</button>
    </div>
  </div>
</template>
