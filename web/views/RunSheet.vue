<script setup lang="ts">
import { ChevronDown, ChevronUp, Redo2, Undo2 } from '@lucide/vue';
import { onKeyStroke, useDocumentVisibility, useEventListener, useIntervalFn } from '@vueuse/core';
import { computed, nextTick, onBeforeUnmount, ref, watch } from 'vue';
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router';
import { Summing } from '@playa/core/rehearsal/summary.ts';
import { adviceFor } from '@playa/core/advice/advise.ts';
import { workflowSentence } from '@playa/core/workflow/sentence.ts';
import BackfillLine from '../components/BackfillLine.vue';
import BenchPane from '../components/bench/BenchPane.vue';
import GoLive from '../components/GoLive.vue';
import PhraseText from '../components/PhraseText.vue';
import SheetGrid from '../components/sheet/SheetGrid.vue';
import SummaryStrip from '../components/sheet/SummaryStrip.vue';
import StatusPill from '../components/StatusPill.vue';
import { useBenchHeight } from '../lib/bench-height.ts';
import { zoneNote } from '../lib/times.ts';
import { onChanges } from '../stores/changes.ts';
import { SAVING_WORDS, useEditor, type Reading } from '../stores/editor.ts';
import { useNotices } from '../stores/notices.ts';
import { provideSummary } from '../lib/shown-summary.ts';
import { useRehearsal, type Filter } from '../stores/rehearsal.ts';
import { useSession } from '../stores/session.ts';

const route = useRoute();
const router = useRouter();
const session = useSession();
const editor = useEditor();
const rehearsal = useRehearsal();
const notices = useNotices();
const sheet = ref<InstanceType<typeof SheetGrid>>();
const bench = ref<HTMLElement>();
const loading = ref(true);
const missing = ref('');
const going = ref(route.query.live === '1');

const folded = ref(window.innerWidth < 640);
const { height, startResize, onResizeKey } = useBenchHeight();

watch(
  () => route.params.id,
  async (id) => {
    if (route.name !== 'run-sheet') return;
    loading.value = true;
    missing.value = '';
    const reading = route.query.reading;
    editor.reading = reading === 'happened' || reading === 'rehearsal' ? reading : 'samples';
    rehearsal.show('all');
    try {
      await editor.open(Number(id));
    } catch (error) {
      missing.value = (error as Error).message;
    }
    loading.value = false;
  },
  { immediate: true },
);
watch(
  () => editor.reading,
  (reading: Reading) =>
    void router.replace({
      query: { ...route.query, reading: reading === 'samples' ? undefined : reading, live: undefined },
    }),
);
onChanges(['runs', 'items', 'workflows', 'accounts', 'watches'], (news) => {
  if (loading.value) return;
  // Only what the news is about; what was saved here is known here.
  const world =
    news.of('accounts') || news.of('watches') || news.of('workflows', (change) => !editor.isOwnNews(change));
  void Promise.all([
    news.of('runs', ({ ref: workflow }) => workflow === null || workflow === editor.workflow?.id) && editor.loadRuns(),
    news.of('items', ({ ref: watched }) => watched === null || editor.watchIds.includes(watched)) && editor.loadItems(),
    world && editor.refreshWorld(),
  ]).catch(() => undefined);
});
/** How often the sources of an open sheet are looked at, milliseconds, where no live workflow has them looked at anyway. */
const WAKE_EVERY = 20_000;
const visible = useDocumentVisibility();
useIntervalFn(() => {
  if (visible.value === 'visible' && !loading.value) void editor.wakeSources().catch(() => undefined);
}, WAKE_EVERY);

const runs = computed(() =>
  editor.reading === 'happened' ? new Map(editor.runs.map((run) => [run.item.id, run])) : undefined,
);
const columns = computed(() => {
  if (editor.reading === 'happened') return editor.runs.map((run) => run.item);
  return editor.reading === 'rehearsal' ? rehearsal.shown : editor.samples;
});
const empty = computed(() => {
  if (editor.reading === 'happened')
    return 'What really ran shows here, once the workflow is live and something appears.';
  if (editor.watchIds.length === 0) return 'Choose what to watch below; its newest items become columns here.';
  return editor.reading === 'rehearsal' && rehearsal.filter !== 'all'
    ? 'No item is like that.'
    : 'Nothing has appeared there yet.';
});
const summary = computed(() => {
  if (editor.reading === 'rehearsal') return rehearsal.news?.summary ?? null;
  const summing = new Summing(editor.definition, editor.world, editor.recent);
  for (const item of editor.samples) summing.add(editor.outcomes(item));
  return summing.summary;
});
provideSummary(summary);
const linkFields = computed(
  () => new Set(editor.fields.filter((field) => field.type === 'link').map((field) => field.path)),
);
const advice = computed(() =>
  summary.value && editor.reading !== 'happened'
    ? adviceFor(editor.definition, summary.value, editor.world, linkFields.value)
    : [],
);
watch(
  () => editor.draft.name,
  (name) => {
    if (editor.workflow && !loading.value) document.title = `${name || 'Untitled'} · Playa`;
  },
);
watch(loading, (now) => {
  if (!now && editor.workflow) document.title = `${editor.draft.name || 'Untitled'} · Playa`;
});

function editStep() {
  folded.value = false;
  // The editor may still be loading.
  const tryFocus = (tries: number) => {
    const target = bench.value?.querySelector<HTMLElement>('[data-bench-first]');
    if (target) target.focus();
    else if (tries > 0) setTimeout(() => tryFocus(tries - 1), 60);
  };
  void nextTick(() => tryFocus(20));
}
function backToSheet(event: KeyboardEvent) {
  event.preventDefault();
  sheet.value?.focusCell();
}
function show(filter: Filter) {
  rehearsal.show(filter);
  editor.reading = 'rehearsal';
}
onKeyStroke(['z', 'Z', 'y'], (event) => {
  if (!(event.ctrlKey || event.metaKey) || going.value) return;
  // A plain text field has an undo of its own until it is left.
  const target = event.target as HTMLElement;
  if (/^(INPUT|TEXTAREA)$/.test(target.tagName) && !target.hasAttribute('data-bench-first')) return;
  event.preventDefault();
  if (event.shiftKey || event.key === 'y') editor.redo();
  else editor.undo();
});
function onSheetKeys(event: KeyboardEvent) {
  const target = event.target as HTMLElement;
  if (
    target.isContentEditable ||
    /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) ||
    event.ctrlKey ||
    event.metaKey ||
    event.altKey
  )
    return;
  if (event.key === '[' || event.key === ']') sheet.value?.jump(event.key === ']' ? 1 : -1);
  else if (event.key === 'a' || event.key === 'A') sheet.value?.add();
  else return;
  event.preventDefault();
}
useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (!event.defaultPrevented && !going.value) onSheetKeys(event);
});

function onLive() {
  going.value = false;
  editor.reading = 'happened';
}
async function loadTheirs() {
  try {
    editor.saving = 'saved';
    await editor.open(editor.workflow!.id);
  } catch (error) {
    notices.wrong(error);
  }
}
useEventListener(window, 'beforeunload', (event) => {
  if (editor.saving !== 'saved') event.preventDefault();
});
onBeforeRouteLeave(() => editor.flush());
onBeforeUnmount(() => rehearsal.stop());
</script>

<template>
  <div v-if="missing" class="grid h-full place-items-center">
    <p class="text-ink-2">
      {{ missing }}
      <RouterLink class="link" :to="{ name: 'workflows', params: { brand: session.brandId } }"
        >All workflows</RouterLink
      >
    </p>
  </div>
  <div v-else-if="editor.workflow" class="flex h-full flex-col gap-2 px-4 pt-2.5" :aria-busy="loading">
    <div class="flex flex-wrap items-center gap-x-3 gap-y-1">
      <input
        :value="editor.draft.name"
        class="field name-field -ml-2 border-transparent bg-transparent text-xl font-[650] hover:border-line focus:bg-card"
        aria-label="Name of the workflow"
        maxlength="120"
        @input="editor.edit((draft) => (draft.name = ($event.target as HTMLInputElement).value), 'name')"
      />
      <StatusPill :status="editor.workflow.status" />
      <span class="min-w-0 flex-1 truncate text-ink-2"
        ><PhraseText :phrase="workflowSentence(editor.definition, editor.world)"
      /></span>
      <span class="text-sm text-ink-3">{{ zoneNote(session.zone) }}</span>
      <span
        class="text-sm"
        :class="editor.saving === 'failed' || editor.saving === 'conflict' ? 'font-[650] text-rose' : 'text-ink-3'"
        role="status"
        :title="editor.trouble"
      >
        {{ SAVING_WORDS[editor.saving]
        }}<template v-if="editor.workflow.liveVersion"> · v{{ editor.workflow.liveVersion }} live</template>
      </span>
      <button
        class="btn px-2"
        :disabled="editor.past.length === 0"
        title="Undo (Ctrl Z)"
        aria-label="Undo"
        @click="editor.undo()"
      >
        <Undo2 :size="15" />
      </button>
      <button
        class="btn px-2"
        :disabled="editor.future.length === 0"
        title="Redo (Shift Ctrl Z)"
        aria-label="Redo"
        @click="editor.redo()"
      >
        <Redo2 :size="15" />
      </button>
      <button v-if="editor.workflow.status === 'draft'" class="btn btn-main" @click="going = true">Go live …</button>
      <button
        v-else
        class="btn btn-main"
        :disabled="!editor.changedFromLive && editor.workflow.status === 'live'"
        @click="going = true"
      >
        Apply to live …
      </button>
    </div>
    <p v-if="editor.saving === 'conflict'" role="alert" class="rounded-(--radius) bg-amber-wash px-3 py-2 text-amber">
      Somebody saved this workflow elsewhere meanwhile. What you have here is kept.
      <button class="btn ml-2" @click="editor.keepMine()">Keep mine</button>
      <button class="btn" @click="loadTheirs">Load theirs</button>
    </p>
    <p v-else-if="editor.saving === 'failed'" role="alert" class="rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ editor.trouble }} <button class="underline" @click="editor.save()">Save now</button>
    </p>
    <BackfillLine />
    <SummaryStrip :summary="summary" />
    <div class="min-h-0 flex-1">
      <SheetGrid ref="sheet" :key="editor.workflow.id" :items="columns" :runs="runs" :empty="empty" @edit="editStep" />
    </div>
    <div
      class="-mx-4 flex shrink-0 flex-col border-t-2 border-sea bg-card"
      :style="{ height: folded ? 'auto' : `${height}px` }"
    >
      <div class="relative h-0">
        <div
          v-if="!folded"
          class="absolute inset-x-0 -top-1.5 h-3 cursor-row-resize"
          role="separator"
          aria-orientation="horizontal"
          :aria-valuenow="height"
          aria-valuemin="140"
          aria-valuemax="1000"
          aria-label="Height of the bench"
          tabindex="0"
          @pointerdown.prevent="startResize"
          @keydown="onResizeKey"
        ></div>
        <button
          class="absolute right-3 -top-5 z-20 rounded-t border border-b-0 border-line bg-card px-2 py-0.5"
          :aria-label="folded ? 'Unfold the bench' : 'Fold the bench away'"
          :aria-expanded="!folded"
          @click="folded = !folded"
        >
          <component :is="folded ? ChevronUp : ChevronDown" :size="14" />
        </button>
      </div>
      <div v-if="!folded" ref="bench" class="min-h-0 flex-1" @keydown.escape="backToSheet">
        <BenchPane :advice="advice" @show="show" @decided="editor.loadRuns()" />
      </div>
      <button v-else class="px-4 py-1 text-left text-sm text-ink-3" @click="folded = false">Bench</button>
    </div>
  </div>
  <p v-else class="p-4 text-ink-3">Loading …</p>
  <GoLive v-if="going && editor.workflow && !loading" @close="going = false" @live="onLive" />
</template>
