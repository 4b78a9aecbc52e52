<script setup lang="ts">
import { Switch } from '@headlessui/vue';
import { CircleAlert, Plus } from '@lucide/vue';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import DataTable from '../components/table/DataTable.vue';
import type { Column } from '../components/table/columns.ts';
import ResumeDialog from '../components/ResumeDialog.vue';
import PhraseText from '../components/PhraseText.vue';
import StatusPill from '../components/StatusPill.vue';
import { call } from '../lib/api.ts';
import { makeWorkflow } from '../lib/make-workflow.ts';
import { shortMoment } from '../lib/times.ts';
import type { ListedWorkflow } from '../lib/types.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import { useWholeList } from '../stores/resource.ts';

const session = useSession();
const notices = useNotices();
const router = useRouter();
const {
  data: pages,
  trouble,
  load,
} = useWholeList('listWorkflows', () => ({ brand: session.brandId }), { topics: ['workflows', 'runs'] });
const workflows = computed(() => pages.value?.flatMap((page) => page.workflows));
const busy = ref<number>();
const resuming = ref<ListedWorkflow>();

const open = (id: number) => ({ name: 'run-sheet', params: { brand: session.brandId, id } });

async function create() {
  try {
    await router.push(open(await makeWorkflow(session.brandId)));
  } catch (error) {
    notices.wrong(error);
  }
}

async function turn(workflow: ListedWorkflow) {
  // What has never been live is looked at first: the sheet shows what would happen.
  if (workflow.status === 'draft') return router.push({ ...open(workflow.id), query: { live: '1' } });
  // What appeared during the pause is there, and how much of it is taken is asked.
  if (workflow.status === 'paused') return void (resuming.value = workflow);
  busy.value = workflow.id;
  try {
    await call('pauseWorkflow', { brand: session.brandId, id: workflow.id });
    notices.say(`“${workflow.name}” is paused; nothing more is sent. What appears is kept.`, () => {
      resuming.value = { ...workflow, status: 'paused' };
    });
    await load();
  } catch (error) {
    notices.wrong(error);
  } finally {
    busy.value = undefined;
  }
}

async function remove(workflow: ListedWorkflow) {
  try {
    const kept = await call('openWorkflow', { brand: session.brandId, id: workflow.id });
    await call('deleteWorkflow', { brand: session.brandId, id: workflow.id });
    await load();
    notices.say(`“${workflow.name}” is gone.`, () => {
      void call(
        'addWorkflow',
        { brand: session.brandId },
        { body: { name: workflow.name, definition: kept.draft } },
      ).then(load, notices.wrong);
    });
  } catch (error) {
    notices.wrong(error);
  }
}
const STATES = { live: 'on', paused: 'paused', draft: 'draft' };
const columns: Column<ListedWorkflow>[] = [
  { id: 'on', title: 'on', width: 'w-16' },
  {
    id: 'name',
    title: 'what it does',
    value: ({ name, sentence }) =>
      [name, ...sentence.map((part) => (typeof part === 'string' ? part : part.name))].join(' '),
  },
  { id: 'state', title: 'state', width: 'w-28', value: ({ status }) => STATES[status], optional: true },
  { id: 'sofar', title: 'so far', width: 'w-40', value: ({ posts, others }) => posts + others, optional: true },
  { id: 'last', title: 'last post', width: 'w-32', value: ({ lastAt }) => lastAt, optional: true },
  { id: 'actions', title: 'actions', width: 'w-24', quiet: true },
];
const plural = (count: number, word: string) => `${count} ${word}${count === 1 ? '' : 's'}`;
/** Who last switched a workflow on or off, and when. */
const lastly = ({ lastly: done }: ListedWorkflow) =>
  done ? `${done.did} by ${done.by ?? 'Playa'}, ${shortMoment(done.at, session.zone)}` : undefined;
</script>

<template>
  <div class="mx-auto max-w-[1280px] px-4 py-3">
    <div class="mb-3 flex items-center gap-3">
      <h1 class="text-xl">Workflows</h1>
      <button class="btn btn-main ml-auto" @click="create"><Plus :size="15" /> New workflow</button>
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble }} <button class="underline" @click="load">Try again</button>
    </p>
    <div v-if="workflows?.length === 0" class="sheet px-4 py-6">
      <h2 class="mb-1 text-lg">No workflows yet</h2>
      <p class="mb-3 max-w-prose text-ink-2">
        A workflow watches a place where things appear and publishes them elsewhere, with words of yours. You see what
        it would do with real items before it does anything.
      </p>
      <button class="btn btn-main" @click="create">Make the first one</button>
    </div>
    <DataTable
      v-else-if="workflows"
      name="workflows"
      label="Workflows"
      :rows="workflows"
      :columns="columns"
      :key-of="(workflow) => workflow.id"
      @open="(workflow) => router.push(open(workflow.id))"
    >
      <template #cell-on="{ row: workflow }">
        <Switch
          :model-value="workflow.status === 'live'"
          :disabled="busy === workflow.id"
          class="relative mt-0.5 h-5 w-9 rounded-full border transition-colors"
          :class="workflow.status === 'live' ? 'border-sea bg-sea' : 'border-ink-3 bg-paper'"
          :aria-label="`${workflow.name} is ${workflow.status === 'live' ? 'on' : 'off'}`"
          @update:model-value="turn(workflow)"
        >
          <span
            class="absolute top-0.5 size-3.5 rounded-full transition-[left]"
            :class="workflow.status === 'live' ? 'left-[18px] bg-card' : 'left-0.5 bg-ink-3'"
          ></span>
        </Switch>
      </template>
      <template #cell-name="{ row: workflow }">
        <RouterLink :to="open(workflow.id)" class="font-[650] no-underline hover:underline">{{
          workflow.name
        }}</RouterLink>
        <div class="text-ink-2"><PhraseText :phrase="workflow.sentence" /></div>
        <div v-for="problem in workflow.problems" :key="problem.says" class="mt-0.5 text-sm text-amber">
          <CircleAlert :size="12" class="mr-1 inline" aria-hidden="true" />{{ problem.says }}
        </div>
        <div v-if="workflow.pausedBecause" class="mt-0.5 text-sm text-rose">{{ workflow.pausedBecause }}</div>
        <div v-if="workflow.unapplied" class="mt-0.5 text-sm text-dusk">Changes in the draft are not live yet.</div>
      </template>
      <template #cell-state="{ row: workflow }">
        <StatusPill :status="workflow.status" :title="lastly(workflow)" />
        <!-- Of what runs it is enough to know who let it when one asks. -->
        <div v-if="workflow.status === 'paused' && workflow.lastly" class="mt-0.5 text-sm text-ink-3">
          by {{ workflow.lastly.by ?? 'itself' }}, {{ shortMoment(workflow.lastly.at, session.zone) }}
        </div>
      </template>
      <template #cell-sofar="{ row: workflow }">
        <template v-if="workflow.runs">
          {{ workflow.posts || !workflow.others ? plural(workflow.posts, 'post') : plural(workflow.others, 'act') }}
          <span class="text-ink-3">of {{ plural(workflow.runs, 'item') }}</span>
          <div v-if="workflow.held" class="text-sm text-amber">{{ workflow.held }} needs you</div>
        </template>
        <span v-else class="text-ink-3">has not run</span>
      </template>
      <template #cell-last="{ row: workflow }">
        {{ workflow.lastAt ? shortMoment(workflow.lastAt, session.zone) : '' }}
      </template>
      <template #cell-actions="{ row: workflow }">
        <button
          v-if="workflow.version === null"
          class="btn btn-quiet"
          :aria-label="`Remove ${workflow.name}`"
          @click="remove(workflow)"
        >
          Remove
        </button>
      </template>
    </DataTable>
    <p v-else-if="!trouble" class="text-ink-3">Loading …</p>
    <ResumeDialog
      v-if="resuming"
      :workflow="resuming"
      @close="resuming = undefined"
      @resumed="((resuming = undefined), load())"
    />
  </div>
</template>
