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
import MapColumns from '../table-file/MapColumns.vue';
import ReadRows from '../table-file/ReadRows.vue';

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
function choose(next: (string | null)[]) {
  map.value = next;
  void ask('show');
}
const textOf = (row: ImportedRows['rows'][number], key: string) => {
  const column = byKey.value.get(key);
  return column ? sayCell(column, (row.cells[key] ?? null) as Cell, props.open.context.value) : '';
};
const problemOf = (row: ImportedRows['rows'][number], key: string) =>
  row.problems.find((each) => each.key === key)?.says;
const rows = computed(() =>
  (read.value?.rows ?? []).map((row) => ({
    line: row.line,
    cells: shownKeys.value.map((key) => ({ text: textOf(row, key), wrong: problemOf(row, key) ?? '' })),
  })),
);
const count = (number: number) => `${number} ${number === 1 ? 'row' : 'rows'}`;
</script>

<template>
  <ModalDialog :title="`Read ${file.name} into ${open.sheet.value?.name}`" width="huge" @close="emit('close')">
    <p v-if="wrong" role="alert" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
    <p v-else-if="!read" class="mt-3 text-ink-3">Reading …</p>
    <template v-if="read">
      <h3 class="mt-3 font-[650]">Which column goes where</h3>
      <MapColumns
        :header="read.header"
        :map="map"
        :choices="writable.map(({ key, name }) => ({ value: key, name }))"
        :label="(heading) => `Where ${heading} goes`"
        @change="choose"
      />
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
      <ReadRows v-if="shownKeys.length" :columns="shownKeys.map((key) => byKey.get(key)?.name ?? key)" :rows="rows" />
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
