<script setup lang="ts">
// What the rows of a file would become, with what is wrong in it.
export interface ReadRow {
  /** Of the file, from 1. */
  line: number;
  /** As many as there are columns. */
  cells: readonly { text: string; wrong: string }[];
}
defineProps<{ columns: readonly string[]; rows: readonly ReadRow[] }>();
</script>

<template>
  <div class="mt-2 overflow-x-auto rounded-(--radius) border border-line">
    <table class="w-full text-left" aria-label="What the rows would become">
      <thead class="text-sm text-ink-3">
        <tr class="border-b border-line bg-paper-2">
          <th class="px-2 py-1 font-normal">line</th>
          <th v-for="name in columns" :key="name" class="px-2 py-1 font-normal">{{ name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.line" class="border-b border-line align-top last:border-0">
          <td class="px-2 py-1 text-ink-3">{{ row.line }}</td>
          <td v-for="({ text, wrong }, index) in row.cells" :key="index" class="max-w-64 px-2 py-1">
            <span class="line-clamp-2 break-words" :class="wrong && 'text-rose'">{{ text }}</span>
            <span v-if="wrong" class="block text-sm text-rose">{{ wrong }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
