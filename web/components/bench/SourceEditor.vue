<script setup lang="ts">
import { Search } from '@lucide/vue';
import { computed, nextTick, onMounted, ref, watch } from 'vue';
import type { Item } from '@playa/core/items/item.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { itemTitle } from '@playa/core/items/title.ts';
import { api } from '../../lib/api.ts';
import { ago, dayAndTime } from '../../lib/times.ts';
import type { OutletRow, SourceWatch, WatchableOutlet } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useNotices } from '../../stores/notices.ts';
import type { Group } from '@playa/core/conditions/condition.ts';
import { spokenLength } from '@playa/core/text/durations.ts';
import { stepId } from '../../lib/make-workflow.ts';
import { useSession } from '../../stores/session.ts';
import ConditionGroup from '../form/ConditionGroup.vue';
import HookEditor from './HookEditor.vue';
import ScheduleMaker from './ScheduleMaker.vue';
import WatchableChooser from './WatchableChooser.vue';

// Choosing what to watch: paste an address in any form, or take a channel of a connected account. What was found is
// shown with its newest items before it is kept.
const props = defineProps<{ sourceId: string }>();
interface Found {
  name: string;
  things: string;
  params: { url: string };
  newest: Item[];
}
const editor = useEditor();
const session = useSession();
const notices = useNotices();
const text = ref('');
const finding = ref(false);
const found = ref<Found | null>(null);
const tried = ref<{ address: string; says: string }[]>([]);
const wrong = ref('');
const channels = ref<OutletRow[]>([]);
const watchable = ref<WatchableOutlet[]>([]);
const watches = ref<SourceWatch[]>([]);

const source = computed(() => editor.definition.sources.find((each) => each.id === props.sourceId));
const watched = computed(() => watches.value.find((each) => each.id === source.value?.watch));
const choosing = ref(false);

async function load() {
  const answer = await api<{ watches: SourceWatch[]; channels: OutletRow[]; watchable: WatchableOutlet[] }>(
    'GET',
    `${session.at}/sources`,
  );
  watches.value = answer.watches;
  channels.value = answer.channels;
  watchable.value = answer.watchable;
}
onMounted(() => load().catch(notices.wrong));
watch(
  () => props.sourceId,
  () => {
    found.value = null;
    choosing.value = false;
  },
);

async function find(what: string) {
  if (!what.trim() || finding.value) return;
  finding.value = true;
  wrong.value = '';
  found.value = null;
  tried.value = [];
  try {
    const answer = await api<{ found: Found | null; tried: typeof tried.value }>('POST', `${session.at}/sources/find`, {
      text: what,
    });
    found.value = answer.found;
    tried.value = answer.tried;
    if (!answer.found) wrong.value = 'Nothing was found there that can be watched.';
  } catch (error) {
    wrong.value = (error as Error).message;
  } finally {
    finding.value = false;
  }
}
/** What is pasted into the empty field is looked for at once. */
async function findPasted() {
  if (text.value !== '') return;
  await nextTick();
  await find(text.value);
}
/** Makes a watch the one of this source. */
async function use(id: number, name: string) {
  await editor.refreshWorld();
  editor.edit((draft) => {
    const mine = draft.definition.sources.find((each) => each.id === props.sourceId);
    if (mine) mine.watch = id;
    if (draft.name === 'New workflow') draft.name = `${name} to …`;
  });
  found.value = null;
  choosing.value = false;
  text.value = '';
  await load();
}
async function keep() {
  if (!found.value) return;
  finding.value = true;
  try {
    const { id } = await api<{ id: number }>('POST', `${session.at}/sources/watch`, { url: found.value.params.url });
    await use(id, found.value.name);
    const first = editor.definition.steps[0];
    if (first) editor.row = first.id;
  } catch (error) {
    wrong.value = (error as Error).message;
  } finally {
    finding.value = false;
  }
}
const way = ref<'find' | 'account' | 'hook' | 'schedule'>('find');
const hookName = ref('');
async function makeHook() {
  finding.value = true;
  try {
    const name = hookName.value.trim() || 'A web hook';
    const { id } = await api<{ id: number }>('POST', `${session.at}/sources/hook`, { name });
    await use(id, name);
  } catch (error) {
    wrong.value = (error as Error).message;
  } finally {
    finding.value = false;
  }
}
/** Watches what appears at outlets of connected accounts; each further one is a source of its own. */
async function watchOutlets(outlets: WatchableOutlet[]) {
  finding.value = true;
  wrong.value = '';
  try {
    const ids: number[] = [];
    for (const { outlet, what } of outlets) {
      const { id } = await api<{ id: number }>('POST', `${session.at}/sources/network`, { outlet, what });
      ids.push(id);
    }
    await use(ids[0]!, outlets[0]!.name);
    const others = ids.slice(1).filter((id) => !editor.watchIds.includes(id));
    if (others.length)
      editor.edit((draft) => draft.definition.sources.push(...others.map((watch) => ({ id: stepId(), watch }))));
  } catch (error) {
    wrong.value = (error as Error).message;
  } finally {
    finding.value = false;
  }
}
async function useSchedule(id: number) {
  await use(id, 'A schedule').catch(notices.wrong);
}

const condition = computed<Group>(() => source.value?.condition ?? { type: 'group', match: 'all', items: [] });
function setCondition(group: Group, merge: string) {
  editor.edit(
    (draft) => {
      const mine = draft.definition.sources.find((each) => each.id === props.sourceId);
      if (!mine) return;
      if (group.items.length) mine.condition = group;
      else delete mine.condition;
    },
    merge && `${props.sourceId}.${merge}`,
  );
}
function addSource() {
  const id = stepId();
  editor.edit((draft) => draft.definition.sources.push({ id, watch: null }));
  editor.row = id;
}
const dropSource = () =>
  editor.edit((draft) => {
    draft.definition.sources = draft.definition.sources.filter((each) => each.id !== props.sourceId);
  });
/** How soon an item is usually seen. */
const usually = computed(() => {
  const watch = watched.value;
  if (!watch) return '';
  const late = watch.usualDelay ?? watch.intervalMs ?? watch.everySeconds * 1000;
  return spokenLength(Math.max(60, Math.ceil(late / 60_000) * 60));
});
const title = (item: Item) => itemTitle(item.fields);
const picture = (item: Item) => fieldText(readField(item.fields, 'thumbnail.url'));
</script>

<template>
  <div>
    <template v-if="watched && !choosing">
      <p class="mb-2">
        <b>{{ watched.name }}</b> <span class="text-ink-2">· new {{ watched.things }}</span>
      </p>
      <dl class="mb-3 grid grid-cols-[8rem_1fr] gap-y-1 text-ink-2">
        <template v-if="watched.params.url">
          <dt>Feed</dt>
          <dd class="break-all">{{ watched.params.url }}</dd>
        </template>
        <template v-if="watched.kind === 'schedule'">
          <dt>Schedule</dt>
          <dd>
            {{ watched.params.rule }} from {{ watched.params.start?.replace('T', ' ') }}, {{ watched.params.zone }}
          </dd>
        </template>
        <template v-if="watched.kind === 'feed' || watched.kind === 'network'">
          <dt>Looked at</dt>
          <dd>
            while live, about every {{ spokenLength((watched.intervalMs ?? watched.everySeconds * 1000) / 1000) }}, more
            often when it usually speaks; usually seen within {{ usually
            }}<template v-if="watched.lastLookAt">; last {{ ago(watched.lastLookAt) }}</template>
          </dd>
        </template>
        <template v-if="watched.trouble"
          ><dt class="text-rose">Trouble</dt>
          <dd class="text-rose">{{ watched.trouble }}</dd></template
        >
        <template v-if="watched.note"
          ><dt class="text-amber">Worth a look</dt>
          <dd class="text-amber">{{ watched.note }}</dd></template
        >
      </dl>
      <HookEditor v-if="watched.kind === 'hook'" :watch-id="watched.id" class="mb-3" />
      <details class="mb-3" :open="condition.items.length > 0">
        <summary class="cursor-pointer text-ink-2">Take only some of what appears here</summary>
        <ConditionGroup
          class="mt-2"
          :group="condition"
          :fields="editor.fields"
          :depth="0"
          :path="sourceId"
          @change="setCondition"
        />
      </details>
      <div class="flex flex-wrap gap-2">
        <button class="btn" @click="choosing = true">Watch something else</button>
        <button class="btn" @click="addSource">Watch another source too</button>
        <button v-if="editor.definition.sources.length > 1" class="btn" @click="dropSource">
          Leave this source out
        </button>
      </div>
    </template>
    <template v-else>
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
      <ScheduleMaker v-else-if="way === 'schedule'" @made="useSchedule" />
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
      <div
        v-if="way === 'find' && channels.length && !found"
        class="mt-2 flex flex-wrap items-center gap-1.5 text-ink-2"
      >
        or one of your channels:
        <button v-for="channel in channels" :key="channel.id" class="btn px-2 py-0.5" @click="find(channel.feed!)">
          {{ channel.name }}
        </button>
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
      <button v-if="!choosing && editor.definition.sources.length > 1" class="btn btn-quiet mt-2" @click="dropSource">
        Leave this source out
      </button>
      <button v-if="choosing" class="btn btn-quiet mt-2" @click="choosing = false">Keep {{ watched?.name }}</button>
    </template>
  </div>
</template>
