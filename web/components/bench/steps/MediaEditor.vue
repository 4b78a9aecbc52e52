<script setup lang="ts">
import { computed } from 'vue';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import type { PostMedia } from '@playa/core/steps/post-media.ts';
import type { PublishStep } from '@playa/core/steps/publish.ts';
import { needOne } from '../../../lib/words.ts';
import { useEditor } from '../../../stores/editor.ts';
import MediaRow from './MediaRow.vue';

// The pictures and films of a post: each from a field of the item, or a file of the brand's own.
const props = defineProps<{ step: PublishStep }>();
const editor = useEditor();
const chosen = computed(() =>
  props.step.outlets.flatMap((id) => {
    const outlet = editor.world.outlets.get(id);
    return outlet ? [{ ...outlet, rules: KIND_RULES[outlet.kind].media }] : [];
  }),
);
const cards = computed(() =>
  props.step.card === null
    ? []
    : chosen.value
        .filter(({ kind, rules }) => KIND_RULES[kind].linkCard === 'card' && rules.takes.includes('picture'))
        .map(({ name }) => name),
);
const needed = computed(() => {
  const names = chosen.value.filter(({ rules }) => rules.needed).map(({ name }) => name);
  return needOne(names);
});
const most = computed(() => Math.max(0, ...chosen.value.map(({ rules }) => rules.most)));
/** Who takes fewer than there are. */
const fewer = computed(() => {
  const count = props.step.media?.length ?? 0;
  return chosen.value
    .filter(({ rules }) => rules.takes.length > 0 && rules.most < count)
    .map(({ name, rules }) => `${name} takes ${rules.most}`);
});
const rows = computed<(PostMedia | undefined)[]>(() => (props.step.media?.length ? props.step.media : [undefined]));

function change(what: (media: PostMedia[]) => void, merge = '') {
  editor.changeStep<PublishStep>(
    props.step.id,
    (step) => {
      const media = step.media ?? [];
      what(media);
      if (media.length) step.media = media;
      else delete step.media;
    },
    merge,
  );
}
const setFrom = (index: number, from: string) =>
  change((media) => {
    if (from === '') return void media.splice(index, 1);
    const { file: _, ...before } = media[index] ?? { type: 'picture' as const, alt: '' };
    media[index] = { ...before, from };
  });
const setFile = (index: number, file: number) =>
  change((media) => {
    const type = editor.world.files?.get(file)?.type ?? 'picture';
    const { alt = '', shape, notByCard } = media[index] ?? {};
    media[index] = { type, from: '', file, alt, ...(shape ? { shape } : {}), ...(notByCard ? { notByCard } : {}) };
  });
</script>

<template>
  <div class="grid gap-2">
    <MediaRow
      v-for="(media, index) in rows"
      :key="index"
      :media="media"
      :number="rows.length > 1 ? index + 1 : 0"
      :hint="index === 0 ? needed : ''"
      :outlets="chosen"
      :cards="cards"
      @field="setFrom(index, $event)"
      @file="setFile(index, $event)"
      @remove="change((all) => all.splice(index, 1))"
      @change="(what, merge) => change((all) => what(all[index]!), merge && `${merge}${index}`)"
    />
    <div v-if="step.media?.length && most > 1" class="pl-[7rem]">
      <button
        class="btn btn-quiet px-1"
        :disabled="step.media.length >= 10"
        @click="change((all) => all.push({ type: 'picture', from: '', alt: '' }))"
      >
        + another picture
      </button>
      <p v-if="fewer.length" class="text-sm text-ink-3">{{ fewer.join('; ') }}; the others are left out there.</p>
    </div>
  </div>
</template>
