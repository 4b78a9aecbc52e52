<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import type { Advice } from '@playa/core/workflow/advice.ts';
import { useEditor } from '../../stores/editor.ts';
import HeldActions from '../HeldActions.vue';
import CheckEditor from './CheckEditor.vue';
import FieldList from './FieldList.vue';
import PostPreview from './PostPreview.vue';
import PublishEditor from './PublishEditor.vue';
import SourceEditor from './SourceEditor.vue';
import WorthALook from './WorthALook.vue';

// Loaded when a caption is first opened: the text editor is the largest part of the interface.
const ComposeEditor = defineAsyncComponent(() => import('./ComposeEditor.vue'));

defineProps<{ advice: readonly Advice[] }>();
const emit = defineEmits<{ show: [filter: 'too-long' | 'empty']; decided: [] }>();
const editor = useEditor();
const compose = ref<{ insert: (field: string) => void }>();

const source = computed(() => editor.definition.sources.find((each) => each.id === editor.row));
const step = computed(() => editor.chosenStep);
const number = computed(() => (source.value ? 1 : editor.definition.sources.length + 1 + editor.stepIndex(editor.row)));
const verb = { check: 'Check', compose: 'Compose', publish: 'Publish' };
const itemTitle = computed(() =>
  editor.chosenItem ? fieldText(readField(editor.chosenItem.fields, 'title')) || 'Untitled' : '',
);
const held = computed(() => {
  const run = editor.chosenRun;
  if (!run) return [];
  return Object.values(run.trace).flatMap((cell) =>
    cell.kind === 'posts' ? cell.posts.filter((post) => post.status === 'held') : [],
  );
});
</script>

<template>
  <div class="grid h-full min-h-0 grid-cols-1 overflow-auto md:grid-cols-[1.35fr_0.9fr_0.9fr] md:overflow-hidden">
    <section class="min-h-0 overflow-auto px-4 py-2.5" aria-label="The chosen step" tabindex="0">
      <div class="mb-2 flex items-baseline gap-2">
        <h3>{{ number }} · {{ source ? 'Watch' : step ? verb[step.verb] : '' }}</h3>
        <span v-if="step?.off" class="pill bg-paper text-ink-2">switched off</span>
        <span v-if="itemTitle && !source" class="ml-auto truncate text-sm text-ink-3">for “{{ itemTitle }}”</span>
      </div>
      <div
        v-if="editor.chosenRun && (held.length || editor.chosenRun.trouble)"
        class="mb-3 rounded-(--radius) bg-amber-wash p-3"
      >
        <div v-for="post in held" :key="post.key">
          <p class="mb-1.5 text-amber">
            <b>Needs you: </b>{{ editor.world.outlets.get(post.outlet)?.name }}: {{ post.says }}
          </p>
          <HeldActions
            :run-id="editor.chosenRun.id"
            :effect-key="post.key ?? null"
            :text="post.text"
            :limit="post.limit"
            :trouble="post.trouble"
            @decided="emit('decided')"
          />
        </div>
        <div v-if="editor.chosenRun.trouble">
          <p class="mb-1.5 text-amber">{{ editor.chosenRun.trouble }}</p>
          <HeldActions
            :run-id="editor.chosenRun.id"
            :effect-key="null"
            :text="null"
            :limit="null"
            trouble="run"
            @decided="emit('decided')"
          />
        </div>
      </div>
      <SourceEditor v-if="source" :source-id="source.id" />
      <CheckEditor v-else-if="step?.verb === 'check'" :key="step.id" :step="step" />
      <ComposeEditor v-else-if="step?.verb === 'compose'" :key="step.id" ref="compose" :step="step" />
      <PublishEditor v-else-if="step?.verb === 'publish'" :key="step.id" :step="step" />
      <WorthALook :advice="advice" @show="emit('show', $event)" />
    </section>
    <section
      class="min-h-0 overflow-auto border-line px-4 py-2.5 md:border-l"
      aria-label="The chosen item"
      tabindex="0"
    >
      <FieldList :inserts="step?.verb === 'compose'" @insert="compose?.insert($event)" />
    </section>
    <section class="min-h-0 overflow-auto border-line px-4 py-2.5 md:border-l" aria-label="Preview" tabindex="0">
      <PostPreview />
    </section>
  </div>
</template>
