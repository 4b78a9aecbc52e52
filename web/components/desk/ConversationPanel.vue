<script setup lang="ts">
import { X } from '@lucide/vue';
import { useIntervalFn } from '@vueuse/core';
import { computed, nextTick, ref, shallowRef, watch } from 'vue';
import { NETWORK_WORDS, type NetworkKind } from '@playa/core/outlets/networks.ts';
import { call } from '../../lib/api.ts';
import { useStale } from '../../lib/changed-meanwhile.ts';
import { webHref } from '../../lib/links.ts';
import { dayAndTime } from '../../lib/times.ts';
import type { OpenedDeskEntry, Contact } from '../../lib/types.ts';
import { onChanges } from '../../stores/changes.ts';
import { useNotices } from '../../stores/notices.ts';
import { provideBrand } from '../../stores/brand-here.ts';
import { useSession } from '../../stores/session.ts';
import ChangedMeanwhile from '../form/ChangedMeanwhile.vue';
import { didOf } from '../logbook/words.ts';
import { canAnswer, KIND_NAMES } from './answering.ts';
import PersonalData from './PersonalData.vue';
import SameContact from './SameContact.vue';

// The whole conversation with somebody, and what is known of them.
const props = defineProps<{
  /** What they wrote, whose conversation it is. */
  item?: number;
  /** Or they themselves. */
  contactId?: number;
  /** Whose conversation it is, where it is not the chosen brand's. */
  brandId?: number;
}>();
const emit = defineEmits<{ close: [] }>();
const session = useSession();
const here = provideBrand(() => props.brandId);
const notices = useNotices();
const opened = shallowRef<Omit<OpenedDeskEntry, 'entry'>>();
const trouble = ref('');
const spoken = ref<HTMLElement>();
const notes = ref('');
/** The notes that those here are made of: news of others does not change what is being typed. */
let seen = { text: '', revision: '' };
const label = ref('');
const contact = computed(() => opened.value?.contact ?? null);
/** Whose conversation is shown. */
const of = computed(() => `${here.id.value} ${props.item ?? ''} ${props.contactId ?? ''}`);
const name = computed(() => contact.value?.name ?? opened.value?.conversation[0]?.contact.name ?? 'Loading …');

function showNotes(of: Contact | null) {
  seen = { text: of?.notes ?? '', revision: of?.revision ?? '' };
  notes.value = seen.text;
}
async function load() {
  const asked = of.value;
  const brand = here.id.value;
  try {
    const read = await (props.item === undefined
      ? call('openContact', { brand, contact: props.contactId! })
      : call('openDeskEntry', { brand, item: props.item }));
    if (asked !== of.value) return;
    // Notes that are being typed stay.
    if (notes.value === seen.text || opened.value?.contact?.id !== read.contact?.id) showNotes(read.contact);
    const before = opened.value?.conversation.length;
    opened.value = read;
    trouble.value = '';
    // What was said last is what matters.
    await nextTick();
    if (before !== read.conversation.length) spoken.value?.scrollTo({ top: spoken.value.scrollHeight });
  } catch (error) {
    trouble.value = (error as Error).message;
  }
}
watch(of, load, { immediate: true });
onChanges(['desk', 'runs'], () => void load());
// News is told of the chosen brand.
useIntervalFn(() => here.id.value !== session.brandId && void load(), 15_000);

const { stale, isStale } = useStale();
watch(of, () => (stale.value = undefined));
const keepNotes = (over = seen.revision) => note({ notes: { text: notes.value, revision: over } });
async function seeTheirs() {
  stale.value = undefined;
  showNotes(contact.value);
  await load();
}
interface Noted {
  labels?: { add?: string[]; remove?: string[] };
  notes?: { text: string; revision: string };
  leftAlone?: string | null;
}
async function note(noted: Noted) {
  if (!contact.value || !opened.value) return;
  stale.value = undefined;
  try {
    const changed = await call('noteContact', { brand: here.id.value, contact: contact.value.id }, { body: noted });
    opened.value = { ...opened.value, contact: changed };
    if (noted.notes) seen = { text: changed.notes, revision: changed.revision };
    else if (notes.value === seen.text) showNotes(changed);
  } catch (error) {
    if (!isStale(error)) notices.wrong(error);
  }
}
function addLabel() {
  const added = label.value.trim();
  if (added === '' || !contact.value) return;
  label.value = '';
  void note({ labels: { add: [added] } });
}
/** The last thing they wrote that can be answered: what is written here is an answer to it. */
const last = computed(() => opened.value?.conversation.findLast(canAnswer));
const writing = ref('');
const sending = computed(() => opened.value?.conversation.find((entry) => entry.sending));
async function write() {
  const to = last.value;
  if (!to || writing.value.trim() === '') return;
  const held = to.held?.key ? { runId: to.held.runId, key: to.held.key } : null;
  const answers = [
    { itemId: to.itemId, text: writing.value, held, seen: { text: to.text, answered: to.state === 'answered' } },
  ];
  try {
    const { refused } = await call('sendAnswers', { brand: here.id.value }, { body: { answers } });
    if (refused[0]) return notices.wrong(refused[0].why);
    writing.value = '';
    notices.say('It goes in ten seconds.', () => void back(to.itemId));
    await load();
  } catch (error) {
    notices.wrong(error);
  }
}
async function back(item: number) {
  await call('callAnswersBack', { brand: here.id.value }, { body: { items: [item] } }).catch((error: unknown) =>
    notices.wrong(error),
  );
  await load();
}
/** What was said and answered, in the order of time. */
const said = computed(() =>
  (opened.value?.conversation ?? []).flatMap((entry) => [
    { key: `${entry.itemId}`, ours: false, text: entry.text || '(no words)', at: entry.saidAt, entry, by: '' },
    ...(entry.answer && entry.answer.text
      ? [
          {
            key: `${entry.itemId}.answer`,
            ours: true,
            text: entry.answer.text,
            at: entry.answer.at,
            entry,
            by: entry.answer.by === 'workflow' ? 'by itself' : (entry.answer.user ?? 'there'),
          },
        ]
      : []),
  ]),
);
</script>

<template>
  <aside class="sheet flex flex-col gap-3 self-start p-3" aria-label="The conversation">
    <div class="flex items-start gap-2">
      <div class="min-w-0 flex-1">
        <h2 class="truncate text-lg">{{ name }}</h2>
        <p v-if="contact" class="text-sm text-ink-3">
          {{ NETWORK_WORDS[contact.network as NetworkKind]?.name ?? contact.network }} · known since
          {{ dayAndTime(contact.since, here.zone.value) }}
        </p>
      </div>
      <button class="rounded p-1 text-ink-3 hover:text-ink" aria-label="Close the conversation" @click="emit('close')">
        <X :size="15" />
      </button>
    </div>
    <p v-if="trouble" role="alert" class="text-rose">{{ trouble }}</p>
    <ol
      v-if="opened"
      ref="spoken"
      class="grid max-h-[46vh] gap-1.5 overflow-auto"
      aria-label="What was said"
      tabindex="0"
    >
      <li v-for="each in said" :key="each.key" class="max-w-[88%] min-w-0" :class="each.ours && 'justify-self-end'">
        <p
          class="rounded-(--radius) px-2.5 py-1.5 break-words whitespace-pre-line"
          :class="each.ours ? 'bg-sea-wash' : 'bg-paper'"
          dir="auto"
        >
          {{ each.text }}
        </p>
        <p class="text-sm text-ink-3" :class="each.ours && 'text-right'">
          <template v-if="each.ours">we, {{ each.by }}</template
          ><template v-else
            >{{ KIND_NAMES[each.entry.kind]
            }}<template v-if="each.entry.stars !== null">, {{ each.entry.stars }} stars</template></template
          >
          · {{ dayAndTime(each.at, here.zone.value) }}
          <a
            v-if="!each.ours && each.entry.link"
            class="link"
            :href="webHref(each.entry.link)"
            target="_blank"
            rel="noreferrer"
            >see it</a
          >
        </p>
      </li>
    </ol>
    <p v-if="sending?.sending" class="text-sm text-sea" role="status">
      “{{ sending.sending.text }}” is about to go ·
      <button class="underline" @click="back(sending.itemId)">Undo</button>
    </p>
    <form v-else-if="last" class="grid gap-1.5" @submit.prevent="write">
      <textarea
        v-model="writing"
        class="field w-full"
        rows="2"
        :placeholder="last.kind === 'message' ? 'Write to them' : `Answer under their last ${KIND_NAMES[last.kind]}`"
        :aria-label="last.kind === 'message' ? 'Write to them' : `Answer under their last ${KIND_NAMES[last.kind]}`"
        dir="auto"
      ></textarea>
      <button class="btn justify-self-end" :disabled="writing.trim() === ''">Send</button>
    </form>
    <template v-if="contact">
      <div>
        <h3 class="text-sm text-ink-2">Labels</h3>
        <p class="mt-1 flex flex-wrap items-center gap-1">
          <span v-for="each in contact.labels" :key="each" class="pill bg-dusk-wash text-dusk">
            {{ each }}
            <button :aria-label="`Take the label ${each} away`" @click="note({ labels: { remove: [each] } })">
              <X :size="11" />
            </button>
          </span>
          <input
            v-model="label"
            class="field w-28"
            placeholder="a label"
            aria-label="A new label"
            maxlength="60"
            @keydown.enter.prevent="addLabel"
            @blur="addLabel"
          />
        </p>
      </div>
      <label class="block">
        <span class="text-sm font-[650] text-ink-2">Notes for colleagues</span>
        <textarea v-model="notes" class="field mt-1 w-full" rows="2" maxlength="10000" @change="keepNotes()"></textarea>
      </label>
      <ChangedMeanwhile v-if="stale" :says="stale.says" @theirs="seeTheirs" @mine="keepNotes(stale.current)" />
      <p v-if="contact.leftAlone !== null" class="rounded-(--radius) bg-rose-wash px-2.5 py-1.5 text-rose">
        Workflows leave them alone. {{ contact.leftAlone }}
        <button class="underline" @click="note({ leftAlone: null })">Write to them again</button>
      </p>
      <button v-else class="btn self-start" @click="note({ leftAlone: `${session.user?.name} said so.` })">
        Leave them alone
      </button>
      <SameContact :contact="contact" @changed="load()" />
      <PersonalData :contact="contact" @erased="emit('close')" />
      <div v-if="opened && opened.done.length">
        <h3 class="text-sm text-ink-2">What workflows did</h3>
        <ul class="mt-1 text-sm">
          <li v-for="(each, index) in opened.done.slice(0, 12)" :key="index" class="truncate text-ink-2">
            {{ dayAndTime(each.at, here.zone.value) }} · {{ didOf(each.action) }} ·
            <RouterLink
              class="link"
              :to="{ name: 'run-sheet', params: { brand: here.id.value, id: each.workflowId } }"
              >{{ each.workflow }}</RouterLink
            >
          </li>
        </ul>
      </div>
      <div v-if="opened && opened.history.length">
        <h3 class="text-sm text-ink-2">What colleagues did</h3>
        <ul class="mt-1 text-sm text-ink-2">
          <li v-for="each in opened.history.slice(0, 8)" :key="each.id">
            {{ each.by ?? 'Playa' }} {{ each.did }} · {{ dayAndTime(each.at, here.zone.value) }}
          </li>
        </ul>
      </div>
    </template>
  </aside>
</template>
