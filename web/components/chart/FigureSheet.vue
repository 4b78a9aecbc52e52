<script setup lang="ts">
import { ref } from 'vue';
import VChart from 'vue-echarts';
import type { ChartOption } from './chart-setup.ts';

// A chart with the table behind it: the same numbers, for whoever would rather read them.
defineProps<{
  title: string;
  /** What it shows, in a sentence. */
  says: string;
  option: ChartOption;
  columns: readonly string[];
  /** The first cell of a row is its heading. */
  rows: readonly (readonly string[])[];
  /** Pixels. */
  height?: number;
}>();
const asTable = ref(false);
</script>

<template>
  <figure class="sheet min-w-0 p-4">
    <figcaption class="mb-2 flex items-start gap-3">
      <span class="min-w-0 flex-1"
        ><b class="block">{{ title }}</b
        ><span class="text-sm text-ink-2">{{ says }}</span></span
      >
      <button class="btn btn-quiet py-0.5 text-sm" :aria-pressed="asTable" @click="asTable = !asTable">
        {{ asTable ? 'As a chart' : 'As a table' }}
      </button>
    </figcaption>
    <VChart
      v-if="!asTable"
      :option="option"
      :init-options="{ renderer: 'svg' }"
      :style="{ height: `${height ?? 230}px` }"
      role="img"
      :aria-label="`${title}. ${says}`"
      autoresize
    />
    <div v-else class="max-h-80 overflow-auto" tabindex="0" :aria-label="title">
      <table class="w-full text-sm">
        <thead>
          <tr>
            <th v-for="column in columns" :key="column" class="border-b border-line py-1 pr-3 text-left font-[650]">
              {{ column }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row[0]">
            <th class="border-b border-line py-1 pr-3 text-left font-[400]">{{ row[0] }}</th>
            <td v-for="(cell, index) in row.slice(1)" :key="index" class="border-b border-line py-1 pr-3 tabular-nums">
              {{ cell }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </figure>
</template>
