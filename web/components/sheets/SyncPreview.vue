<script setup lang="ts">
import { computed } from 'vue';
import type { SheetSyncPreview } from '../../lib/types.ts';

// What keeping a sheet in step would do first, in words and with the cells that differ.
const props = defineProps<{
  preview: SheetSyncPreview;
  /** Whose word stands where both say something else. */
  wins: 'here' | 'there';
  nameOf: (key: string) => string;
  titleOf: (row: number) => string;
}>();
const rows = (count: number) => `${count.toLocaleString('en')} ${count === 1 ? 'row' : 'rows'}`;
const cells = (count: number) => `${count.toLocaleString('en')} ${count === 1 ? 'cell' : 'cells'}`;
const does = computed(() => {
  const { preview } = props;
  return [
    ...(preview.paired ? [`${rows(preview.paired)} ${preview.paired === 1 ? 'is' : 'are'} on both sides`] : []),
    ...(preview.addHere ? [`${rows(preview.addHere)} will be added here`] : []),
    ...(preview.addThere ? [`${rows(preview.addThere)} will be added there`] : []),
    ...(preview.bring ? [`${cells(preview.bring)} here will change`] : []),
    ...(preview.send ? [`${cells(preview.send)} there will change`] : []),
  ];
});
</script>

<template>
  <section class="mt-4 rounded-(--radius) border border-line bg-paper-2 px-3 py-2" aria-label="What will be done first">
    <p role="status">
      <template v-if="does.length">At the start: {{ does.join(', ') }}.</template>
      <template v-else>Both sides are empty. What is written on one will be on the other.</template>
    </p>
    <p v-if="preview.missing.length" class="mt-1 text-rose">
      There is no column {{ preview.missing.map((name) => `“${name}”`).join(', ') }} there any more.
    </p>
    <p v-if="!preview.whole" class="mt-1 text-rose">There are more rows there than a sheet can hold.</p>
    <p v-if="preview.startedBy.length" class="mt-1 text-amber">
      {{ preview.startedBy.map((name) => `“${name}”`).join(', ') }}
      {{ preview.startedBy.length === 1 ? 'is' : 'are' }} live and may begin with rows that change here. Rows that are
      added at the start begin nothing.
    </p>
    <template v-if="preview.differs">
      <p class="mt-2 font-[650]">
        {{ preview.differs === 1 ? 'One cell says' : `${preview.differs} cells say` }} something else on both sides
      </p>
      <div class="mt-1 max-h-48 overflow-auto rounded-(--radius) border border-line bg-card">
        <table class="w-full text-left text-sm" aria-label="Cells that differ">
          <thead class="text-ink-3">
            <tr class="border-b border-line">
              <th class="px-2 py-1 font-normal">row</th>
              <th class="px-2 py-1 font-normal">column</th>
              <th class="px-2 py-1 font-normal">here</th>
              <th class="px-2 py-1 font-normal">there</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="each in preview.differ"
              :key="`${each.row}:${each.key}`"
              class="border-b border-line align-top last:border-0"
            >
              <td class="max-w-40 truncate px-2 py-1">{{ titleOf(each.row) }}</td>
              <td class="px-2 py-1">{{ nameOf(each.key) }}</td>
              <td class="max-w-48 px-2 py-1" :class="wins === 'there' && 'text-ink-3 line-through'">{{ each.here }}</td>
              <td class="max-w-48 px-2 py-1" :class="wins === 'here' && 'text-ink-3 line-through'">{{ each.there }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="preview.differ.length < preview.differs" class="mt-1 text-sm text-ink-3">
        The first {{ preview.differ.length }} are shown.
      </p>
    </template>
  </section>
</template>
