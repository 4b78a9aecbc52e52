<script setup lang="ts">
import { Bookmark } from '@lucide/vue';
import { useLocalStorage } from '@vueuse/core';
import { computed, onMounted, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { clipColumns, CLIPS, sharedPage } from '@playa/core/sheets/clip.ts';
import type { Column } from '@playa/core/sheets/column.ts';
import { call } from '../lib/api.ts';
import { useAttempt } from '../lib/attempt.ts';
import { makeSheetWorkflow } from '../lib/make-workflow.ts';
import { everyPage } from '../lib/pages.ts';
import type { ListedSheet } from '../lib/types.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import ClipForm from '../components/sheets/ClipForm.vue';

// A page worth sharing, sent here by a bookmark, by another program, or pasted: with a note it becomes a row of a sheet, and
// what its workflow does with rows happens to it.
const session = useSession();
const notices = useNotices();
const route = useRoute();
const router = useRouter();
const of = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '');
const page = ref(sharedPage({ url: of('url'), title: of('title'), text: of('text') }));
const sheets = ref<ListedSheet[]>();
const remembered = useLocalStorage(`playa.clips.${session.brandId}`, 0);
const { busy, trouble: wrong, attempt } = useAttempt();
const made = ref<{ row: number; sheet: ListedSheet }>();

const fitting = computed(() => (sheets.value ?? []).filter((sheet) => clipColumns(sheet.columns as Column[])));
const sheet = computed(() => fitting.value.find((each) => each.id === remembered.value) ?? fitting.value[0]);
const live = computed(() => (sheet.value?.uses ?? []).filter((use) => use.live).map((use) => use.workflow));

async function load(): Promise<void> {
  try {
    sheets.value = (await everyPage('listSheets', { brand: session.brandId })).flatMap((page) => page.sheets);
  } catch (error) {
    wrong.value = (error as Error).message;
  }
}
onMounted(load);

function another(): void {
  made.value = undefined;
  page.value = { url: '', title: '', note: '' };
  void router.replace({ query: {} });
}
function remember(row: number, into: ListedSheet): void {
  remembered.value = into.id;
  made.value = { row, sheet: into };
}
/** There is no form yet below which it could be said. */
function saidAbove(error: unknown): boolean {
  notices.wrong(error);
  return true;
}
async function begin(): Promise<void> {
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
    <ClipForm
      v-else-if="sheet"
      :page="page"
      :sheet="sheet"
      :sheets="fitting"
      @into="remembered = $event"
      @made="remember"
    />
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
