<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted, ref, type Component } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import type { ComposeStep } from '@playa/core/steps/compose.ts';
import type { PublishStep } from '@playa/core/steps/publish.ts';
import PostPreview from '../components/bench/PostPreview.vue';
import FittingEditor from '../components/bench/steps/FittingEditor.vue';
import OutletTicks from '../components/bench/steps/OutletTicks.vue';
import PostExtras from '../components/bench/steps/PostExtras.vue';
import SnippetMenu from '../components/bench/SnippetMenu.vue';
import FormRow from '../components/form/FormRow.vue';
import PostWhen from '../components/posts/PostWhen.vue';
import { STAGES } from '../components/posts/stages.ts';
import { usePost, type PostState } from '../components/posts/use-post.ts';
import { dayAndTime } from '../lib/times.ts';
import { onChanges } from '../stores/changes.ts';
import { useEditor } from '../stores/editor.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';

// A post written by hand: its words, where it goes and when, beside how it will look; and how far it is.
const OutletWordings = defineAsyncComponent(
  (() => import('../components/bench/steps/OutletWordings.vue')) as () => Promise<{ default: Component }>,
);
const session = useSession();
const editor = useEditor();
const notices = useNotices();
const route = useRoute();
const router = useRouter();
const id = route.name === 'post' ? Number(route.params.id) : null;
const asked = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : null);
const like: unknown = (history.state as { text?: unknown } | null)?.text;
const written = usePost(id, {
  outlets: asked('outlet') ? [Number(asked('outlet'))] : [],
  at: asked('at'),
  ...(typeof like === 'string' && { text: like }),
});
const { opened, approves, link, busy, trouble, reasons, restored, ready, dirty, missing } = written;
onMounted(written.load);
onChanges(['runs', 'workflows'], written.refresh);

const words = computed(() => editor.definition.steps[0] as ComposeStep);
const where = computed(() => editor.definition.steps[1] as PublishStep);
const stage = computed(() => opened.value?.stage ?? 'draft');
const title = computed(() => (id === null ? 'New post' : 'Post'));
const isOut = computed(() => stage.value === 'out');
const partly = computed(() => !isOut.value && (opened.value?.out.length ?? 0) > 0);
const nameOf = (outlet: number) => editor.world.outlets.get(outlet)?.name ?? 'an outlet that is gone';
const mayApprove = computed(
  () => stage.value === 'approval' && !dirty.value && (approves.value === 'anybody' || !opened.value?.mine),
);
/** What saying that it is ready leads to. */
const readyWords = computed(() => {
  if (stage.value === 'going' || partly.value) return 'Keep the changes';
  if (approves.value !== 'nobody') return 'Ask for a yes';
  return stage.value === 'ended' ? 'Plan it again' : where.value?.when ? 'Plan it' : 'Post it now';
});
const showHistory = ref(false);
const calendar = { name: 'calendar', params: { brand: session.brandId } };

const SAVED: Record<PostState, string> = {
  idea: 'Kept as an idea.',
  draft: 'Kept as a draft.',
  ready: 'It is planned.',
};
async function save(state: PostState) {
  const number = await written.save(state);
  if (number === null) return;
  const waits = state === 'ready' && approves.value !== 'nobody' && opened.value?.stage !== 'going';
  notices.say(waits ? 'It waits for a yes.' : SAVED[state]);
  if (id === null) await router.replace({ name: 'post', params: { brand: session.brandId, id: number } });
}
async function approve() {
  if (await written.approve()) notices.say('You said yes: it goes out at its time.');
}
async function remove() {
  if (!(await written.remove())) return;
  notices.say('The post is deleted.');
  await router.push(calendar);
}
async function copy() {
  const number = await written.copy();
  if (number === null) return;
  notices.say('This is the copy, a draft.');
  await router.push({ name: 'post', params: { brand: session.brandId, id: number } });
}
async function endRest() {
  if (await written.endRest()) notices.say('What had not gone is taken back.');
}
</script>

<template>
  <div class="mx-auto w-full max-w-[1280px] p-4">
    <div class="mb-3 flex flex-wrap items-center gap-x-3 gap-y-1">
      <h1 class="text-xl font-[650]">{{ title }}</h1>
      <span v-if="opened" class="pill" :class="STAGES[stage].look">{{ STAGES[stage].says }}</span>
      <span v-if="opened?.by" class="text-ink-2">written by {{ opened.by }}</span>
      <span v-if="opened?.approval?.holds" class="text-kelp">
        {{ opened.approval.by }} said yes, {{ dayAndTime(opened.approval.at, session.zone) }}
      </span>
      <RouterLink class="link ml-auto" :to="calendar">Calendar</RouterLink>
    </div>
    <div v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      <ul v-if="reasons.length > 1" class="list-disc pl-5">
        <li v-for="reason in reasons" :key="reason">{{ reason }}</li>
      </ul>
      <template v-else>{{ trouble }}</template>
      <button v-if="opened && dirty" class="ml-2 underline" @click="written.forget().then(written.load)">
        Show what is saved
      </button>
    </div>
    <p v-if="restored && dirty" class="mb-3 rounded-(--radius) bg-sea-wash px-3 py-2">
      What you typed here before is back; it is not saved yet.
      <template v-if="restored === 'changed'"
        >Somebody has changed the post since then: saving writes over that.</template
      >
      <button class="link" @click="written.forget">Let go of it</button>
    </p>
    <p v-if="partly" class="mb-3 rounded-(--radius) bg-amber-wash px-3 py-2 text-amber">
      It has been sent to {{ opened!.out.map(nameOf).join(', ') }}. Changes reach only where it has not gone yet.
      <button v-if="opened!.open" class="link" :disabled="busy" @click="endRest">End what has not gone</button>
    </p>
    <div v-if="ready" class="grid grid-cols-1 items-start gap-4 lg:grid-cols-[minmax(0,1fr)_400px]">
      <div class="grid gap-4">
        <section class="sheet p-4" aria-label="What it says">
          <p v-if="isOut" class="whitespace-pre-line">{{ words.text }}</p>
          <template v-else>
            <OutletWordings :step="words">
              <template #tools><SnippetMenu /></template>
              <template #below>
                <p class="mt-1 text-sm text-ink-3">Type / to put in the link, or a snippet.</p>
              </template>
            </OutletWordings>
            <FormRow
              class="mt-3"
              label="Link"
              hint="Shows as a card where a network has them; in the words by typing /link."
            >
              <input v-model="link" type="url" class="field w-full max-w-lg" placeholder="https://" aria-label="Link" />
            </FormRow>
            <PostExtras class="mt-2" :step="where" />
            <FittingEditor class="mt-2" :step="where" />
          </template>
        </section>
        <section v-if="!isOut" class="sheet grid gap-3 p-4 md:grid-cols-2" aria-label="Where and when">
          <OutletTicks :step="where" />
          <div>
            <h2 class="mb-1 font-normal text-ink-2">When</h2>
            <PostWhen :step="where" />
          </div>
        </section>
        <p v-else class="text-ink-2">
          It went to {{ opened!.out.map(nameOf).join(', ') }}. What is out is changed and deleted in the
          <RouterLink class="link" :to="{ name: 'logbook', params: { brand: session.brandId } }">logbook</RouterLink>.
        </p>
        <div class="flex flex-wrap items-center gap-2">
          <button v-if="mayApprove" class="btn btn-main" :disabled="busy" @click="approve">Say yes</button>
          <button
            v-if="!isOut"
            class="btn"
            :class="!mayApprove && 'btn-main'"
            :disabled="busy || (!dirty && (stage === 'going' || stage === 'approval'))"
            @click="save('ready')"
          >
            {{ readyWords }}
          </button>
          <template v-if="!isOut && !partly">
            <button class="btn" :disabled="busy || (!dirty && stage === 'draft' && id !== null)" @click="save('draft')">
              {{ stage === 'going' || stage === 'approval' ? 'Back to a draft' : 'Keep as a draft' }}
            </button>
            <button
              v-if="stage === 'idea' || id === null"
              class="btn"
              :disabled="busy || (!dirty && id !== null)"
              @click="save('idea')"
            >
              Keep as an idea
            </button>
          </template>
          <button v-if="id !== null" class="btn btn-quiet" :disabled="busy" @click="copy">Copy</button>
          <button
            v-if="id !== null && !isOut && !partly"
            class="btn btn-quiet text-rose"
            :disabled="busy"
            @click="remove"
          >
            Delete
          </button>
          <span v-if="dirty" class="text-sm text-ink-3">kept on this machine, not saved yet</span>
        </div>
        <ul
          v-if="!isOut && missing.length"
          class="text-sm"
          :class="reasons.length ? 'text-amber' : 'text-ink-3'"
          aria-label="What it lacks"
        >
          <li v-for="each in missing" :key="each.says">{{ each.says }}</li>
        </ul>
        <p v-if="stage === 'approval' && opened?.mine && approves === 'another'" class="text-sm text-ink-2">
          These are your own words: a colleague says yes to them.
        </p>
        <div v-if="opened?.history.length">
          <button class="link text-sm" :aria-expanded="showHistory" @click="showHistory = !showHistory">
            What was done to it
          </button>
          <ol v-if="showHistory" class="mt-1 grid gap-1 text-sm text-ink-2">
            <li v-for="(done, index) in opened.history" :key="index">
              {{ dayAndTime(done.at, session.zone) }} {{ done.by ?? 'Playa' }} {{ done.did }}
              <span v-if="done.became" class="line-clamp-2 text-ink-3">{{ done.became }}</span>
            </li>
          </ol>
        </div>
      </div>
      <section class="sheet p-4" aria-label="Preview">
        <PostPreview nothing="Choose where it goes, and it shows here as it will look there." />
      </section>
    </div>
  </div>
</template>
