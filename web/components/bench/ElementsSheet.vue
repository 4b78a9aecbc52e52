<script setup lang="ts">
import { computed } from 'vue';
import { cellsOf, stepOf, type Cell, type Trace } from '@playa/core/model/cells.ts';
import { stepSentence } from '@playa/core/steps/index.ts';
import { allSteps } from '@playa/core/workflow/tree.ts';
import type { HappenedRun } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import CellView from '../sheet/CellView.vue';
import PhraseText from '../PhraseText.vue';

// The small sheet of a For each: its steps are rows again, its elements columns.
const props = defineProps<{ step: string; trace: Trace; run?: HappenedRun | undefined }>();
const editor = useEditor();

/** The outermost For each that the chosen step is, or lies in. */
const loop = computed(() => {
  const placed = allSteps(editor.definition).find(({ step }) => step.id === props.step);
  const id = placed?.each[0] ?? (placed?.step.verb === 'foreach' ? placed.step.id : undefined);
  return id;
});
const rows = computed(() =>
  allSteps(editor.definition).filter(({ each }) => loop.value !== undefined && each[0] === loop.value),
);
const labels = computed(() => {
  const cell = loop.value === undefined ? undefined : props.trace[loop.value];
  return cell?.kind === 'elements' ? cell.labels : [];
});
/** More columns than this are of no use in a bench. */
const MOST = 40;
function cellAt(step: string, element: number): { place: string; cell: Cell }[] {
  const prefix = `${step}#${element}`;
  return cellsOf(props.trace, step).filter(
    ({ place }) => stepOf(place) === step && (place === prefix || place.startsWith(`${prefix}#`)),
  );
}
</script>

<template>
  <section v-if="labels.length" class="mt-3" aria-label="The elements">
    <h3 class="mb-1">Element by element</h3>
    <div class="overflow-auto rounded-(--radius) border border-line" tabindex="0">
      <table class="text-sm">
        <thead>
          <tr>
            <th class="sticky left-0 z-10 min-w-36 bg-paper-2 px-2 py-1 text-left font-normal text-ink-3">
              {{ labels.length }} elements
            </th>
            <th
              v-for="(label, index) in labels.slice(0, MOST)"
              :key="index"
              class="max-w-48 min-w-36 truncate border-l border-line px-2 py-1 text-left font-[650]"
              scope="col"
            >
              {{ label }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ step: each, number } in rows" :key="each.id" class="border-t border-line align-top">
            <th class="sticky left-0 z-10 bg-paper-2 px-2 py-1 text-left font-normal" scope="row">
              <span class="text-ink-3">{{ number }}</span>
              <PhraseText :phrase="stepSentence(each, editor.world)" lead />
            </th>
            <td
              v-for="(_, index) in labels.slice(0, MOST)"
              :key="index"
              class="max-w-48 border-l border-line px-2 py-1"
              :class="cellAt(each.id, index).length === 0 && 'hatched'"
            >
              <CellView
                v-for="{ place, cell } in cellAt(each.id, index)"
                :key="place"
                :cell="cell"
                :run="run"
                :trace="trace"
                :place="place"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="labels.length > MOST" class="mt-1 text-sm text-ink-3">The first {{ MOST }} of {{ labels.length }}.</p>
  </section>
</template>
