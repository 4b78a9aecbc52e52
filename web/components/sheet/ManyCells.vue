<script setup lang="ts">
import { computed } from 'vue';
import type { Cell } from '@playa/core/model/cells.ts';

// What a step inside a For each made of all elements, added up; the bench shows them one by one.
const props = defineProps<{ cells: readonly Cell[] }>();
/** What a cell says in one or two words. */
function gist(cell: Cell): [word: string, tone: string] {
  switch (cell.kind) {
    case 'passes':
      return ['pass', 'text-kelp'];
    case 'stops':
      return ['stop', 'text-ink-2'];
    case 'text':
      return cell.wrong || cell.text === '' ? ['without words', 'text-amber'] : ['worded', 'text-ink'];
    case 'posts': {
      if (cell.posts.some((post) => post.status === 'failed')) return ['failed', 'text-rose'];
      if (cell.posts.some((post) => post.trouble && post.status === 'held')) return ['need you', 'text-amber'];
      if (cell.posts.every((post) => post.status === 'posted')) return ['posted', 'text-kelp'];
      return ['to post', 'text-sea'];
    }
    case 'acts': {
      if (cell.acts.some((act) => act.status === 'failed')) return ['failed', 'text-rose'];
      if (cell.acts.some((act) => act.status === 'held')) return ['need you', 'text-amber'];
      return cell.acts.every((act) => act.status === 'done') ? ['done', 'text-kelp'] : ['to do', 'text-sea'];
    }
    case 'waits':
      return cell.over ? ['waited', 'text-ink-2'] : ['wait', 'text-sea'];
    case 'takes':
      return [cell.label, 'text-ink-2'];
    case 'elements':
      return [`lists of ${cell.labels.length}`, 'text-ink-2'];
    case 'joined':
      return ['gathered', 'text-kelp'];
  }
}
const sums = computed(() => {
  const counts = new Map<string, { tone: string; count: number }>();
  for (const cell of props.cells) {
    const [word, tone] = gist(cell);
    const known = counts.get(word);
    if (known) known.count++;
    else counts.set(word, { tone, count: 1 });
  }
  return [...counts].map(([word, { tone, count }]) => ({ word, tone, count }));
});
const example = computed(() => props.cells.find((cell) => cell.kind === 'text' && cell.text));
</script>

<template>
  <div class="leading-snug">
    <p>
      <span v-for="(sum, index) in sums" :key="sum.word" :class="sum.tone"
        ><template v-if="index > 0">, </template><b>{{ sum.count }}</b> {{ sum.word }}</span
      >
    </p>
    <p v-if="example?.kind === 'text'" class="line-clamp-2 text-sm break-words text-ink-3">{{ example.text }}</p>
  </div>
</template>
