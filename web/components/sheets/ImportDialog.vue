<script setup lang="ts">
import { computed, ref } from 'vue';
import { sayCell, type Cell } from '@playa/core/sheets/cell.ts';
import { isWritten } from '@playa/core/sheets/column.ts';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import type { ImportedRows } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import type { OpenSheet } from './use-sheet.ts';
import ModalDialog from '../form/ModalDialog.vue';

// A file is read into a sheet: which column goes where, what each row would become, and what is wrong with it, before
// anything is kept. All of it is kept, or nothing.
const props = defineProps<{ open: OpenSheet; file: File }>();
const emit = defineEmits<{ close: []; added: [] }>();
const notices = useNotices();
const read = ref<ImportedRows>();
const map = ref<(string | null)[]>([]);
const { busy, trouble: wrong, attempt } = useAttempt();
const writable = computed(() => props.open.columns.value.filter(isWritten));
const byKey = computed(() => new Map(props.open.columns.value.map((column) => [column.key, column])));
const shownKeys = computed(() => map.value.flatMap((key) => (key === null ? [] : [key])));

async function ask(then: 'show' | 'keep' | 'keep-good', first = false) {
  await attempt(async () => {
    const query = { then, ...(first ? {} : { map: map.value.map((key) => key ?? '').join(',') }) };
    const answer = await call('importIntoSheet', props.open.is, { query, file: props.file });
    read.value = answer;
    map.value = answer.map;
    if (then === 'show') return;
    notices.say(`${answer.added} ${answer.added === 1 ? 'row was' : 'rows were'} added from ${props.file.name}.`);
    emit('added');
  });
}
void ask('show', true);
function choose(place: number, key: string) {
  map.value = map.value.map((each, index) => (index === place ? key || null : each === key ? null : each));
  void ask('show');
}
const textOf = (row: ImportedRows['rows'][number], key: string) => {
  const column = byKey.value.get(key);
  return column ? sayCell(column, (row.cells[key] ?? null) as Cell, props.open.context.value) : '';
};
const problemOf = (row: ImportedRows['rows'][number], key: string) =>
  row.problems.find((each) => each.key === key)?.says;
const count = (number: number) => `${number} ${number === 1 ? 'row' : 'rows'}`;
</script>

<template>
  <ModalDialog :title="`Read ${file.name} into ${open.sheet.value?.name}`" width="huge" @close="emit('close')">
    <p v-if="wrong" role="alert" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
    <p v-else-if="!read" class="mt-3 text-ink-3">Reading …</p>
    <template v-if="read">
      <h3 class="mt-3 font-[650]">Which column goes where</h3>
      <div class="mt-1 grid gap-x-6 gap-y-1 sm:grid-cols-2">
        <label v-for="(heading, place) in read.header" :key="place" class="flex items-center gap-2">
          <span class="min-w-0 flex-1 truncate" :title="heading">{{ heading || `column ${place + 1}` }}</span>
          <span aria-hidden="true" class="text-ink-3">→</span>
          <select
            class="field w-44"
            :aria-label="`Where ${heading || `column ${place + 1}`} goes`"
            :value="map[place] ?? ''"
            @change="choose(place, ($event.target as HTMLSelectElement).value)"
          >
            <option value="">left out</option>
            <option v-for="column in writable" :key="column.key" :value="column.key">{{ column.name }}</option>
          </select>
        </label>
      </div>
      <p class="mt-4" role="status">
        <b>{{ count(read.count) }}</b><template v-if="read.bad"
          >, {{ read.bad }} with something that cannot be read</template
        >.
        <span v-if="read.rows.length < read.count" class="text-ink-3">The first {{ read.rows.length }} are shown.</span>
      </p>
      <p v-if="read.starts.length" class="mt-2 rounded-(--radius) bg-amber-wash px-3 py-2 text-amber">
        {{ read.starts.map((name) => `“${name}”`).join(', ') }}
        {{ read.starts.length === 1 ? 'is' : 'are' }} live and may begin with each new row.
      </p>
      <div v-if="shownKeys.length" class="mt-2 overflow-x-auto rounded-(--radius) border border-line">
        <table class="w-full text-left" aria-label="What the rows would become">
          <thead class="text-sm text-ink-3">
            <tr class="border-b border-line bg-paper-2">
              <th class="px-2 py-1 font-normal">line</th>
              <th v-for="key in shownKeys" :key="key" class="px-2 py-1 font-normal">{{ byKey.get(key)?.name }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in read.rows" :key="row.line" class="border-b border-line align-top last:border-0">
              <td class="px-2 py-1 text-ink-3">{{ row.line }}</td>
              <td v-for="key in shownKeys" :key="key" class="max-w-64 px-2 py-1">
                <span class="line-clamp-2" :class="problemOf(row, key) && 'text-rose'">{{ textOf(row, key) }}</span>
                <span v-if="problemOf(row, key)" class="block text-sm text-rose">{{ problemOf(row, key) }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-else class="mt-2 text-ink-2">Choose where at least one column goes.</p>
    </template>
    <template #actions>
      <button class="btn" @click="emit('close')">Cancel</button>
      <template v-if="read && shownKeys.length">
        <button v-if="read.bad" class="btn" :disabled="busy || read.bad === read.count" @click="ask('keep-good')">
          Add {{ count(read.count - read.bad) }}, without the others
        </button>
        <button class="btn btn-main" :disabled="busy || read.count === 0" @click="ask('keep')">
          Add {{ read.bad ? 'all' : '' }} {{ count(read.count) }}{{ read.bad ? ', to be mended here' : '' }}
        </button>
      </template>
    </template>
  </ModalDialog>
</template>
