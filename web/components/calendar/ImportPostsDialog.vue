<script setup lang="ts">
import { computed, ref } from 'vue';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import { dayAndTime } from '../../lib/times.ts';
import type { CalendarOutlet, ImportedPosts } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ModalDialog from '../form/ModalDialog.vue';
import MapColumns from '../table-file/MapColumns.vue';
import ReadRows from '../table-file/ReadRows.vue';

// A file is read as posts: what each column says, what post each row would become, and what is wrong with it, before
// anything is written. Rows with something wrong are left out; the others are written together, or none of them.
const props = defineProps<{ file: File; outlets: readonly CalendarOutlet[] }>();
const emit = defineEmits<{ close: []; made: [] }>();
const session = useSession();
const notices = useNotices();
const read = ref<ImportedPosts>();
const map = ref<ImportedPosts['map']>([]);
const { busy, trouble: wrong, attempt } = useAttempt();
const COLUMNS = {
  when: 'when it goes',
  where: 'where it goes',
  words: 'what it says',
  link: 'its link',
  state: 'how far it is',
};
type Column = keyof typeof COLUMNS;
const COLUMN_NAMES = Object.keys(COLUMNS) as Column[];
const CHOICES = COLUMN_NAMES.map((value) => ({ value, name: COLUMNS[value] }));

async function ask(then: 'show' | 'keep-good', first = false) {
  await attempt(async () => {
    const query = { then, ...(first ? {} : { map: map.value.map((each) => each ?? '').join(',') }) };
    const answer = await call('importPosts', { brand: session.brandId }, { query, file: props.file });
    read.value = answer;
    map.value = answer.map;
    if (then === 'show') return;
    notices.say(`${count(answer.made)} ${answer.made === 1 ? 'was' : 'were'} written from ${props.file.name}.`);
    emit('made');
  });
}
void ask('show', true);
function choose(next: (string | null)[]) {
  map.value = next as ImportedPosts['map'];
  void ask('show');
}
const count = (number: number) => `${number} ${number === 1 ? 'post' : 'posts'}`;
const nameOf = (id: number) => props.outlets.find((outlet) => outlet.id === id)?.name ?? '';
const problemOf = (row: ImportedPosts['rows'][number], column: Column) =>
  row.problems
    .filter((each) => each.column === column)
    .map(({ says }) => says)
    .join(' ');
const said = (row: ImportedPosts['rows'][number]): Record<Column, string> => ({
  when: row.at === null ? '' : dayAndTime(row.at, session.zone),
  where: row.outlets.map(nameOf).join(', '),
  words: row.title,
  link: row.link,
  state: row.state,
});
const rows = computed(() =>
  (read.value?.rows ?? []).map((row) => {
    const says = said(row);
    const cells = COLUMN_NAMES.map((column) => ({ text: says[column], wrong: problemOf(row, column) }));
    return { line: row.line, cells };
  }),
);
</script>

<template>
  <ModalDialog :title="`Posts from ${file.name}`" width="huge" @close="emit('close')">
    <p v-if="wrong" role="alert" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
    <p v-else-if="!read" class="mt-3 text-ink-3">Reading …</p>
    <template v-if="read">
      <h3 class="mt-3 font-[650]">What each column says</h3>
      <MapColumns
        :header="read.header"
        :map="map"
        :choices="CHOICES"
        :label="(heading) => `What ${heading} says`"
        @change="choose"
      />
      <p class="mt-4" role="status">
        <b>{{ count(read.count) }}</b><template v-if="read.bad"
          >, {{ read.bad }} with something wrong, which are left out</template
        >.
        <span v-if="read.approves !== 'nobody'">Those that are ready wait for a yes.</span>
      </p>
      <ReadRows v-if="read.count" :columns="Object.values(COLUMNS)" :rows="rows" />
      <p v-else class="mt-2 text-ink-2">Choose what at least one column says.</p>
    </template>
    <template #actions>
      <button class="btn" @click="emit('close')">Cancel</button>
      <button v-if="read" class="btn btn-main" :disabled="busy || read.count === read.bad" @click="ask('keep-good')">
        Write {{ count(read.count - read.bad) }}{{ read.bad ? ', without the others' : '' }}
      </button>
    </template>
  </ModalDialog>
</template>
