<script setup lang="ts">
import { computed } from 'vue';
import type { PublishStep } from '@playa/core/steps/publish.ts';
import { useEditor } from '../../../stores/editor.ts';
import OutletTicks from './OutletTicks.vue';
import FittingEditor from './FittingEditor.vue';
import PostExtras from './PostExtras.vue';
import WhenEditor from './WhenEditor.vue';
import ChooseOne from '../../form/ChooseOne.vue';
import KeptInput from '../../form/KeptInput.vue';

const props = defineProps<{ step: PublishStep }>();
const editor = useEditor();
const texts = computed(() => [...new Set([...editor.texts, props.step.caption])]);
const links = computed(() => editor.usable.filter((field) => field.type === 'link'));
const change = (what: (step: PublishStep) => void) => editor.changeStep<PublishStep>(props.step.id, what);
function setName(event: Event) {
  const input = event.target as HTMLInputElement;
  const name = input.value.trim();
  if (name !== '' && !/^\p{L}[\p{L}\p{N}_-]{0,39}$/u.test(name)) return void (input.value = props.step.as ?? '');
  change((step) => {
    if (name === '') delete step.as;
    else step.as = name;
  });
}
</script>

<template>
  <div class="grid gap-3">
    <OutletTicks :step="step" />
    <label class="flex items-center gap-2">
      <span class="w-20 text-ink-2">Words</span>
      <select
        class="field"
        :value="step.caption"
        @change="change((each) => (each.caption = ($event.target as HTMLSelectElement).value))"
      >
        <option v-for="name in texts" :key="name" :value="name">{{ name }}</option>
      </select>
    </label>
    <WhenEditor :step="step" />
    <FittingEditor :step="step" />
    <PostExtras :step="step" />
    <label class="flex items-center gap-2">
      <span class="w-20 text-ink-2">Card of</span>
      <ChooseOne
        label="Card of"
        any="no link"
        :options="links.map(({ path, label }) => ({ value: path, name: label }))"
        :value="step.card"
        @change="change((each) => (each.card = $event || null))"
      />
      <span class="text-sm text-ink-3">where the kind knows cards; on boards, where the picture leads</span>
    </label>
    <label class="flex items-center gap-2">
      <span class="w-20 text-ink-2">Called</span>
      <KeptInput
        class="field w-28"
        aria-label="What later steps call the post"
        placeholder="no name"
        :value="step.as ?? ''"
        @change="setName"
      />
      <span class="text-sm text-ink-3">so that later steps can use its link, or change it</span>
    </label>
  </div>
</template>
