<script setup lang="ts">
import { ref } from 'vue';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import { dayAndTime } from '../../lib/times.ts';
import type { CalendarOutlet, ImportedPosts } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ModalDialog from '../form/ModalDialog.vue';

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
function choose(place: number, column: string) {
  map.value = map.value.map((each, index) =>
    index === place ? ((column || null) as Column | null) : each === column ? null : each,
  );
  void ask('show');
}
const count = (number: number) => `${number} ${number === 1 ? 'post' : 'posts'}`;
const nameOf = (id: number) => props.outlets.find((outlet) => outlet.id === id)?.name ?? '';
const problemOf = (row: ImportedPosts['rows'][number], column: Column) =>
  row.problems
    .filter((each) => each.column === column)
    .map(({ says }) => says)
    .join(' ');
const said = (row: ImportedPosts['rows'][number]): [Column, string][] => [
  ['when', row.at === null ? '' : dayAndTime(row.at, session.zone)],
  ['where', row.outlets.map(nameOf).join(', ')],
  ['words', row.title],
  ['link', row.link],
  ['state', row.state],
];
</script>

<template>
  <ModalDialog :title="`Posts from ${file.name}`" width="huge" @close="emit('close')">
    <p v-if="wrong" role="alert" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
    <p v-else-if="!read" class="mt-3 text-ink-3">Reading …</p>
    <template v-if="read">
      <h3 class="mt-3 font-[650]">What each column says</h3>
      <div class="mt-1 grid gap-x-6 gap-y-1 sm:grid-cols-2">
        <label v-for="(heading, place) in read.header" :key="place" class="flex items-center gap-2">
          <span class="min-w-0 flex-1 truncate" :title="heading">{{ heading || `column ${place + 1}` }}</span>
          <span aria-hidden="true" class="text-ink-3">→</span>
          <select
            class="field w-44"
            :aria-label="`What ${heading || `column ${place + 1}`} says`"
            :value="map[place] ?? ''"
            @change="choose(place, ($event.target as HTMLSelectElement).value)"
          >
            <option value="">left out</option>
            <option v-for="(name, column) in COLUMNS" :key="column" :value="column">{{ name }}</option>
          </select>
        </label>
      </div>
      <p class="mt-4" role="status">
        <b>{{ count(read.count) }}</b><template v-if="read.bad"
          >, {{ read.bad }} with something wrong, which are left out</template
        >.
        <span v-if="read.approves !== 'nobody'">Those that are ready wait for a yes.</span>
      </p>
      <div v-if="read.count" class="mt-2 overflow-x-auto rounded-(--radius) border border-line">
        <table class="w-full text-left" aria-label="What the rows would become">
          <thead class="text-sm text-ink-3">
            <tr class="border-b border-line bg-paper-2">
              <th class="px-2 py-1 font-normal">line</th>
              <th v-for="(name, column) in COLUMNS" :key="column" class="px-2 py-1 font-normal">{{ name }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in read.rows" :key="row.line" class="border-b border-line align-top last:border-0">
              <td class="px-2 py-1 text-ink-3">{{ row.line }}</td>
              <td v-for="[column, text] in said(row)" :key="column" class="max-w-64 px-2 py-1">
                <span class="line-clamp-2 break-words">{{ text }}</span>
                <span v-if="problemOf(row, column)" class="block text-sm text-rose">{{ problemOf(row, column) }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
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
