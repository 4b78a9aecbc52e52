<script setup lang="ts">
import { diffWords } from 'diff';
import { computed, ref, watch } from 'vue';
import type { WorldOutlet } from '@playa/core/model/world.ts';
import type { ComposeStep } from '@playa/core/steps/compose.ts';
import { rulesAt, saidAt } from '@playa/core/workflow/word-uses.ts';
import { useSummary } from '../../../lib/shown-summary.ts';
import { useEditor } from '../../../stores/editor.ts';
import WordsEditor from '../../form/WordsEditor.vue';

// The words for all outlets, and beside them those that single outlets have of their own, each with how long it is
// there.
const props = defineProps<{ step: ComposeStep }>();
const emit = defineEmits<{ showTooLong: [outlet: number] }>();
const editor = useEditor();
const summary = useSummary();
/** Zero is the wording for all. */
const chosen = ref(0);
// The preview shows the outlet whose words are worked on.
watch(chosen, (id) => (editor.outlet = id));
watch(
  () => props.step.id,
  () => (chosen.value = 0),
);

const uses = computed(() => editor.uses.get(props.step.name) ?? []);
/** Where these words go: posts, answers and messages. */
const outlets = computed<WorldOutlet[]>(() => {
  const own = (props.step.own ?? []).map((each) => each.outlet);
  const ids = [...uses.value.flatMap((use) => use.outlets), ...own];
  return [...new Set(ids)].flatMap((id) => editor.world.outlets.get(id) ?? []);
});
const ownOf = (outlet: number) => props.step.own?.find((each) => each.outlet === outlet);
/** What each outlet gets of the chosen item. */
const said = computed(() => {
  const item = editor.chosenItem;
  const trace = !item ? {} : (editor.chosenRun?.trace ?? editor.outcomes(item).trace);
  return new Map(saidAt(trace, uses.value).map((each) => [each.outlet, each]));
});
const limit = computed(() => rulesAt(uses.value, chosen.value, editor.world)?.limit ?? null);
const tooLong = computed(() => new Map(summary?.value?.tooLongAt.map((each) => [each.outlet, each.count])));
const of = computed(() => summary?.value?.items ?? 0);
const own = computed(() => (chosen.value === 0 ? undefined : ownOf(chosen.value)));
const outlet = computed(() => outlets.value.find((each) => each.id === chosen.value));

const write = (text: string) => editor.changeStep<ComposeStep>(props.step.id, (step) => (step.text = text), 'text');
const writeOwn = (text: string) =>
  editor.changeStep<ComposeStep>(
    props.step.id,
    (step) => (step.own!.find((each) => each.outlet === chosen.value)!.text = text),
    `own ${chosen.value}`,
  );
const branchOff = () =>
  editor.changeStep<ComposeStep>(
    props.step.id,
    (step) => (step.own = [...(step.own ?? []), { outlet: chosen.value, text: step.text }]),
  );
const backToShared = (id: number) =>
  editor.changeStep<ComposeStep>(props.step.id, (step) => {
    step.own = step.own?.filter((each) => each.outlet !== id);
    if (!step.own?.length) delete step.own;
  });

/** What differs from the words for all, for the chosen item. */
const difference = computed(() => {
  const item = editor.chosenItem;
  const cell = item && editor.outcomes(item).trace[props.step.id];
  if (!own.value || cell?.kind !== 'text') return [];
  const theirs = cell.own?.find((each) => each.outlet === chosen.value)?.text ?? '';
  return diffWords(cell.text, theirs);
});
const isSame = computed(() => difference.value.every((part) => !part.added && !part.removed));
</script>

<template>
  <div>
    <div v-if="outlets.length" class="mb-1.5 flex flex-wrap gap-1" role="tablist" aria-label="Whose words">
      <button role="tab" class="tab" :aria-selected="chosen === 0" @click="chosen = 0">All outlets</button>
      <button
        v-for="each in outlets"
        :key="each.id"
        role="tab"
        class="tab"
        :aria-selected="chosen === each.id"
        @click="chosen = each.id"
      >
        {{ each.name }}
        <span v-if="ownOf(each.id)" class="rounded bg-amber-wash px-1 text-[11px] text-amber">own words</span>
        <span
          v-if="said.get(each.id)?.limit"
          class="text-[11.5px]"
          :class="said.get(each.id)!.trouble === 'too-long' ? 'font-[650] text-rose' : 'text-ink-3'"
          >{{ said.get(each.id)!.length }}/{{ said.get(each.id)!.limit }}</span
        >
      </button>
    </div>
    <p v-if="tooLong.size" class="mb-1.5 text-sm">
      <button
        v-for="[id, count] in tooLong"
        :key="id"
        class="mr-3 text-rose underline"
        @click="emit('showTooLong', id)"
      >
        {{ count }} of {{ of }} too long on {{ editor.world.outlets.get(id)?.name ?? 'an outlet' }}
      </button>
    </p>
    <WordsEditor
      v-if="chosen === 0"
      :key="step.id"
      :text="step.text"
      label="The words of the caption"
      first
      rich
      @change="write"
    >
      <template #tools><slot name="tools" /></template>
      <template #below="scope"><slot name="below" v-bind="scope" /></template>
    </WordsEditor>
    <template v-else-if="own">
      <WordsEditor
        :key="`${step.id} ${chosen}`"
        :text="own.text"
        :label="`The words for ${outlet?.name ?? 'this outlet'}`"
        first
        rich
        @change="writeOwn"
      />
      <div class="mt-1.5 flex items-start gap-3 text-sm">
        <p
          class="min-w-0 flex-1 break-words whitespace-pre-line text-ink-2"
          aria-label="What differs from the words for all"
        >
          <template v-if="isSame">For this item they say the same as the words for all.</template>
          <template v-for="(part, index) in difference" v-else :key="index"
            ><ins v-if="part.added" class="bg-kelp-wash text-kelp no-underline">{{ part.value }}</ins
            ><del v-else-if="part.removed" class="text-ink-3">{{ part.value }}</del
            ><template v-else>{{ part.value }}</template></template
          >
        </p>
        <button class="link shrink-0" @click="backToShared(chosen)">back to the words for all</button>
      </div>
    </template>
    <div v-else class="rounded-(--radius) border border-dashed border-line px-3 py-2">
      <p class="break-words whitespace-pre-line text-ink-2">{{ said.get(chosen)?.text || 'The words for all.' }}</p>
      <p class="mt-1.5 text-sm text-ink-3">
        {{ outlet?.name }} says the words for all<template v-if="limit !== null">, up to {{ limit }}</template
        >.
        <button class="link" @click="branchOff">Give it words of its own</button>
      </p>
    </div>
  </div>
</template>

<style>
.tab {
  display: inline-flex;
  align-items: baseline;
  gap: 6px;
  border: 1px solid var(--line);
  border-radius: 5px;
  padding: 1px 8px;
  color: var(--ink-2);
}
.tab[aria-selected='true'] {
  border-color: var(--sea);
  background: var(--sea-wash);
  color: var(--ink);
}
</style>
