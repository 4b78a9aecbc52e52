<script setup lang="ts">
import { DateTime } from 'luxon';
import { wallClockMoment } from '@playa/core/text/wall-clock.ts';
import { computed, defineAsyncComponent, onMounted, ref } from 'vue';
import { itemTitle } from '@playa/core/items/title.ts';
import { type Rehearsed } from '@playa/core/rehearsal/rehearse.ts';
import { brakeFor, busiestAt } from '@playa/core/rehearsal/busiest.ts';
import { BRAKE } from '@playa/core/workflow/settings.ts';
import { allSteps } from '@playa/core/workflow/tree.ts';
import { workflowSentence } from '@playa/core/workflow/sentence.ts';
import { call, Refused } from '../lib/api.ts';
import { useEditor } from '../stores/editor.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import PhraseText from './PhraseText.vue';
import { momentOf } from '@playa/core/rehearsal/virtual-run.ts';
import DatePicker from './form/DatePicker.vue';
import ModalDialog from './form/ModalDialog.vue';

const LiveDifferences = defineAsyncComponent(() => import('./LiveDifferences.vue'));

// The last look before a workflow acts: what it will do, what changes, what it begins with.
const emit = defineEmits<{ close: []; live: [] }>();
const editor = useEditor();
const session = useSession();
const notices = useNotices();
const beginning = ref<'now' | 'last' | 'since'>('now');
const since = ref(DateTime.now().setZone(session.zone).minus({ days: 7 }).toISODate()!);
/** Midnight of that day in the brand's time zone. */
const sinceMoment = computed(() => wallClockMoment(DateTime.fromISO(since.value, { zone: session.zone })));
const open = ref<{ new: number; waiting: number; held: number; backfill: number; old: number } | null>(null);
const move = ref(false);
onMounted(async () => {
  if (editor.workflow?.liveVersion)
    open.value = await call('countOpenRuns', { brand: session.brandId, id: editor.workflow.id });
});
const last = ref(3);
const every = ref(10);
const busy = ref(false);
const reasons = ref<string[]>([]);

const harms = computed(() => editor.problems.filter((problem) => problem.level === 'harm'));
const first = computed(() => editor.workflow?.status === 'draft');
const replies = computed(() => allSteps(editor.definition).some(({ step }) => step.verb === 'reply' && !step.off));
/** What is answered already is not answered again. */
const offered = computed(() =>
  replies.value ? editor.items.filter((item) => item.fields.answered !== true) : editor.items,
);
const leftOut = computed(() => editor.items.length - offered.value.length);
const chosen = computed(() => {
  if (beginning.value === 'last') return offered.value.slice(0, last.value);
  return beginning.value === 'since' ? offered.value.filter((item) => momentOf(item) >= sinceMoment.value) : [];
});
/** Named before it begins: others that do the same, circles. */
const named = computed(() => editor.together.filter((problem) => problem.level === 'advice'));
/** More than this pauses it: what the past suggests, unless somebody has said it. */
const brake = computed(
  () =>
    editor.settings.brake ??
    brakeFor(busiestAt(editor.items.slice(0, 500).map((item) => editor.outcomes(item))), BRAKE),
);

const ended = (item: Rehearsed) =>
  ({ done: 'done', held: 'waits for you', stopped: 'stopped', waiting: 'waits' })[item.outcome];
const taken = computed(() => chosen.value.map((item) => editor.outcomes(item)));
/** Posts, and answers and messages, that would go out. */
interface Sent {
  posts: number;
  answers: number;
}
function sentBy(items: readonly Rehearsed[]): Sent {
  const sent: Sent = { posts: 0, answers: 0 };
  for (const { trace } of items)
    for (const cell of Object.values(trace)) {
      if (cell.off) continue;
      if (cell.kind === 'posts') sent.posts += cell.posts.filter((post) => !post.trouble).length;
      if (cell.kind === 'acts')
        sent.answers += cell.acts.filter((act) => ANSWERS.has(act.action) && !act.trouble).length;
    }
  return sent;
}
const ANSWERS: ReadonlySet<string> = new Set(['reply', 'message']);
/** "12 posts and 3 answers"; at least one of them. */
function say({ posts, answers }: Sent): string {
  const counted = (number: number, word: string) => {
    const shown = number > 0 && number < 1 ? number.toFixed(1) : String(Math.round(number));
    return `${shown} ${word}${shown === '1' ? '' : 's'}`;
  };
  return [
    ...(posts || !answers ? [counted(posts, 'post')] : []),
    ...(answers ? [counted(answers, 'answer')] : []),
  ].join(' and ');
}
const sent = computed(() => sentBy(taken.value));
/** How much is to be expected: what the last weeks would have given. */
const forecast = computed(() => {
  const since = Date.now() - 28 * 86_400_000;
  const items = editor.items.filter((item) => momentOf(item) > since);
  if (items.length === 0) return null;
  const { posts, answers } = sentBy(items.map((item) => editor.outcomes(item)));
  // A source that shows only its last days says nothing about the weeks before.
  const oldest = Math.min(...editor.items.map(momentOf));
  const days = Math.min(28, Math.max(1, (Date.now() - oldest) / 86_400_000));
  return { posts: (posts * 7) / days, answers: (answers * 7) / days, days: Math.round(days) };
});
async function go() {
  busy.value = true;
  reasons.value = [];
  try {
    // A brake that the past suggests belongs to what goes live, and is seen among the rules.
    if (!editor.settings.brake && (brake.value.hour > BRAKE.hour || brake.value.day > BRAKE.day))
      editor.changeSettings((settings) => (settings.brake = brake.value));
    await editor.flush();
    if (editor.saving !== 'saved') throw new Error('The draft could not be saved first.');
    const { version } = await call(
      'goLive',
      { brand: session.brandId, id: editor.workflow!.id },
      {
        body: {
          revision: editor.revision(),
          last: first.value && beginning.value === 'last' ? last.value : 0,
          since: first.value && beginning.value === 'since' ? sinceMoment.value : null,
          every: every.value,
        },
      },
    );
    if (move.value) {
      const { moved, kept } = await call('moveRuns', { brand: session.brandId, id: editor.workflow!.id });
      if (kept)
        notices.say(`${moved} moved to the new version; ${kept} stand at a step that is gone and finish on theirs.`);
    }
    await Promise.all([editor.refreshWorld(), editor.loadItems(), editor.loadRuns()]);
    notices.say(`Live, version ${version}.`);
    emit('live');
  } catch (error) {
    const said = error instanceof Refused ? error.details.reasons : undefined;
    reasons.value = Array.isArray(said) ? said.map(String) : [(error as Error).message];
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ModalDialog :title="first ? 'Go live' : 'Apply to live'" width="large" @close="emit('close')">
    <p class="mt-1 mb-3"><PhraseText :phrase="workflowSentence(editor.definition, editor.world)" /></p>
    <div v-if="harms.length" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2">
      <b class="text-rose">To settle first</b>
      <ul class="list-disc pl-5">
        <li v-for="harm in harms" :key="harm.says">
          {{ harm.says }}
          <button v-if="harm.step" class="link" @click="((editor.row = harm.step!), emit('close'))">go there</button>
        </li>
      </ul>
    </div>
    <template v-else>
      <div v-if="named.length" class="mb-3 rounded-(--radius) bg-amber-wash px-3 py-2">
        <b class="text-amber">Good to know</b>
        <ul class="list-disc pl-5">
          <li v-for="problem in named" :key="problem.says">{{ problem.says }}</li>
        </ul>
      </div>
      <p class="mb-1 text-sm text-ink-3">
        It pauses by itself with more than {{ brake.hour }} in an hour or {{ brake.day }} in a day at one outlet.
      </p>
      <p v-if="forecast !== null" class="mb-3 text-ink-2">
        By the last
        {{ forecast.days >= 28 ? 'four weeks' : forecast.days === 1 ? 'day' : `${forecast.days} days` }}, expect about
        <b class="text-ink">{{ say(forecast) }}</b> a week.
      </p>
      <fieldset v-if="first" class="mb-3 grid gap-2">
        <legend class="mb-1 font-[650]">Begin with</legend>
        <label class="flex items-center gap-2"
          ><input v-model="beginning" type="radio" value="now" class="accent-(--sea)" /> what appears from now on</label
        >
        <label class="flex flex-wrap items-center gap-2">
          <input v-model="beginning" type="radio" value="last" class="accent-(--sea)" /> also the last
          <input
            v-model.number="last"
            type="number"
            min="1"
            :max="Math.min(500, editor.items.length)"
            class="field w-16"
            aria-label="How many"
            @focus="beginning = 'last'"
          />
          that are already there, oldest first, one every
          <input
            v-model.number="every"
            type="number"
            min="0"
            class="field w-16"
            aria-label="Minutes between two"
            @focus="beginning = 'last'"
          />
          min
        </label>
        <label class="flex flex-wrap items-center gap-2">
          <input v-model="beginning" type="radio" value="since" class="accent-(--sea)" /> also everything since
          <DatePicker v-model="since" label="Since which day" @focusin="beginning = 'since'" />, in the same way
        </label>
        <div v-if="beginning !== 'now'" class="max-h-52 overflow-auto rounded-(--radius) bg-paper px-3 py-2">
          <p v-if="replies && leftOut" class="text-ink-3">
            {{ leftOut }} {{ leftOut === 1 ? 'is' : 'are' }} left out: answered already, or about to be.
          </p>
          <b>{{ say(sent) }}</b> would go out, over {{ Math.max(0, chosen.length - 1) * every }} min:
          <ul class="mt-1">
            <li v-for="(item, index) in chosen" :key="item.id" class="flex gap-2">
              <span class="truncate">{{ itemTitle(item.fields) }}</span><span class="ml-auto shrink-0 text-ink-3">{{
                ended(taken[index]!)
              }}</span>
            </li>
          </ul>
        </div>
      </fieldset>
      <div v-else class="mb-3">
        <LiveDifferences v-if="editor.workflow?.live" :live="editor.workflow.live" />
        <template v-if="open && open.new + open.waiting + open.held > 0">
          <p class="mt-2">
            <b>{{ open.new + open.waiting + open.held }}</b> items are under way<template v-if="open.held"
              >, {{ open.held }} of them waiting for you</template
            >. They
          </p>
          <label class="flex items-center gap-2"
            ><input v-model="move" type="radio" :value="false" class="accent-(--sea)" /> finish on the version they
            began with</label
          >
          <label class="flex items-center gap-2"
            ><input v-model="move" type="radio" :value="true" class="accent-(--sea)" /> go on with this one, where the
            step they stand at still exists</label
          >
        </template>
        <p v-else class="mt-2 text-sm text-ink-3">Nothing is under way on the live version.</p>
      </div>
    </template>
    <ul v-if="reasons.length" role="alert" class="rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      <li v-for="reason in reasons" :key="reason">{{ reason }}</li>
    </ul>
    <template #actions>
      <button class="btn" @click="emit('close')">Not yet</button>
      <button class="btn btn-main" :disabled="busy || harms.length > 0" @click="go">
        {{ busy ? 'Looking at the source …' : first ? 'Go live' : 'Apply to live' }}
      </button>
    </template>
  </ModalDialog>
</template>
