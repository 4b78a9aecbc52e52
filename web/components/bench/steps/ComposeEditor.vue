<script setup lang="ts">
import { Plus, X } from '@lucide/vue';
import { computed } from 'vue';
import type { ComposeStep, Gap } from '@playa/core/steps/compose.ts';
import { allSteps } from '@playa/core/workflow/tree.ts';
import { useEditor } from '../../../stores/editor.ts';
import { useRehearsal } from '../../../stores/rehearsal.ts';
import WordsEditor from '../../form/WordsEditor.vue';
import SnippetMenu from '../SnippetMenu.vue';
import OutletWordings from './OutletWordings.vue';
import KeptInput from '../../form/KeptInput.vue';

// The words of a caption, and other wordings that take turns with them.
const props = defineProps<{ step: ComposeStep }>();
const store = useEditor();

const rehearsal = useRehearsal();
function showTooLong(outlet: number) {
  rehearsal.show('too-long', outlet);
  store.reading = 'rehearsal';
}
const setTidy = (tidy: boolean) =>
  store.changeStep<ComposeStep>(props.step.id, (step) => {
    if (tidy) step.tidy = true;
    else delete step.tidy;
  });
const gap = computed(() => {
  const { all = 'hold', some = 'send' } = props.step.gaps ?? {};
  return some !== 'send' ? `some-${some}` : all;
});
/** What is done about empty fields: in one choice, from the mildest to the strictest. */
const setGap = (chosen: string) =>
  store.changeStep<ComposeStep>(props.step.id, (step) => {
    const [some, what] = chosen.startsWith('some-') ? [true, chosen.slice(5) as Gap] : [false, chosen as Gap];
    if (some) step.gaps = { some: what, all: what };
    else if (what === 'hold') delete step.gaps;
    else step.gaps = { all: what };
  });
const writeOther = (index: number, text: string) =>
  store.changeStep<ComposeStep>(props.step.id, (step) => (step.others![index] = text), `other ${index}`);
const addOther = () =>
  store.changeStep<ComposeStep>(props.step.id, (step) => (step.others = [...(step.others ?? []), step.text]));
const dropOther = (index: number) =>
  store.changeStep<ComposeStep>(props.step.id, (step) => {
    step.others!.splice(index, 1);
    if (step.others!.length === 0) delete step.others;
  });

function rename(event: Event) {
  const input = event.target as HTMLInputElement;
  const name = input.value.trim();
  const before = props.step.name;
  const mine = allSteps(store.definition).find(({ step }) => step.id === props.step.id)?.inside;
  // Cases of one Split may compose the same text in different words.
  const taken = allSteps(store.definition).some(
    ({ step, inside }) =>
      step.verb === 'compose' && step.id !== props.step.id && step.name === name && inside?.step.id !== mine?.step.id,
  );
  if (!/^\p{L}[\p{L}\p{N} _-]{0,39}$/u.test(name) || taken) return void (input.value = before);
  const shared = allSteps(store.definition).some(
    ({ step }) => step.verb === 'compose' && step.id !== props.step.id && step.name === before,
  );
  // Every step that sends this text goes on sending it.
  store.edit((draft) => {
    for (const { step } of allSteps(draft.definition)) {
      if (step.id === props.step.id && step.verb === 'compose') step.name = name;
      else if (!shared && 'caption' in step && step.caption === before) step.caption = name;
      else if (!shared && step.verb === 'hold' && step.text === before) step.text = name;
    }
  });
}
</script>

<template>
  <div>
    <OutletWordings :step="step" @show-too-long="showTooLong">
      <template #tools><SnippetMenu /></template>
      <template #below="{ simple, showText, toggle }">
        <div class="mt-1.5 flex flex-wrap items-center gap-x-3 gap-y-1 text-sm text-ink-3">
          <span>Type / or click a field to put it in; click a token to change it.</span>
          <button v-if="simple" class="text-sea underline" @click="toggle">
            {{ showText ? 'Show tokens' : 'Show as text' }}
          </button>
          <label class="ml-auto flex items-center gap-1"
            >called <KeptInput class="field w-28 py-0" :value="step.name" @change="rename"
          /></label>
        </div>
      </template>
    </OutletWordings>
    <div class="mt-2 grid gap-1.5">
      <div v-for="(other, index) in step.others ?? []" :key="index" class="flex items-start gap-1.5">
        <WordsEditor
          class="flex-1"
          small
          rich
          :text="other"
          :label="`Wording ${index + 2}`"
          @change="writeOther(index, $event)"
        />
        <button
          class="mt-1 rounded p-1 text-ink-3 hover:text-rose"
          :aria-label="`Remove wording ${index + 2}`"
          @click="dropOther(index)"
        >
          <X :size="14" />
        </button>
      </div>
      <div class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <button class="btn btn-quiet px-1" @click="addOther"><Plus :size="13" /> another wording</button>
        <span v-if="step.others?.length" class="text-sm text-ink-3"
          >Each item gets one by chance, never the same twice in a row.</span
        >
        <label class="flex items-center gap-1.5 text-sm whitespace-nowrap text-ink-2">
          when fields are empty
          <select
            class="field max-w-64 py-0"
            aria-label="What is done when fields are empty"
            :value="gap"
            @change="setGap(($event.target as HTMLSelectElement).value)"
          >
            <option value="hold">hold it for me if all are</option>
            <option value="end">leave it out if all are</option>
            <option value="some-hold">hold it for me if any is</option>
            <option value="some-end">leave it out if any is</option>
            <option value="send">send it all the same</option>
          </select>
        </label>
        <label class="flex items-center gap-1.5 text-sm text-ink-2">
          <input
            type="checkbox"
            class="size-4 accent-(--sea)"
            :checked="step.tidy ?? false"
            @change="setTidy(($event.target as HTMLInputElement).checked)"
          />
          close up what empty fields leave behind
        </label>
      </div>
    </div>
  </div>
</template>
