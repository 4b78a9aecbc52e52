<script setup lang="ts">
import { Film, Upload } from '@lucide/vue';
import { computed, onMounted, ref, watch } from 'vue';
import { z } from 'zod';
import type { MediaType } from '@playa/core/outlets/kinds.ts';
import { clockLength } from '@playa/core/text/durations.ts';
import { call } from '../../lib/api.ts';
import { useStale } from '../../lib/changed-meanwhile.ts';
import { useDrafts } from '../../lib/drafts.ts';
import { useSendForm } from '../../lib/form.ts';
import type { Answer, FileWithUses } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';
import ChangedMeanwhile from '../form/ChangedMeanwhile.vue';
import FormField from '../form/FormField.vue';
import ModalDialog from '../form/ModalDialog.vue';

// The brand's own pictures and films: to choose one, add to them, say what they show.
const props = defineProps<{ chosen?: number | undefined; types: readonly MediaType[] }>();
const emit = defineEmits<{ choose: [id: number]; close: [] }>();
const editor = useEditor();
const session = useSession();
const files = ref<FileWithUses[]>([]);
const loaded = ref(false);
/** Where older ones begin; null where all are shown. */
const more = ref<string | null>(null);
/** So many pages are shown. */
let shown = 1;
const open = ref(props.chosen ?? 0);
/** The revision that the name and the words here are of. */
let seen = '';
const troubles = ref<string[]>([]);
/** Names of those that are on their way. */
const coming = ref<string[]>([]);
const over = ref(false);
const input = ref<HTMLInputElement>();

const known = computed(() => files.value.find(({ id }) => id === open.value));
const { stale, isStale } = useStale();
const form = useSendForm({
  schema: z.object({
    name: z.string().trim().min(1, 'It needs a name.').max(200),
    alt: z.string().trim().max(1000),
  }),
  values: { name: '', alt: '' },
  send: describe,
  known: isStale,
});
const { busy, trouble, changed } = form;
const drafts = useDrafts(form);
const fits = (file: FileWithUses) => props.types.includes(file.type);

/** As many pages as are shown, and on to one that is wanted. */
async function load(wanted = open.value) {
  const found: FileWithUses[] = [];
  let next: string | null = null;
  let pages = 0;
  do {
    const query = next === null ? {} : { after: next };
    const page: Answer<'listFiles'> = await call('listFiles', { brand: session.brandId }, { query });
    found.push(...page.files);
    next = page.next;
    pages += 1;
  } while (next && (pages < shown || (wanted > 0 && !found.some(({ id }) => id === wanted))));
  shown = pages;
  more.value = next;
  files.value = found;
  loaded.value = true;
}
async function showMore() {
  shown += 1;
  await tried(() => load());
}
/** Opens another one; what was typed for this one stays with it. */
function turnTo(file: FileWithUses | undefined) {
  if (file?.id === open.value) return;
  drafts.leave(String(open.value), seen);
  look(file);
}
function look(file: FileWithUses | undefined) {
  open.value = file?.id ?? 0;
  trouble.value = '';
  seen = drafts.enter(String(open.value), { name: file?.name ?? '', alt: file?.alt ?? '' }, file?.revision ?? '') ?? '';
}
async function tried(work: () => Promise<void>, about = ''): Promise<boolean> {
  try {
    await work();
    return true;
  } catch (error) {
    troubles.value.push(about + (error as Error).message);
    return false;
  }
}
onMounted(async () => {
  await tried(() => load());
  look(known.value ?? files.value.find(fits));
});

async function add(list: FileList | null) {
  troubles.value = [];
  for (const file of [...(list ?? [])]) {
    coming.value.push(file.name);
    await tried(async () => {
      const made = await call('addFile', { brand: session.brandId }, { query: { name: file.name.slice(-200) }, file });
      await Promise.all([load(), editor.refreshWorld()]);
      turnTo(files.value.find(({ id }) => id === made.file.id));
    }, `${file.name}: `);
    coming.value.splice(coming.value.indexOf(file.name), 1);
  }
  if (input.value) input.value.value = '';
}
watch(open, () => (stale.value = undefined));
async function seeTheirs() {
  stale.value = undefined;
  await tried(() => load());
  look(known.value);
}
function keepMine() {
  seen = stale.value!.current;
  return keep();
}
function keep() {
  troubles.value = [];
  stale.value = undefined;
  return form.submit();
}
async function describe(told: { name: string; alt: string }): Promise<void> {
  const { id } = known.value!;
  const sent = form.values.value;
  await call('describeFile', { brand: session.brandId, id }, { body: { ...told, revision: seen } });
  await Promise.all([load(), editor.refreshWorld()]);
  if (open.value !== id) return drafts.settle(String(id), sent);
  // What was typed meanwhile stays, on top of what has just been kept.
  seen = known.value?.revision ?? '';
  form.settle(sent, told);
}
async function use() {
  const { id } = known.value!;
  if (changed.value) await keep();
  if (!changed.value) emit('choose', id);
}
async function remove() {
  troubles.value = [];
  await tried(async () => {
    await call('deleteFile', { brand: session.brandId, id: known.value!.id });
    await Promise.all([load(0), editor.refreshWorld()]);
    look(files.value.find(fits));
  });
}
const size = (bytes: number | null) =>
  bytes! < 950_000 ? `${Math.ceil(bytes! / 1000)} kB` : `${(bytes! / 1e6).toFixed(1)} MB`;
</script>

<template>
  <ModalDialog
    title="Pictures and films"
    width="large"
    :busy="busy"
    :unsaved="changed || drafts.count.value > 0"
    @close="emit('close')"
  >
    <div
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="
        over = false;
        add($event.dataTransfer?.files ?? null);
      "
    >
      <p class="mb-3 text-ink-2">The brand’s own, for any post. Networks get them from Playa.</p>
      <div class="grid gap-4 md:grid-cols-[minmax(0,1fr)_16rem]">
        <div>
          <ul class="grid max-h-[22rem] grid-cols-3 gap-2 overflow-y-auto" aria-label="Files">
            <li>
              <button
                class="grid h-full min-h-28 w-full place-items-center rounded-(--radius) border border-dashed border-ink-3 p-2 text-center text-ink-2 hover:bg-sea-wash"
                :class="over && 'bg-sea-wash'"
                @click="input?.click()"
              >
                <span><Upload :size="18" class="mx-auto mb-1" />Add files, or drop them here</span>
              </button>
              <input
                ref="input"
                type="file"
                class="hidden"
                multiple
                aria-label="Files to add"
                accept="image/jpeg,image/png,image/webp,image/gif,video/mp4,video/quicktime,video/webm"
                @change="add(($event.target as HTMLInputElement).files)"
              />
            </li>
            <li
              v-for="each in coming"
              :key="`coming ${each}`"
              class="grid min-h-28 place-items-center rounded-(--radius) border border-line p-2 text-center text-sm text-ink-3"
            >
              {{ each }} is coming…
            </li>
            <li v-for="file in files" :key="file.id">
              <button
                class="block w-full overflow-hidden rounded-(--radius) border text-left"
                :class="open === file.id ? 'border-sea ring-1 ring-sea' : 'border-line hover:border-sea'"
                :aria-pressed="open === file.id"
                @click="turnTo(file)"
                @dblclick="fits(file) && use()"
              >
                <img
                  v-if="file.type === 'picture'"
                  :src="file.url"
                  :alt="file.alt"
                  loading="lazy"
                  class="h-20 w-full bg-paper object-cover"
                />
                <span v-else class="grid h-20 place-items-center bg-paper text-ink-3"><Film :size="22" /></span>
                <span class="block truncate px-1.5 pt-1 font-[650]">{{ file.name }}</span>
                <span v-if="drafts.has(String(file.id))" class="block px-1.5 text-sm text-amber">not kept yet</span>
                <span class="block px-1.5 pb-1 text-sm text-ink-3"
                  >{{ file.width }} × {{ file.height
                  }}{{ file.seconds === null ? '' : `, ${clockLength(file.seconds)}` }}</span
                >
              </button>
            </li>
          </ul>
          <button v-if="more" class="btn mt-2" @click="showMore">Show older ones</button>
          <p v-if="loaded && files.length === 0" class="mt-2 text-ink-3">
            None yet. JPEG, PNG, WebP and GIF up to 20 MB; MP4, MOV and WebM up to 200 MB.
          </p>
        </div>
        <div v-if="known" class="min-w-0">
          <img v-if="known.type === 'picture'" :src="known.url" :alt="known.alt" class="max-h-40 rounded" />
          <video v-else :src="known.url" controls preload="metadata" class="max-h-40 w-full rounded bg-black"></video>
          <p class="mt-1 text-sm text-ink-3">{{ known.mediaType?.replace(/^\w+\//, '') }}, {{ size(known.bytes) }}</p>
          <FormField class="mt-2" :form="form" name="name" label="Name" :maxlength="200" />
          <FormField
            v-if="known.type === 'picture'"
            class="mt-2"
            :form="form"
            name="alt"
            label="It shows"
            placeholder="For those who cannot see it"
            :maxlength="1000"
            :lines="2"
          />
          <template v-if="known.uses.length">
            <h3 class="mt-2">Sent by</h3>
            <p v-for="each in known.uses" :key="each.workflowId">
              {{ each.workflow }}
              <span class="text-sm text-ink-3">{{ each.live ? 'live' : 'in the draft only' }}</span>
            </p>
          </template>
        </div>
      </div>
      <ChangedMeanwhile v-if="stale" :says="stale.says" :busy="busy" @theirs="seeTheirs" @mine="keepMine" />
      <p v-if="trouble" role="alert" class="mt-2 text-rose">{{ trouble }}</p>
      <p v-for="each in troubles" :key="each" role="alert" class="mt-2 text-rose">{{ each }}</p>
      <p v-if="known && !fits(known)" class="mt-2 text-ink-3">
        The chosen outlets take no {{ known.type === 'video' ? 'films' : 'pictures' }}.
      </p>
    </div>
    <template #actions="{ leave }">
      <button class="btn mr-auto" @click="leave">Close</button>
      <button v-if="known" class="btn" @click="remove">Delete</button>
      <button v-if="changed" class="btn" :disabled="busy || stale !== undefined" @click="keep">
        Keep what it says
      </button>
      <button class="btn btn-main" :disabled="busy || !known || !fits(known)" @click="use">Use this one</button>
    </template>
  </ModalDialog>
</template>
