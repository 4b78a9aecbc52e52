<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue';
import { z } from 'zod';
import { SNIPPET_NAME } from '@playa/core/workflow/snippets.ts';
import { call } from '../../lib/api.ts';
import { useStale } from '../../lib/changed-meanwhile.ts';
import { useDrafts } from '../../lib/drafts.ts';
import { useSendForm } from '../../lib/form.ts';
import { everyPage } from '../../lib/pages.ts';
import type { SnippetChange, SnippetWithUses } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';
import ChangedMeanwhile from '../form/ChangedMeanwhile.vue';
import FormField from '../form/FormField.vue';
import ModalDialog from '../form/ModalDialog.vue';

// The brand's snippets, where each is used, and what a change would change before it is made.
const emit = defineEmits<{ close: [] }>();
const editor = useEditor();
const session = useSession();
const snippets = ref<SnippetWithUses[]>([]);
/** The name of the one that is open; empty for a new one. */
const chosen = ref('');
/** The revision that the words here are of; null for a new one. */
let seen: string | null = null;
const changes = ref<SnippetChange[] | null>(null);
const { stale, isStale } = useStale();
const known = computed(() => snippets.value.find((each) => each.name === chosen.value));
const form = useSendForm({
  schema: z.object({
    name: z.string().trim().regex(SNIPPET_NAME, 'A name starts with a letter and has no spaces.'),
    text: z
      .string()
      .max(4000)
      .refine((text) => text.trim() !== '', 'Write what it says.'),
  }),
  values: { name: '', text: '' },
  send: save,
  known: (error) => known.value !== undefined && isStale(error),
});
const { busy, trouble, changed, values } = form;
const drafts = useDrafts(form);

async function load() {
  const pages = await everyPage('listSnippets', { brand: session.brandId });
  snippets.value = pages.flatMap((page) => page.snippets);
}
/** Opens another one; what was typed for this one stays with it. */
function turnTo(snippet: SnippetWithUses | null) {
  if (chosen.value === (snippet?.name ?? '')) return;
  drafts.leave(chosen.value, seen);
  open(snippet);
}
function open(snippet: SnippetWithUses | null) {
  chosen.value = snippet?.name ?? '';
  const there = { name: chosen.value, text: snippet?.text ?? '' };
  seen = drafts.enter(chosen.value, there, snippet?.revision ?? null);
  changes.value = null;
  trouble.value = '';
}
const tried = <T,>(work: () => Promise<T>) => form.attempt(work);
onMounted(() => void tried(load).then(() => open(snippets.value[0] ?? null)));

// What it would change is asked for once typing pauses.
let timer: ReturnType<typeof setTimeout> | undefined;
watch([() => values.value.text, chosen], ([text]) => {
  clearTimeout(timer);
  changes.value = null;
  if (!known.value?.uses.length || text.trim() === '' || text === known.value.text) return;
  timer = setTimeout(() => {
    const asked = chosen.value;
    void tried(async () => {
      const answer = await call('previewSnippetChange', { brand: session.brandId, name: asked }, { body: { text } });
      if (asked === chosen.value) changes.value = answer.changes;
    });
  }, 350);
});

watch(chosen, () => (stale.value = undefined));
async function seeTheirs() {
  stale.value = undefined;
  const name = chosen.value;
  await tried(load);
  if (chosen.value === name) open(snippets.value.find((each) => each.name === name) ?? null);
}

function keepMine() {
  seen = stale.value!.current;
  return send();
}
function send() {
  stale.value = undefined;
  return form.submit();
}
async function save({ name: next, text }: { name: string; text: string }): Promise<void> {
  const sent = form.values.value;
  const chosenAs = chosen.value;
  const at = chosenAs || next;
  // Nothing that is waiting to be saved may come after the names have changed.
  await editor.flush();
  await call(
    'keepSnippet',
    { brand: session.brandId, name: at },
    { body: { text, revision: seen, ...(next !== at ? { rename: next } : {}) } },
  );
  await load();
  if (next !== at && editor.workflow) await editor.open(editor.workflow.id);
  else await editor.refreshWorld();
  // Who has gone on to another one meanwhile stays there.
  if ((chosen.value || next) !== at || values.value.name.trim() !== next) return drafts.settle(chosenAs, sent);
  const kept = snippets.value.find((each) => each.name === next);
  chosen.value = next;
  seen = kept?.revision ?? null;
  changes.value = null;
  form.settle(sent, { name: next, text: kept?.text ?? text });
}
async function remove() {
  const gone = chosen.value;
  const done = await tried(async () => {
    await call('deleteSnippet', { brand: session.brandId, name: gone });
    await load();
    await editor.refreshWorld();
    return true;
  });
  if (done && chosen.value === gone) open(snippets.value[0] ?? null);
}
</script>

<template>
  <ModalDialog
    title="Snippets"
    width="large"
    :busy="busy"
    :unsaved="drafts.count.value > 0 || (changed && values.text.trim() !== '')"
    @close="emit('close')"
  >
    <p class="mb-3 text-ink-2">
      Words of the brand’s own that captions share. Changing one changes every caption that uses it.
    </p>
    <div class="grid gap-4 md:grid-cols-[13rem_minmax(0,1fr)]">
      <div>
        <ul class="overflow-hidden rounded-(--radius) border border-line">
          <li v-for="snippet in snippets" :key="snippet.name">
            <button
              class="block w-full border-b border-line px-2.5 py-1.5 text-left hover:bg-sea-wash"
              :class="chosen === snippet.name && 'bg-sea-wash'"
              :aria-current="chosen === snippet.name"
              @click="turnTo(snippet)"
            >
              <b>{{ snippet.name }}</b>
              <span v-if="drafts.has(snippet.name)" class="text-sm text-amber"> not kept yet</span>
              <span class="block text-sm text-ink-3">{{
                snippet.uses.length === 0
                  ? 'not used yet'
                  : `in ${snippet.uses.length} ${snippet.uses.length === 1 ? 'workflow' : 'workflows'}`
              }}</span>
            </button>
          </li>
          <li v-if="snippets.length === 0" class="px-2.5 py-1.5 text-ink-3">None yet. Make the first one here.</li>
        </ul>
        <button class="btn btn-quiet mt-1 px-1" @click="turnTo(null)">+ new snippet</button>
      </div>
      <div>
        <FormField class="mb-2" :form="form" name="name" label="Name" placeholder="sign-off" :maxlength="40" />
        <FormField :form="form" name="text" label="Says" :maxlength="4000" :lines="3" />
        <template v-if="known?.uses.length">
          <h3 class="mt-3">Used by</h3>
          <ul>
            <li v-for="use in known.uses" :key="use.workflowId">
              <RouterLink
                class="link"
                :to="{ name: 'run-sheet', params: { brand: session.brandId, id: use.workflowId } }"
                @click="emit('close')"
                >{{ use.workflow }}</RouterLink
              >
              <span class="text-sm text-ink-3">
                {{ use.live ? 'live' : 'in the draft only' }}, {{ use.steps }}
                {{ use.steps === 1 ? 'step' : 'steps' }}</span
              >
            </li>
          </ul>
        </template>
        <div v-if="changes" aria-live="polite">
          <h3 class="mt-3">What that changes</h3>
          <p v-if="changes.length === 0" class="text-ink-3">Nothing in what the newest items would say.</p>
          <table v-else class="w-full text-left text-sm">
            <tbody>
              <tr v-for="(each, index) in changes" :key="index" class="border-t border-line align-top">
                <td class="py-1 pr-2">
                  {{ each.workflow }}<span class="block text-ink-3">{{ each.outlet }}</span>
                </td>
                <td class="py-1 pr-2 break-words whitespace-pre-line text-ink-3">{{ each.before }}</td>
                <td class="py-1 break-words whitespace-pre-line">
                  {{ each.after }}<b v-if="each.trouble" class="block text-rose">{{ each.trouble }}</b>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <ChangedMeanwhile v-if="stale" :says="stale.says" :busy="busy" @theirs="seeTheirs" @mine="keepMine" />
        <p v-if="trouble" role="alert" class="mt-2 text-rose">{{ trouble }}</p>
      </div>
    </div>
    <template #actions="{ leave }">
      <button class="btn mr-auto" @click="leave">Close</button>
      <button v-if="known" class="btn" :disabled="busy" @click="remove">Delete</button>
      <button class="btn btn-main" :disabled="busy || !changed || stale !== undefined" @click="send">
        {{ known ? 'Change it everywhere' : 'Keep it' }}
      </button>
    </template>
  </ModalDialog>
</template>
