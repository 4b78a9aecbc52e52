<script setup lang="ts">
import { computed } from 'vue';
import { KIND_RULES, type KindRules, type PostOption } from '@playa/core/outlets/kinds.ts';
import type { PostOptions, PublishStep } from '@playa/core/steps/publish.ts';
import { useEditor } from '../../../stores/editor.ts';
import FieldSelect from '../../form/FieldSelect.vue';
import FormRow from '../../form/FormRow.vue';
import WordsEditor from '../../form/WordsEditor.vue';

// What a post has beside its words, as far as the chosen outlets know it: title, picture, silence, cards, a call.
const props = defineProps<{ step: PublishStep }>();
const editor = useEditor();
const change = (what: (step: PublishStep) => void, merge = '') =>
  editor.changeStep<PublishStep>(props.step.id, what, merge);
const chosen = computed(() => props.step.outlets.flatMap((id) => editor.world.outlets.get(id) ?? []));
const rules = computed<KindRules[]>(() => chosen.value.map((outlet) => KIND_RULES[outlet.kind]));
const knows = (option: PostOption) => rules.value.some((each) => each.options.includes(option));
const titled = computed(() => rules.value.some((each) => each.title !== null));
const pictured = computed(() => rules.value.some((each) => each.media.takes.includes('picture')));
const needed = computed(() => ({
  title: chosen.value.filter((outlet) => KIND_RULES[outlet.kind].title?.needed).map((outlet) => outlet.name),
  picture: chosen.value.filter((outlet) => KIND_RULES[outlet.kind].media.needed).map((outlet) => outlet.name),
}));
const roles = computed(() => chosen.value.flatMap((outlet) => outlet.details?.roles ?? []));
const picture = computed(() => props.step.media?.[0]);
const types = computed(() => [...new Set(rules.value.flatMap((each) => each.media.takes))]);

/** The shapes that the chosen outlets take, where not any will do. */
const shapes = computed(() =>
  chosen.value.flatMap(({ kind, name }) => {
    const { shape } = KIND_RULES[kind].media;
    return shape ? [`${name} takes ${shape[0]} to ${shape[1]} times as wide as high`] : [];
  }),
);
function setShape(shape: string) {
  change((step) => {
    const [first] = step.media ?? [];
    if (!first) return;
    if (shape === 'crop' || shape === 'pad') first.shape = shape;
    else delete first.shape;
  });
}
function setPicture(from: string) {
  change((step) => {
    if (from === '') delete step.media;
    else step.media = [{ type: 'picture', alt: '', ...step.media?.[0], from }];
  });
}
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
    <FormRow v-if="titled" label="Title" :hint="needed.title.length ? `${needed.title.join(', ')} needs one.` : ''">
      <WordsEditor
        class="flex-1"
        small
        label="The title of the post"
        :text="step.title ?? ''"
        @change="change((each) => ($event ? (each.title = $event) : delete each.title), 'title')"
      />
    </FormRow>
    <FormRow
      v-if="pictured"
      label="Picture"
      :hint="needed.picture.length ? `${needed.picture.join(', ')} needs one.` : ''"
    >
      <FieldSelect
        :field="picture?.from ?? ''"
        label="The field with the picture’s address"
        none="none"
        :types="['picture', 'link', 'text']"
        @change="setPicture"
      />
      <select
        v-if="picture && types.length > 1"
        class="field"
        aria-label="What sort of file it is"
        :value="picture.type"
        @change="
          change((each) => (each.media![0]!.type = ($event.target as HTMLSelectElement).value as typeof picture.type))
        "
      >
        <option v-for="type in types" :key="type" :value="type">{{ type }}</option>
      </select>
    </FormRow>
    <FormRow
      v-if="picture && shapes.length"
      label="Its shape"
      :hint="`${shapes.join(', ')}; another is held, unless you say here what to do with it.`"
    >
      <select
        class="field"
        aria-label="What to do with pictures of another shape"
        :value="picture.shape ?? ''"
        @change="setShape(($event.target as HTMLSelectElement).value)"
      >
        <option value="">as it is</option>
        <option value="crop">cut at its edges</option>
        <option value="pad">with a margin</option>
      </select>
    </FormRow>
    <FormRow v-if="picture" label="It shows" hint="For those who cannot see it.">
      <WordsEditor
        class="flex-1"
        small
        label="What the picture shows"
        :text="picture.alt"
        @change="change((each) => (each.media![0]!.alt = $event), 'alt')"
      />
    </FormRow>
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
      <select
        v-if="knows('mention')"
        class="field"
        aria-label="Who is called"
        :value="step.options?.mention ?? ''"
        @change="setOption('mention', ($event.target as HTMLSelectElement).value || undefined)"
      >
        <option value="">calls nobody</option>
        <option v-for="role in roles" :key="role.id" :value="role.id">calls {{ role.name }}</option>
      </select>
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
