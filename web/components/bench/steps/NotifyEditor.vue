<script setup lang="ts">
import { computed } from 'vue';
import type { NotifyStep } from '@playa/core/steps/notify.ts';
import { useEditor } from '../../../stores/editor.ts';
import FormRow from '../../form/FormRow.vue';
import WordsEditor from '../../form/WordsEditor.vue';

const props = defineProps<{ step: NotifyStep }>();
const editor = useEditor();
const change = (what: (step: NotifyStep) => void, merge = '') =>
  editor.changeStep<NotifyStep>(props.step.id, what, merge);
const colleagues = computed(() => [...(editor.world.colleagues ?? [])]);
const toggle = (id: number) =>
  change((step) => (step.to = step.to.includes(id) ? step.to.filter((each) => each !== id) : [...step.to, id]));
</script>

<template>
  <div class="grid gap-2">
    <FormRow label="Tells" hint="They see it on Today, each once.">
      <label class="flex items-center gap-1.5"
        ><input
          type="checkbox"
          class="size-4 accent-(--sea)"
          :checked="step.to.length === 0"
          @change="change((each) => (each.to = []))"
        />
        everybody</label
      >
      <label v-for="[id, name] in colleagues" :key="id" class="flex items-center gap-1.5"
        ><input type="checkbox" class="size-4 accent-(--sea)" :checked="step.to.includes(id)" @change="toggle(id)" />
        {{ name }}</label
      >
    </FormRow>
    <FormRow label="Says">
      <WordsEditor
        class="flex-1"
        first
        label="What they are told"
        :text="step.text"
        @change="change((each) => (each.text = $event), 'text')"
      />
    </FormRow>
  </div>
</template>
