<script setup lang="ts">
import { Plus } from '@lucide/vue';
import { onMounted, ref } from 'vue';
import type { z } from 'zod';
import {
  policySchema,
  sayRow,
  USUAL_POLICY,
  type Policy,
  type PolicyDoes,
  type PolicyRow,
} from '@playa/core/desk/policy.ts';
import { OFFICE_HOURS } from '@playa/core/timetable/opening-hours.ts';
import { call } from '../../lib/api.ts';
import { useStale } from '../../lib/changed-meanwhile.ts';
import { useSendForm } from '../../lib/form.ts';
import type { Answer } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ChangedMeanwhile from '../form/ChangedMeanwhile.vue';
import ChooseOne from '../form/ChooseOne.vue';
import HoursEditor from '../form/HoursEditor.vue';
import PolicyTrial from './PolicyTrial.vue';
import { KIND_CHOICES, LANGUAGE_CHOICES, placeChoices, TONE_CHOICES } from './choices.ts';
import ModalDialog from '../form/ModalDialog.vue';
import MoveRow from '../form/MoveRow.vue';

// Which answers go out by themselves: rows, the first that fits decides, tried on what people really wrote.
const emit = defineEmits<{ close: [] }>();
const session = useSession();
const notices = useNotices();
const opened = ref<Answer<'openPolicy'>>();
const tried = ref<Answer<'tryPolicy'>>();
const DOES: Record<PolicyDoes, string> = {
  post: 'goes out by itself',
  hold: 'waits for a yes',
  ignore: 'is not answered',
};

const { stale, isStale } = useStale();
/** The revision that the policy here is put over. */
let over = '';
const form = useSendForm<Policy, Policy>({
  schema: policySchema as z.ZodType<Policy, Policy>,
  values: USUAL_POLICY,
  send: async (policy) => {
    await call('keepPolicy', { brand: session.brandId }, { body: { policy, revision: over } });
    notices.say('The policy is kept. It holds for what is answered from now on.');
    emit('close');
  },
  known: isStale,
});
const { busy, trouble, problem, changed, values: policy } = form;

async function load() {
  stale.value = undefined;
  try {
    const answer = await call('openPolicy', { brand: session.brandId });
    over = answer.revision;
    form.reset(answer.policy);
    opened.value = answer;
    await trial();
  } catch (error) {
    trouble.value = (error as Error).message;
  }
}
onMounted(load);
const nameOf = (outlet: number | undefined | null) =>
  outlet ? (opened.value?.outlets.find(({ id }) => id === outlet)?.name ?? 'a place that is gone') : null;

async function trial() {
  const of = policy.value;
  await form.attempt(async () => {
    const answer = await call('tryPolicy', { brand: session.brandId }, { body: { policy: of } });
    // What was changed meanwhile has not been tried.
    if (JSON.stringify(of) === JSON.stringify(policy.value)) tried.value = answer;
  });
}
function set<Name extends keyof Policy>(name: Name, value: Policy[Name]) {
  form.set(name, value);
  tried.value = undefined;
}
const setRows = (rows: readonly PolicyRow[]) => set('rows', [...rows]);
const put = (index: number, row: Partial<PolicyRow>) =>
  setRows(policy.value.rows.map((each, at) => (at === index ? without({ ...each, ...row }) : each)));
/** Without what may be anything. */
const without = (row: PolicyRow) =>
  Object.fromEntries(Object.entries(row).filter(([, value]) => value !== undefined)) as PolicyRow;
function move(index: number, by: number) {
  const rows = [...policy.value.rows];
  const [row] = rows.splice(index, 1);
  rows.splice(index + by, 0, row!);
  setRows(rows);
}
const add = () => setRows([...policy.value.rows, { id: crypto.randomUUID(), kind: 'review', does: 'hold' }]);
const valueOf = (event: Event) => (event.target as HTMLSelectElement).value;
const starsFrom = (from: string) => [1, 2, 3, 4, 5].map((stars) => ({ value: stars, name: `${from} ${stars}` }));
const HOURS = [{ value: 'within', name: 'within hours' }];
const ASKING = [
  { value: 'yes', name: 'asks something' },
  { value: 'no', name: 'asks nothing' },
];
function copy(member: number) {
  const { copyTo } = policy.value;
  set('copyTo', copyTo.includes(member) ? copyTo.filter((each) => each !== member) : [...copyTo, member]);
}
function keepMine() {
  over = stale.value!.current;
  stale.value = undefined;
  return form.submit();
}
</script>

<template>
  <ModalDialog title="Who may answer alone" width="huge" :busy="busy" :unsaved="changed" @close="emit('close')">
    <p class="mt-1 text-ink-2">
      Which answers of workflows go out by themselves. The first row that fits decides; what a colleague has said yes to
      goes out in any case.
      <b v-if="opened?.usual" class="text-ink">Nobody has changed this yet.</b>
    </p>
    <p v-if="trouble || problem" role="alert" class="mt-2 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble || problem }}
    </p>
    <div v-if="opened" class="mt-3 grid gap-3">
      <ol class="grid gap-2">
        <li
          v-for="(row, index) in policy.rows"
          :key="row.id"
          class="rounded-(--radius) border border-line bg-paper px-3 py-2"
        >
          <p class="mb-1.5 flex items-start gap-2">
            <b class="min-w-0 flex-1">{{ sayRow(row, nameOf(row.outlet)) }}</b>
            <MoveRow
              :index="index"
              :count="policy.rows.length"
              up="Move the row up"
              down="Move the row down"
              away="Take the row away"
              @move="move(index, $event)"
              @away="setRows(policy.rows.filter((_, at) => at !== index))"
            />
          </p>
          <div class="flex flex-wrap gap-1.5">
            <ChooseOne
              label="Which kind"
              any="anything"
              :options="KIND_CHOICES"
              :value="row.kind"
              @change="put(index, { kind: ($event || undefined) as PolicyRow['kind'] })"
            />
            <ChooseOne
              class="max-w-40"
              label="Which place"
              any="every place"
              :options="placeChoices(opened.outlets)"
              :value="row.outlet"
              @change="put(index, { outlet: Number($event) || undefined })"
            />
            <ChooseOne
              label="At least so many stars"
              any="from any stars"
              :options="starsFrom('from')"
              :value="row.leastStars"
              @change="put(index, { leastStars: Number($event) || undefined })"
            />
            <ChooseOne
              label="At most so many stars"
              any="to any stars"
              :options="starsFrom('to')"
              :value="row.mostStars"
              @change="put(index, { mostStars: Number($event) || undefined })"
            />
            <ChooseOne
              label="How it sounds"
              any="any tone"
              :options="TONE_CHOICES"
              :value="row.tone"
              @change="put(index, { tone: ($event || undefined) as PolicyRow['tone'] })"
            />
            <ChooseOne
              label="Which language"
              any="any language"
              :options="LANGUAGE_CHOICES"
              :value="row.language"
              @change="put(index, { language: $event || undefined })"
            />
            <ChooseOne
              label="Whether it asks something"
              any="asking or not"
              :options="ASKING"
              :value="row.question === undefined ? undefined : row.question ? 'yes' : 'no'"
              @change="put(index, { question: $event === '' ? undefined : $event === 'yes' })"
            />
            <ChooseOne
              label="At which hours"
              any="at any hour"
              :options="HOURS"
              :value="row.hours ? 'within' : undefined"
              @change="put(index, { hours: $event === '' ? undefined : OFFICE_HOURS })"
            />
            <input
              class="field w-40 flex-1"
              aria-label="Keywords"
              placeholder="any words"
              title="Keywords, separated by commas, in their usual misspellings"
              :value="row.words ?? ''"
              @change="put(index, { words: valueOf($event).trim() || undefined })"
            />
            <select
              class="field font-[650]"
              aria-label="What becomes of it"
              :value="row.does"
              @change="put(index, { does: valueOf($event) as PolicyDoes })"
            >
              <option v-for="(says, does) in DOES" :key="does" :value="does">{{ says }}</option>
            </select>
          </div>
          <div v-if="row.hours" class="mt-1.5 border-t border-line pt-1.5">
            <HoursEditor :hours="row.hours" @change="put(index, { hours: $event })" />
            <p class="text-sm text-ink-3">
              By the clock of {{ session.brand?.name }}, {{ session.zone }}. For the other hours, put a row behind it.
            </p>
          </div>
        </li>
      </ol>
      <p class="flex flex-wrap items-center gap-2">
        <button class="btn" @click="add"><Plus :size="14" /> A row</button>
        <label class="ml-auto flex items-center gap-2"
          >Everything else
          <select
            class="field font-[650]"
            :value="policy.otherwise"
            @change="set('otherwise', valueOf($event) as PolicyDoes)"
          >
            <option v-for="(says, does) in DOES" :key="does" :value="does">{{ says }}</option>
          </select>
        </label>
      </p>
      <fieldset class="flex flex-wrap items-center gap-x-4 gap-y-1">
        <legend class="mb-1 text-sm font-[650] text-ink-2">
          A copy of everything that is answered alone, with the question, to
        </legend>
        <label v-for="member in opened.members" :key="member.id" class="flex items-center gap-1.5">
          <input
            type="checkbox"
            class="accent-(--sea)"
            :checked="policy.copyTo.includes(member.id)"
            @change="copy(member.id)"
          />
          {{ member.name }}
        </label>
      </fieldset>
      <PolicyTrial
        :tried="tried"
        :changed="changed"
        :busy="busy"
        :does="DOES"
        :outlets="opened.outlets"
        @trial="trial"
      />
    </div>
    <ChangedMeanwhile v-if="stale" :says="stale.says" :busy="busy" @theirs="load" @mine="keepMine" />
    <template #actions>
      <button class="btn" @click="emit('close')">Cancel</button>
      <button class="btn btn-main" :disabled="busy || !changed || stale !== undefined" @click="form.submit()">
        Keep the policy
      </button>
    </template>
  </ModalDialog>
</template>
