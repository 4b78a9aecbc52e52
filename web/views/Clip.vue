<script setup lang="ts">
import { Bookmark, Scissors } from '@lucide/vue';
import { useDebounceFn, useLocalStorage } from '@vueuse/core';
import { computed, onMounted, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { clipCells, clipColumns, CLIPS, sharedPage } from '@playa/core/sheets/clip.ts';
import { isWritten, type Column } from '@playa/core/sheets/column.ts';
import { call } from '../lib/api.ts';
import { useAttempt } from '../lib/attempt.ts';
import { makeSheetWorkflow } from '../lib/make-workflow.ts';
import { shortMoment } from '../lib/times.ts';
import { everyPage } from '../lib/pages.ts';
import type { Answer, ListedSheet, SheetRow } from '../lib/types.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import ChooseOne from '../components/form/ChooseOne.vue';

// A page worth sharing, sent here by a bookmark, by another program, or pasted: with a note it becomes a row of a sheet, and
// what its workflow does with rows happens to it.
type Preview = NonNullable<Answer<'previewLink'>['preview']>;
const session = useSession();
const notices = useNotices();
const route = useRoute();
const router = useRouter();
const of = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '');
const page = sharedPage({ url: of('url'), title: of('title'), text: of('text') });
const url = ref(page.url);
const title = ref(page.title);
const note = ref(page.note);
const picture = ref('');
const more = ref<Record<string, string>>({});
const sheets = ref<ListedSheet[]>();
const remembered = useLocalStorage(`playa.clips.${session.brandId}`, 0);
const before = ref<SheetRow[]>([]);
const preview = ref<Preview | null>(null);
const { busy, trouble: wrong, attempt } = useAttempt();
const made = ref<{ row: number; sheet: ListedSheet }>();

const fitting = computed(() => (sheets.value ?? []).filter((sheet) => clipColumns(sheet.columns as Column[])));
const sheet = computed(() => fitting.value.find((each) => each.id === remembered.value) ?? fitting.value[0]);
const columns = computed(() => (sheet.value?.columns ?? []) as Column[]);
/** What the sheet asks for besides. */
const others = computed(() => {
  const taken = new Set(Object.values(clipColumns(columns.value) ?? {}));
  return columns.value.filter((column) => isWritten(column) && !taken.has(column.key));
});
const live = computed(() => (sheet.value?.uses ?? []).filter((use) => use.live).map((use) => use.workflow));

async function load() {
  try {
    sheets.value = (await everyPage('listSheets', { brand: session.brandId })).flatMap((page) => page.sheets);
  } catch (error) {
    wrong.value = (error as Error).message;
  }
}
onMounted(load);

let turn = 0;
/** What the page says of itself, and whether it was clipped before. */
async function look() {
  const mine = ++turn;
  const address = url.value.trim();
  before.value = [];
  preview.value = null;
  if (!/^https?:\/\/\S+$/i.test(address)) return;
  const [found, same] = await Promise.all([
    call('previewLink', { brand: session.brandId }, { query: { url: address } }).catch(() => ({ preview: null })),
    sheet.value
      ? call('findClipped', { brand: session.brandId, id: sheet.value.id }, { body: { url: address } }).catch(() => ({
          rows: [],
        }))
      : { rows: [] },
  ]);
  if (mine !== turn) return;
  before.value = same.rows;
  preview.value = found.preview;
  // What a person has written is not written over.
  if (!title.value.trim() && found.preview?.title) title.value = found.preview.title;
  picture.value = found.preview?.image ?? '';
}
const lookSoon = useDebounceFn(() => void look(), 350);
watch([url, () => sheet.value?.id], lookSoon);

async function clip() {
  const into = sheet.value;
  if (!into) return;
  const asked = new Set(others.value.map(({ key }) => key));
  await attempt(async () => {
    const cells = {
      ...clipCells(columns.value, { url: url.value, title: title.value, note: note.value, picture: picture.value }),
      // What was filled in for another sheet is not this one's.
      ...Object.fromEntries(Object.entries(more.value).filter(([key, text]) => asked.has(key) && text.trim())),
    };
    const { rows } = await call(
      'addSheetRows',
      { brand: session.brandId, id: into.id },
      {
        body: {
          rows: [cells],
        },
      },
    );
    remembered.value = into.id;
    made.value = { row: rows[0]!.id, sheet: into };
  });
}
function another() {
  made.value = undefined;
  url.value = title.value = note.value = picture.value = '';
  more.value = {};
  void router.replace({ query: {} });
}
/** There is no form yet below which it could be said. */
function saidAbove(error: unknown): boolean {
  notices.wrong(error);
  return true;
}
async function begin() {
  await attempt(async () => {
    const { id } = await call(
      'makeSheet',
      { brand: session.brandId },
      { body: { name: 'Clips', columns: [...CLIPS] } },
    );
    remembered.value = id;
    const opened = await call('openSheet', { brand: session.brandId, id });
    await makeSheetWorkflow(session.brandId, opened, true);
    await load();
    notices.say('The sheet “Clips” and a workflow for it are made. Say there where clips go, and let it go live.');
  }, saidAbove);
}
/** Runs on any page that is open: it opens this form with what the page is. */
const bookmarklet = `javascript:(()=>{const e=encodeURIComponent;open('${location.origin}/clip?url='+e(location.href)+'&title='+e(document.title)+'&text='+e(String(getSelection())),'playa-clip','width=600,height=760')})()`;
const close = () => window.close();
const opened = window.opener !== null;
</script>

<template>
  <div class="mx-auto w-full max-w-xl px-4 py-4">
    <h1 class="mb-3 text-xl">Clip a page</h1>
    <div v-if="made" class="sheet px-4 py-5">
      <p class="text-lg">Clipped into {{ made.sheet.name }}.</p>
      <p v-if="live.length" class="text-ink-2">
        {{ live.map((name) => `“${name}”`).join(', ') }} {{ live.length === 1 ? 'takes' : 'take' }} it from here.
      </p>
      <p v-else class="text-ink-2">No workflow that is on takes it further yet.</p>
      <div class="mt-3 flex flex-wrap gap-2">
        <button v-if="opened" class="btn btn-main" @click="close">Close this window</button>
        <button class="btn" @click="another">Clip another</button>
        <RouterLink
          class="btn no-underline"
          :to="{ name: 'sheet', params: { brand: session.brandId, id: made.sheet.id }, query: { row: made.row } }"
          >See it there</RouterLink
        >
      </div>
    </div>
    <div v-else-if="sheets && fitting.length === 0" class="sheet px-4 py-5">
      <p class="mb-3 text-ink-2">
        Clips become rows of a sheet with a column for links, and a workflow posts them at the next free time of an
        outlet, one after the other.
      </p>
      <button class="btn btn-main" :disabled="busy" @click="begin">Make a sheet for clips</button>
    </div>
    <form v-else-if="sheet" class="sheet grid gap-3 px-4 py-4" @submit.prevent="clip">
      <label class="block"
        ><span class="text-sm text-ink-2">Address</span>
        <input v-model="url" class="field w-full" type="url" required placeholder="https://" autofocus />
      </label>
      <p v-if="before.length" class="rounded-(--radius) bg-amber-wash px-3 py-2 text-amber" role="status">
        It was clipped before, {{ shortMoment(before[0]!.createdAt, session.zone) }}.
        <RouterLink
          class="underline"
          :to="{ name: 'sheet', params: { brand: session.brandId, id: sheet.id }, query: { row: before[0]!.id } }"
          >See it</RouterLink
        >
      </p>
      <label class="block"
        ><span class="text-sm text-ink-2">Title</span>
        <input v-model="title" class="field w-full" maxlength="500" />
      </label>
      <label class="block"
        ><span class="text-sm text-ink-2">Note of your own</span>
        <textarea v-model="note" class="field w-full" rows="4" placeholder="Why it is worth sharing"></textarea>
      </label>
      <div v-if="preview" class="flex gap-3 rounded-(--radius) border border-line p-2">
        <img v-if="preview.image" :src="preview.image" alt="" class="h-16 w-24 rounded-sm object-cover" />
        <p class="min-w-0 text-sm text-ink-2">
          <b class="block truncate text-ink">{{ preview.title }}</b><span class="line-clamp-2">{{
            preview.description
          }}</span>
          <span v-if="preview.site || preview.author" class="block truncate text-ink-3">{{
            [preview.site, preview.author && `by ${preview.author}`].filter(Boolean).join(', ')
          }}</span>
        </p>
      </div>
      <div>
        <span class="text-sm text-ink-2">Into</span>
        <ChooseOne
          class="w-full"
          label="Into"
          :value="sheet.id"
          :options="fitting.map(({ id, name }) => ({ value: id, name }))"
          @change="remembered = Number($event)"
        />
      </div>
      <details v-if="others.length">
        <summary class="cursor-pointer text-ink-2">More of {{ sheet.name }}</summary>
        <label v-for="column in others" :key="column.key" class="mt-2 block"
          ><span class="text-sm text-ink-2">{{ column.name }}</span>
          <select v-if="column.type === 'choice'" v-model="more[column.key]" class="field w-full">
            <option value="">–</option>
            <option v-for="option in column.options" :key="option.value">{{ option.value }}</option>
          </select>
          <input v-else v-model="more[column.key]" class="field w-full" />
        </label>
      </details>
      <p v-if="wrong" role="alert" class="rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
      <button class="btn btn-main justify-self-start" :disabled="busy || !url.trim()">
        <Scissors :size="15" /> {{ before.length ? 'Clip it again' : 'Clip it' }}
      </button>
    </form>
    <p v-else-if="wrong" role="alert" class="text-rose">{{ wrong }}</p>
    <p v-else class="text-ink-3">Loading …</p>
    <p v-if="!opened" class="mt-4 text-ink-2">
      From any page with one click: drag
      <a :href="bookmarklet" class="btn mx-1 no-underline" draggable="true" @click.prevent
        ><Bookmark :size="14" /> Clip to Playa</a
      >
      to the bookmarks. Where Playa is installed as an app, other apps can share pages with it.
    </p>
  </div>
</template>
