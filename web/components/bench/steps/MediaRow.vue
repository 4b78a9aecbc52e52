<script setup lang="ts">
import { Images, X } from '@lucide/vue';
import { computed, ref } from 'vue';
import type { MediaRules, MediaType } from '@playa/core/outlets/kinds.ts';
import type { PostMedia } from '@playa/core/steps/post-media.ts';
import { useEditor } from '../../../stores/editor.ts';
import FieldSelect from '../../form/FieldSelect.vue';
import FormRow from '../../form/FormRow.vue';
import WordsEditor from '../../form/WordsEditor.vue';
import FilesDialog from '../FilesDialog.vue';

// One picture of a post: where it comes from, what to do when an outlet would refuse its shape, and what it shows.
const props = defineProps<{
  media: PostMedia | undefined;
  /** From 1 when there are several, else 0. */
  number: number;
  hint: string;
  outlets: readonly { name: string; rules: MediaRules }[];
  /** Those where the post's link shows as a card with a picture of its own. */
  cards: readonly string[];
}>();
const emit = defineEmits<{
  field: [field: string];
  file: [id: number];
  remove: [];
  change: [what: (media: PostMedia) => void, merge?: string];
}>();
const editor = useEditor();
const looking = ref(false);
const file = computed(() =>
  props.media?.file === undefined ? undefined : (editor.world.files?.get(props.media.file) ?? null),
);
const isFilm = computed(() => (file.value?.type ?? props.media?.type) === 'video');
const what = computed(() => (isFilm.value ? 'Film' : 'Picture') + (props.number ? ` ${props.number}` : ''));
const types = computed(() => [...new Set(props.outlets.flatMap(({ rules }) => rules.takes))]);

/** The shapes that the chosen outlets take, where not any will do. */
const shapes = computed(() =>
  props.outlets.flatMap(({ name, rules: { shape } }) =>
    shape ? [`${name} takes ${shape[0]} to ${shape[1]} times as wide as high`] : [],
  ),
);
function setShape(shape: string) {
  emit('change', (media) => {
    if (shape === 'crop' || shape === 'pad') media.shape = shape;
    else delete media.shape;
  });
}
function setByCard(shown: boolean) {
  emit('change', (media) => {
    if (shown) delete media.notByCard;
    else media.notByCard = true;
  });
}
function choose(id: number) {
  looking.value = false;
  emit('file', id);
}
</script>

<template>
  <FormRow :label="what" :hint="hint">
    <template v-if="media?.file !== undefined">
      <span v-if="file" class="flex items-center gap-1.5 rounded border border-line bg-paper py-0.5 pr-2 pl-0.5">
        <img v-if="file.type === 'picture'" :src="file.url" alt="" class="size-8 rounded object-cover" />
        <span class="max-w-44 truncate font-[650]">{{ file.name }}</span>
        <span class="text-sm text-ink-3">{{ file.width }} × {{ file.height }}</span>
      </span>
      <span v-else class="text-rose">The file is gone.</span>
      <button class="btn" @click="looking = true">Another…</button>
      <button class="tool" :aria-label="`Take out the ${isFilm ? 'film' : 'picture'}`" @click="emit('remove')">
        <X :size="15" />
      </button>
    </template>
    <template v-else>
      <FieldSelect
        :field="media?.from ?? ''"
        label="The field with the picture’s address"
        none="none"
        :types="['picture', 'link', 'list', 'text']"
        @change="emit('field', $event)"
      />
      <select
        v-if="media && types.length > 1"
        class="field"
        aria-label="What sort of file it is"
        :value="media.type"
        @change="emit('change', (each) => (each.type = ($event.target as HTMLSelectElement).value as MediaType))"
      >
        <option v-for="type in types" :key="type" :value="type">{{ type }}</option>
      </select>
      <span class="text-ink-3">or</span>
      <button class="btn flex items-center gap-1.5" @click="looking = true"><Images :size="15" /> a file…</button>
    </template>
  </FormRow>
  <FormRow
    v-if="media && shapes.length && !isFilm"
    label="Its shape"
    :hint="`${shapes.join('; ')}; another is held, unless you say here what to do with it.`"
  >
    <select
      class="field"
      aria-label="What to do with pictures of another shape"
      :value="media.shape ?? ''"
      @change="setShape(($event.target as HTMLSelectElement).value)"
    >
      <option value="">as it is</option>
      <option value="crop">cut at its edges</option>
      <option value="pad">with a margin</option>
    </select>
  </FormRow>
  <FormRow
    v-if="media && !isFilm && cards.length"
    label="By a card"
    :hint="`${cards.join(', ')}: the link’s card shows a picture of its own.`"
  >
    <label class="flex items-center gap-1.5"
      ><input
        type="checkbox"
        :checked="!media.notByCard"
        @change="setByCard(($event.target as HTMLInputElement).checked)"
      />
      also this one</label
    >
  </FormRow>
  <FormRow
    v-if="media && !isFilm"
    label="It shows"
    :hint="file?.alt && !media.alt ? `Without words here: “${file.alt}”` : 'For those who cannot see it.'"
  >
    <WordsEditor
      class="flex-1"
      small
      label="What the picture shows"
      :text="media.alt"
      @change="(alt) => emit('change', (each) => (each.alt = alt), 'alt')"
    />
  </FormRow>
  <FilesDialog v-if="looking" :chosen="media?.file" :types="types" @choose="choose" @close="looking = false" />
</template>
