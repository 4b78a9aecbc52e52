<script setup lang="ts">
import { Scissors } from '@lucide/vue';
import { useDebounceFn } from '@vueuse/core';
import { computed, onMounted, ref, watch } from 'vue';
import { z } from 'zod';
import { clipCells, clipColumns, type SharedPage } from '@playa/core/sheets/clip.ts';
import { isWritten, type Column } from '@playa/core/sheets/column.ts';
import { call } from '../../lib/api.ts';
import { useSendForm } from '../../lib/form.ts';
import { shortMoment } from '../../lib/times.ts';
import type { Answer, ListedSheet, SheetRow } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import ChooseOne from '../form/ChooseOne.vue';
import FormField from '../form/FormField.vue';

// What is written about a page that becomes a row of a sheet.
const props = defineProps<{ page: SharedPage; sheet: ListedSheet; sheets: readonly ListedSheet[] }>();
const emit = defineEmits<{ made: [row: number, sheet: ListedSheet]; into: [sheet: number] }>();
interface Draft {
  url: string;
  title: string;
  note: string;
  picture: string;
  /** What the sheet asks for besides, by the key of its column. */
  more: Record<string, string>;
}
type Preview = NonNullable<Answer<'previewLink'>['preview']>;
/** Said by its name: written out in the template it is taken for a comment by the type checker. */
const BEGINS = 'https://';
const session = useSession();
const before = ref<SheetRow[]>([]);
const preview = ref<Preview | null>(null);
const columns = computed(() => props.sheet.columns as Column[]);
/** What the sheet asks for besides. */
const others = computed(() => {
  const taken = new Set(Object.values(clipColumns(columns.value) ?? {}));
  return columns.value.filter((column) => isWritten(column) && !taken.has(column.key));
});
const text = z.string().trim();
const form = useSendForm<Draft, Draft>({
  schema: z.object({
    url: text.min(1, 'Which page is it?').regex(/^https?:\/\/\S+$/i, 'An address begins with https:// or http://.'),
    title: text.max(500, 'At most 500 characters.'),
    note: text,
    picture: text,
    more: z.record(z.string(), text),
  }),
  values: { url: props.page.url, title: props.page.title, note: props.page.note, picture: '', more: {} },
  send: clip,
});
const { busy, trouble: wrong, values } = form;

let turn = 0;
/** What the page says of itself, and whether it was clipped before. */
async function look(): Promise<void> {
  const mine = ++turn;
  const address = values.value.url.trim();
  before.value = [];
  preview.value = null;
  if (!/^https?:\/\/\S+$/i.test(address)) return;
  const [found, same] = await Promise.all([
    call('previewLink', { brand: session.brandId }, { query: { url: address } }).catch(() => ({ preview: null })),
    call('findClipped', { brand: session.brandId, id: props.sheet.id }, { body: { url: address } }).catch(() => ({
      rows: [],
    })),
  ]);
  if (mine !== turn) return;
  before.value = same.rows;
  preview.value = found.preview;
  // What a person has written is not written over.
  if (!values.value.title.trim() && found.preview?.title) form.set('title', found.preview.title);
  form.set('picture', found.preview?.image ?? '');
}
const lookSoon = useDebounceFn(() => void look(), 350);
watch([() => values.value.url, () => props.sheet.id], lookSoon, { immediate: true });
const root = ref<HTMLFormElement>();
onMounted(() => {
  if (!props.page.url) root.value?.querySelector('input')?.focus();
});

async function clip({ more, ...of }: Draft): Promise<void> {
  const into = props.sheet;
  const asked = new Set(others.value.map(({ key }) => key));
  const cells = {
    ...clipCells(columns.value, of),
    // What was filled in for another sheet is not this one's.
    ...Object.fromEntries(Object.entries(more).filter(([key, text]) => asked.has(key) && text)),
  };
  const { rows } = await call('addSheetRows', { brand: session.brandId, id: into.id }, { body: { rows: [cells] } });
  emit('made', rows[0]!.id, into);
}
const setMore = (key: string, text: string) => form.set('more', { ...values.value.more, [key]: text });
</script>

<template>
  <form ref="root" class="sheet grid gap-3 px-4 py-4" novalidate @submit.prevent="form.submit()">
    <FormField :form="form" name="url" label="Address" type="url" :placeholder="BEGINS" />
    <p v-if="before.length" class="rounded-(--radius) bg-amber-wash px-3 py-2 text-amber" role="status">
      It was clipped before, {{ shortMoment(before[0]!.createdAt, session.zone) }}.
      <RouterLink
        class="underline"
        :to="{ name: 'sheet', params: { brand: session.brandId, id: sheet.id }, query: { row: before[0]!.id } }"
        >See it</RouterLink
      >
    </p>
    <FormField :form="form" name="title" label="Title" :maxlength="500" />
    <FormField :form="form" name="note" label="Note of your own" placeholder="Why it is worth sharing" :lines="4" />
    <div v-if="preview" class="flex gap-3 rounded-(--radius) border border-line p-2">
      <img v-if="preview.image" :src="preview.image" alt="" class="h-16 w-24 rounded-sm object-cover" />
      <p class="min-w-0 text-sm text-ink-2">
        <b class="block truncate text-ink">{{ preview.title }}</b><span class="line-clamp-2">{{
          preview.description
        }}</span>
        <span v-if="preview.site || preview.author" class="block truncate text-ink-3">{{
          [preview.site, preview.author && `by ${preview.author}`].filter(Boolean).join(', ')
        }}</span>
      </p>
    </div>
    <div>
      <span>Into</span>
      <ChooseOne
        class="w-full"
        label="Into"
        :value="sheet.id"
        :options="sheets.map(({ id, name }) => ({ value: id, name }))"
        @change="emit('into', Number($event))"
      />
    </div>
    <details v-if="others.length">
      <summary class="cursor-pointer text-ink-2">More of {{ sheet.name }}</summary>
      <label v-for="column in others" :key="column.key" class="mt-2 block"
        ><span>{{ column.name }}</span>
        <ChooseOne
          v-if="column.type === 'choice'"
          class="w-full"
          :label="column.name"
          any="–"
          :options="column.options.map(({ value }) => ({ value, name: value }))"
          :value="values.more[column.key]"
          @change="setMore(column.key, $event)"
        />
        <input
          v-else
          class="field w-full"
          :value="values.more[column.key] ?? ''"
          @input="setMore(column.key, ($event.target as HTMLInputElement).value)"
        />
      </label>
    </details>
    <p v-if="wrong" role="alert" class="rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
    <button class="btn btn-main justify-self-start" :disabled="busy">
      <Scissors :size="15" /> {{ before.length ? 'Clip it again' : 'Clip it' }}
    </button>
  </form>
</template>
