<script setup lang="ts">
import { ArrowUp } from '@lucide/vue';
import { computed } from 'vue';
import { DEFAULT_LADDER, RUNGS, type Ladder, type Rung } from '@playa/core/captions/ladder.ts';
import type { Fitting } from '@playa/core/steps/fitting.ts';
import type { Step } from '@playa/core/steps/index.ts';
import { useEditor } from '../../../stores/editor.ts';

// Whether words that are too long for an outlet are shortened there, and what gives way in which order.
const props = defineProps<{ step: Step & Fitting }>();
const editor = useEditor();
const ladder = computed<Ladder>(() => props.step.ladder ?? DEFAULT_LADDER);
const SAYS: Record<Rung, string> = {
  hashtags: 'hashtags at the end, from the last',
  fields: 'the longest field',
  optional: 'parts that may be left out, from the last',
};
/** Those that give way, in their order, and the rest. */
const rungs = computed(() => [...ladder.value.order, ...RUNGS.filter((rung) => !ladder.value.order.includes(rung))]);
function set(next: Ladder) {
  editor.changeStep<Step & Fitting>(props.step.id, (step) => {
    if (JSON.stringify(next) === JSON.stringify(DEFAULT_LADDER)) delete step.ladder;
    else step.ladder = next;
  });
}
const toggleFit = () =>
  editor.changeStep<Step & Fitting>(props.step.id, (step) => (step.fit ? delete step.fit : (step.fit = true)));
const toggle = (rung: Rung) =>
  set({
    ...ladder.value,
    order: ladder.value.order.includes(rung)
      ? ladder.value.order.filter((each) => each !== rung)
      : [...ladder.value.order, rung],
  });
function earlier(index: number) {
  const order = [...ladder.value.order];
  const [rung] = order.splice(index, 1);
  order.splice(index - 1, 0, rung!);
  set({ ...ladder.value, order });
}
</script>

<template>
  <label class="flex items-center gap-2">
    <input type="checkbox" class="size-4 accent-(--sea)" :checked="step.fit ?? false" @change="toggleFit" />
    shorten the words where an outlet takes fewer
    <span class="text-sm text-ink-3">links, names and emoji stay whole</span>
  </label>
  <fieldset v-if="step.fit" class="ml-6">
    <legend class="text-sm text-ink-2">What gives way, first to last</legend>
    <div v-for="(rung, index) in rungs" :key="rung" class="flex items-center gap-2">
      <label class="flex items-center gap-2">
        <input
          type="checkbox"
          class="size-4 accent-(--sea)"
          :checked="ladder.order.includes(rung)"
          @change="toggle(rung)"
        />
        {{ SAYS[rung] }}
      </label>
      <select
        v-if="rung === 'fields' && ladder.order.includes(rung)"
        class="field py-0 text-sm"
        aria-label="Where fields are cut"
        :value="ladder.cutAt"
        @change="set({ ...ladder, cutAt: ($event.target as HTMLSelectElement).value as Ladder['cutAt'] })"
      >
        <option value="either">at a sentence, or a word</option>
        <option value="sentence">at a sentence only</option>
        <option value="word">at a word</option>
      </select>
      <button
        v-if="index > 0 && ladder.order.includes(rung)"
        class="rounded p-0.5 text-ink-3 hover:text-sea"
        type="button"
        :aria-label="`Let ${SAYS[rung]} give way earlier`"
        @click="earlier(index)"
      >
        <ArrowUp :size="13" />
      </button>
    </div>
  </fieldset>
</template>
