<script setup lang="ts">
import { computed } from 'vue';
import type { ActInput } from '@playa/core/model/acts.ts';
import type { Drafted } from '@playa/core/model/drafted.ts';
import type { DraftStep } from '@playa/core/steps/draft.ts';
import { useEditor } from '../../../stores/editor.ts';
import { draftsAsked, useTriedDrafts } from '../../../stores/tried-drafts.ts';

// Real drafts for the samples, while the step is edited: for the chosen item, or for all that are shown.
defineProps<{ step: DraftStep }>();
const editor = useEditor();
const tries = useTriedDrafts();
const item = computed(() => editor.chosenItem);
const wanted = (all: boolean) => (all ? editor.samples : item.value ? [item.value] : []);
const run = (all: boolean) => tries.tryFor(editor.definition, editor.world, wanted(all));
/** What was drafted for the chosen item, in order: one that was not right, and the one after it. */
const shown = computed(() => {
  if (!item.value) return [];
  return draftsAsked(editor.definition, editor.world, [item.value], tries.made).flatMap(
    (key): { drafted: Drafted; again: boolean }[] => {
      const drafted = tries.made.get(key);
      const [, input] = JSON.parse(key) as [number, ActInput<'draft'>];
      return drafted ? [{ drafted, again: input.again !== undefined }] : [];
    },
  );
});
</script>

<template>
  <section aria-label="Tries" class="ml-[7rem] grid gap-1.5">
    <p class="flex flex-wrap items-center gap-1.5">
      <button class="btn" :disabled="!item || tries.busy || step.outlet === null" @click="run(false)">
        Draft for this one
      </button>
      <button class="btn" :disabled="!editor.samples.length || tries.busy || step.outlet === null" @click="run(true)">
        For the {{ editor.samples.length }} shown
      </button>
      <template v-if="tries.busy">
        <span role="status" class="text-ink-3">{{ tries.left }} to go …</span>
        <button class="btn btn-quiet" @click="tries.stop()">Stop</button>
      </template>
      <span v-else-if="tries.used > 0" role="status" class="text-sm text-ink-3">
        {{ tries.made.size }} tried, {{ tries.used.toLocaleString('en') }} counted by the model
      </span>
    </p>
    <p v-if="tries.trouble" role="alert" class="text-sm text-rose">{{ tries.trouble }}</p>
    <div v-for="(each, index) in shown" :key="index" class="rounded-(--radius) bg-paper px-2 py-1.5 text-sm">
      <p v-if="each.again" class="text-ink-3">Drafted again:</p>
      <p class="break-words whitespace-pre-line" dir="auto">{{ each.drafted.text }}</p>
      <p v-if="each.drafted.faults" class="mt-0.5 text-amber">Not used: {{ each.drafted.faults.join('; ') }}.</p>
      <p v-for="other in each.drafted.others" :key="other" class="mt-0.5 text-ink-3">or: {{ other }}</p>
    </div>
    <p v-if="!shown.length" class="text-sm text-ink-3">Nothing is sent, and nobody sees it.</p>
  </section>
</template>
