<script setup lang="ts">
import { computed } from 'vue';
import { KIND_RULES, type KindRules, type PostOption } from '@playa/core/outlets/kinds.ts';
import type { PostOptions, PublishStep } from '@playa/core/steps/publish.ts';
import { needOne } from '../../../lib/words.ts';
import { useEditor } from '../../../stores/editor.ts';
import ChooseOne from '../../form/ChooseOne.vue';
import FormRow from '../../form/FormRow.vue';
import WordsEditor from '../../form/WordsEditor.vue';
import MediaEditor from './MediaEditor.vue';

// What a post has beside its words, as far as the chosen outlets know it: title, picture, silence, cards, a call.
const props = defineProps<{ step: PublishStep }>();
const editor = useEditor();
const change = (what: (step: PublishStep) => void, merge = '') =>
  editor.changeStep<PublishStep>(props.step.id, what, merge);
const chosen = computed(() => props.step.outlets.flatMap((id) => editor.world.outlets.get(id) ?? []));
const rules = computed<KindRules[]>(() => chosen.value.map((outlet) => KIND_RULES[outlet.kind]));
const knows = (option: PostOption) => rules.value.some((each) => each.options.includes(option));
const titled = computed(() => rules.value.some((each) => each.title !== null));
const pictured = computed(() => rules.value.some((each) => each.media.takes.length > 0));
const titleNeeded = computed(() =>
  chosen.value.filter((outlet) => KIND_RULES[outlet.kind].title?.needed).map((outlet) => outlet.name),
);
const groups = computed(() => chosen.value.flatMap((outlet) => outlet.details?.groups ?? []));
function setOption<K extends keyof PostOptions>(name: K, value: PostOptions[K] | undefined) {
  change((step) => {
    const options = { ...step.options };
    if (value === undefined) delete options[name];
    else options[name] = value;
    if (Object.keys(options).length) step.options = options;
    else delete step.options;
  });
}
</script>

<template>
  <div v-if="titled || pictured || rules.some((each) => each.options.length)" class="grid gap-2">
    <FormRow v-if="titled" label="Title" :hint="needOne(titleNeeded)">
      <WordsEditor
        class="flex-1"
        small
        label="The title of the post"
        :text="step.title ?? ''"
        @change="change((each) => ($event ? (each.title = $event) : delete each.title), 'title')"
      />
    </FormRow>
    <MediaEditor v-if="pictured" :step="step" />
    <FormRow v-if="knows('show')" label="In rooms">
      <select
        class="field"
        aria-label="Text or card"
        :value="step.options?.show ?? 'text'"
        @change="setOption('show', ($event.target as HTMLSelectElement).value as 'text' | 'card' | 'both')"
      >
        <option value="text">as text</option>
        <option value="card">as a card</option>
        <option value="both">as text and card</option>
      </select>
      <label v-if="knows('colour') && (step.options?.show ?? 'text') !== 'text'" class="flex items-center gap-1.5">
        edge
        <input
          type="color"
          class="size-7 rounded border border-line bg-card"
          aria-label="Colour of the card’s edge"
          :value="step.options?.colour ?? '#1d5c63'"
          @change="setOption('colour', ($event.target as HTMLInputElement).value)"
        />
      </label>
      <ChooseOne
        v-if="knows('mention')"
        label="Who is called"
        any="calls nobody"
        :options="groups.map(({ id, name }) => ({ value: id, name: `calls ${name}` }))"
        :value="step.options?.mention"
        @change="setOption('mention', $event || undefined)"
      />
    </FormRow>
    <FormRow v-if="knows('silent')" label="Broadcast">
      <label class="flex items-center gap-1.5">
        <input
          type="checkbox"
          class="size-4 accent-(--sea)"
          :checked="step.options?.silent ?? false"
          @change="setOption('silent', ($event.target as HTMLInputElement).checked || undefined)"
        />
        silently
      </label>
      <label v-if="knows('preview')" class="flex items-center gap-1.5">
        <input
          type="checkbox"
          class="size-4 accent-(--sea)"
          :checked="step.options?.preview ?? true"
          @change="setOption('preview', ($event.target as HTMLInputElement).checked ? undefined : false)"
        />
        links with a preview
      </label>
    </FormRow>
  </div>
</template>
