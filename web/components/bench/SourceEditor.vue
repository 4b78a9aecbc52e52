<script setup lang="ts">
import { X } from '@lucide/vue';
import { computed, ref, watch } from 'vue';
import { ago } from '../../lib/times.ts';
import type { OutletRow, SourceWatch, WatchableOutlet } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useNotices } from '../../stores/notices.ts';
import { takesFirstLevel, withFirstLevel } from '@playa/core/workflow/first-level.ts';
import type { Group } from '@playa/core/conditions/condition.ts';
import { spokenLength } from '@playa/core/text/durations.ts';
import type { Trigger } from '@playa/core/triggers/trigger.ts';
import type { Source } from '@playa/core/workflow/source.ts';
import { stepId } from '../../lib/make-workflow.ts';
import { useSession } from '../../stores/session.ts';
import ConditionGroup from '../form/ConditionGroup.vue';
import HookEditor from './HookEditor.vue';
import SourceChooser from './SourceChooser.vue';
import TriggerEditor from './TriggerEditor.vue';
import { useWholeList } from '../../stores/resource.ts';

// What a workflow watches, and what of it starts the workflow.
const props = defineProps<{ sourceId: string }>();
const editor = useEditor();
const session = useSession();
const notices = useNotices();
const brand = () => ({ brand: session.brandId });
const { data: sources, trouble: unread, load } = useWholeList('listSources', brand);
const { data: outlets, trouble: unseen } = useWholeList('listWatchable', brand);
const watches = computed<SourceWatch[]>(() => sources.value?.flatMap((page) => page.watches) ?? []);
const channels = computed<OutletRow[]>(() => outlets.value?.flatMap((page) => page.channels) ?? []);
const watchable = computed<WatchableOutlet[]>(() => outlets.value?.flatMap((page) => page.watchable) ?? []);
watch([unread, unseen], ([one, other]) => (one || other) && notices.wrong(one || other));

const source = computed(() => editor.definition.sources.find((each) => each.id === props.sourceId));
const watched = computed(() => watches.value.find((each) => each.id === source.value?.watch));
/** With those that are watched alike: what is changed is changed for all of them. */
const alike = computed(() => {
  const row = editor.rows.find((each) => each.type === 'source' && each.id === props.sourceId);
  return row?.type === 'source' ? [row.source, ...row.others] : source.value ? [source.value] : [];
});
const troubleOf = (id: number | null) => watches.value.find((each) => each.id === id)?.trouble ?? undefined;
const nameOf = (id: number | null) => editor.world.watches.get(id ?? 0)?.name ?? 'gone';
const choosing = ref(false);
/** More places are added to those that are watched. */
const adding = ref(false);

watch(
  () => props.sourceId,
  () => (choosing.value = adding.value = false),
);

function editSource(change: (source: Source) => void, merge = '') {
  editor.edit(
    (draft) => {
      const ids = new Set(alike.value.map(({ id }) => id));
      for (const each of draft.definition.sources) if (ids.has(each.id)) change(each);
    },
    merge && `${props.sourceId}.${merge}`,
  );
}
/** Makes watches the ones of this source; each further one is a source of its own. */
async function use(ids: readonly number[], name: string, next: boolean) {
  try {
    await editor.refreshWorld();
    const others = (adding.value ? ids : ids.slice(1)).filter((id) => !editor.watchIds.includes(id));
    editor.edit((draft) => {
      const mine = draft.definition.sources.find((each) => each.id === props.sourceId);
      if (mine && !adding.value) mine.watch = ids[0]!;
      // Watched as those are that are there.
      const { id: _id, watch: _watch, ...rules } = mine ?? { id: '', watch: null };
      const same = JSON.stringify(adding.value ? rules : {});
      draft.definition.sources.push(
        ...others.map((watch): Source => ({ ...(JSON.parse(same) as Partial<Source>), id: stepId(), watch })),
      );
      if (draft.name === 'New workflow') draft.name = `${name} to …`;
    });
    choosing.value = adding.value = false;
    await load();
    const first = editor.definition.steps[0];
    if (next && first) editor.row = first.id;
  } catch (error) {
    notices.wrong(error);
  }
}

const condition = computed<Group>(() => source.value?.condition ?? { type: 'group', match: 'all', items: [] });
const setCondition = (group: Group, merge: string) =>
  editSource((mine) => {
    if (group.items.length) mine.condition = group;
    else delete mine.condition;
  }, merge);
const said = computed(() => editor.world.watches.get(source.value?.watch ?? 0)?.said);
const setFirstLevel = (only: boolean) =>
  editSource((mine) => {
    const group = withFirstLevel(mine.condition, only);
    if (group) mine.condition = group;
    else delete mine.condition;
  });
const setTrigger = (trigger: Trigger | undefined, merge: string) =>
  editSource((mine) => {
    if (trigger) mine.trigger = trigger;
    else delete mine.trigger;
  }, merge);
function addSource() {
  const id = stepId();
  editor.edit((draft) => draft.definition.sources.push({ id, watch: null }));
  editor.row = id;
}
function dropSource(id: string) {
  const next = alike.value.find((each) => each.id !== id)?.id;
  editor.edit((draft) => {
    draft.definition.sources = draft.definition.sources.filter((each) => each.id !== id);
  });
  // The row of the others is another one by its name, and still the chosen one.
  if (id === props.sourceId && next !== undefined) editor.row = next;
}
/** How soon an item is usually seen. */
const usually = computed(() => {
  const watch = watched.value;
  if (!watch) return '';
  const late = watch.usualDelay ?? watch.intervalMs ?? watch.everySeconds * 1000;
  return spokenLength(Math.max(60, Math.ceil(late / 60_000) * 60));
});
</script>

<template>
  <div>
    <template v-if="watched && !choosing && !adding">
      <p class="mb-2">
        <b>{{ alike.length > 1 ? `${alike.length} places` : watched.name }}</b>
        <span class="text-ink-2"> · {{ watched.things }}</span>
      </p>
      <details v-if="alike.length > 1" class="mb-3" :open="alike.length <= 8">
        <summary class="cursor-pointer text-ink-2">Where</summary>
        <ul class="mt-1 grid gap-x-4 sm:grid-cols-2" aria-label="Places watched alike">
          <li v-for="each in alike" :key="each.id" class="flex items-center gap-1">
            <span class="min-w-0 flex-1 truncate" :title="troubleOf(each.watch)">
              {{ nameOf(each.watch)
              }}<span v-if="troubleOf(each.watch)" class="text-rose"> · {{ troubleOf(each.watch) }}</span>
            </span>
            <button
              class="btn btn-quiet px-1"
              :aria-label="`Leave ${nameOf(each.watch)} out`"
              @click="dropSource(each.id)"
            >
              <X :size="13" />
            </button>
          </li>
        </ul>
        <p class="mt-1 text-sm text-ink-3">What is set here holds for all of them.</p>
      </details>
      <dl v-else class="mb-3 grid grid-cols-[8rem_1fr] gap-y-1 text-ink-2">
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
      <TriggerEditor
        class="mb-3"
        :trigger="source?.trigger"
        :things="watched.things"
        :fields="editor.fields"
        :path="sourceId"
        @change="setTrigger"
      />
      <label v-if="said === 'comment'" class="mb-2 flex items-center gap-1.5">
        <input
          type="checkbox"
          class="accent-(--sea)"
          :checked="!takesFirstLevel(source?.condition)"
          @change="setFirstLevel(!($event.target as HTMLInputElement).checked)"
        />
        also what people answer to one another
      </label>
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
        <button v-if="alike.length === 1" class="btn" @click="choosing = true">Watch something else</button>
        <button v-if="said" class="btn" @click="adding = true">
          Watch more places like {{ alike.length > 1 ? 'these' : 'this' }}
        </button>
        <button class="btn" @click="addSource">Watch another source too</button>
        <button
          v-if="alike.length === 1 && editor.definition.sources.length > 1"
          class="btn"
          @click="dropSource(sourceId)"
        >
          Leave this source out
        </button>
      </div>
    </template>
    <template v-else>
      <SourceChooser :key="sourceId" :channels="channels" :watchable="watchable" @chosen="use" />
      <button
        v-if="!choosing && !adding && editor.definition.sources.length > 1"
        class="btn btn-quiet mt-2"
        @click="dropSource(sourceId)"
      >
        Leave this source out
      </button>
      <button v-if="choosing" class="btn btn-quiet mt-2" @click="choosing = false">Keep {{ watched?.name }}</button>
      <button v-if="adding" class="btn btn-quiet mt-2" @click="adding = false">Add nothing</button>
    </template>
  </div>
</template>
