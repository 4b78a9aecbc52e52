<script setup lang="ts">
import type { Fault } from '@playa/core/model/cells.ts';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import { computed, defineAsyncComponent, type Component } from 'vue';
import { itemTitle } from '@playa/core/items/title.ts';
import { stepTitle, type StepVerb } from '@playa/core/steps/index.ts';
import type { Advice } from '@playa/core/advice/advice.ts';
import { RULES } from '../../lib/sheet-rows.ts';
import { useEditor } from '../../stores/editor.ts';
import { useInsertion } from '../../stores/insertion.ts';
import HeldActions from '../HeldActions.vue';
import ElementsSheet from './ElementsSheet.vue';
import FieldList from './FieldList.vue';
import PostPreview from './PostPreview.vue';
import RulesEditor from './RulesEditor.vue';
import RunActions from './RunActions.vue';
import SourceEditor from './SourceEditor.vue';
import CheckEditor from './steps/CheckEditor.vue';
import PublishEditor from './steps/PublishEditor.vue';
import WorthALook from './WorthALook.vue';

// Editors with wordings are loaded when one is first opened: the text editor is the largest part of the interface.
const later = (load: () => Promise<Component>) => defineAsyncComponent(load as () => Promise<{ default: Component }>);
const answer = later(() => import('./steps/AnswerEditor.vue'));
const EDITORS: Record<StepVerb, Component> = {
  check: CheckEditor,
  split: later(() => import('./steps/SplitEditor.vue')),
  foreach: later(() => import('./steps/ForEachEditor.vue')),
  gather: later(() => import('./steps/GatherEditor.vue')),
  compose: later(() => import('./steps/ComposeEditor.vue')),
  draft: later(() => import('./steps/DraftEditor.vue')),
  wait: later(() => import('./steps/WaitEditor.vue')),
  find: later(() => import('./steps/FindEditor.vue')),
  call: later(() => import('./steps/CallEditor.vue')),
  publish: PublishEditor,
  post: later(() => import('./steps/PostEditor.vue')),
  answer: later(() => import('./steps/PostEditor.vue')),
  reply: answer,
  message: answer,
  react: answer,
  revise: later(() => import('./steps/ReviseEditor.vue')),
  hold: later(() => import('./steps/HoldEditor.vue')),
  record: later(() => import('./steps/RecordEditor.vue')),
  label: later(() => import('./steps/LabelEditor.vue')),
  notify: later(() => import('./steps/NotifyEditor.vue')),
  end: later(() => import('./steps/EndEditor.vue')),
};

defineProps<{ advice: readonly Advice[] }>();
const emit = defineEmits<{ show: [filter: NonNullable<Advice['show']>]; decided: [] }>();
const editor = useEditor();
const insertion = useInsertion();

const row = computed(() => editor.rows.find((each) => each.id === editor.row));
const source = computed(() => editor.definition.sources.find((each) => each.id === editor.row));
const step = computed(() => editor.chosenStep);
const band = computed(() => (row.value?.type === 'band' ? row.value : undefined));
const heading = computed(() => {
  if (band.value) return band.value.label;
  if (editor.row === RULES) return 'Rules';
  return `${editor.numberOf(editor.row)} · ${source.value ? 'Watch' : step.value ? stepTitle(step.value.verb) : ''}`;
});
const shownTitle = computed(() => (editor.chosenItem ? itemTitle(editor.chosenItem.fields) : ''));
const trace = computed(() => {
  if (!editor.chosenItem) return {};
  if (editor.reading === 'happened') return editor.chosenRun?.trace ?? {};
  return editor.outcomes(editor.chosenItem).trace;
});
interface HeldHere {
  key?: string | undefined;
  says?: string | undefined;
  trouble?: string | undefined;
  fault?: Fault | undefined;
  text: string | null;
  where: string;
  action: string;
  kind?: OutletKind | undefined;
}
/** What of the chosen run waits for a person, wherever it stands. */
const held = computed(() => {
  const run = editor.chosenRun;
  if (!run) return [];
  return Object.values(run.trace).flatMap((cell): HeldHere[] => {
    if (cell.kind === 'posts')
      return cell.posts
        .filter((post) => post.status === 'held')
        .map((post) => {
          const outlet = editor.world.outlets.get(post.outlet);
          return { ...post, where: outlet?.name ?? '', action: 'publish', kind: outlet?.kind };
        });
    if (cell.kind !== 'acts') return [];
    return cell.acts
      .filter((act) => act.status === 'held')
      .map((act) => ({
        ...act,
        text: act.text ?? null,
        where: act.what,
        kind: editor.world.outlets.get(act.outlet ?? 0)?.kind,
      }));
  });
});
const inputOf = (key: string | undefined) => editor.chosenRun?.inputs.find((each) => each.key === key)?.input ?? null;
</script>

<template>
  <div class="grid h-full min-h-0 grid-cols-1 overflow-auto md:grid-cols-[1.35fr_0.9fr_0.9fr] md:overflow-hidden">
    <section class="min-h-0 overflow-auto px-4 py-2.5" aria-label="The chosen step" tabindex="0">
      <div class="mb-2 flex items-baseline gap-2">
        <h3 class="shrink-0">{{ heading }}</h3>
        <span v-if="step?.off" class="pill bg-paper text-ink-2">switched off</span>
        <span v-if="shownTitle && !source" class="ml-auto truncate text-sm text-ink-3">for “{{ shownTitle }}”</span>
      </div>
      <RunActions v-if="editor.chosenRun" :run="editor.chosenRun" @decided="emit('decided')" />
      <div
        v-if="editor.chosenRun && (held.length || editor.chosenRun.trouble)"
        class="mb-3 rounded-(--radius) bg-amber-wash p-3"
      >
        <div v-for="post in held" :key="post.key">
          <p class="mb-1.5 text-amber"><b>Needs you: </b>{{ post.where }}: {{ post.says }}</p>
          <HeldActions
            :run-id="editor.chosenRun.id"
            :effect-key="post.key ?? null"
            :text="post.text"
            :kind="post.kind"
            :fault="post.fault"
            :trouble="post.trouble"
            :action="post.action"
            :input="inputOf(post.key)"
            @decided="emit('decided')"
          />
        </div>
        <div v-if="editor.chosenRun.trouble">
          <p class="mb-1.5 text-amber">{{ editor.chosenRun.trouble }}</p>
          <HeldActions
            :run-id="editor.chosenRun.id"
            :effect-key="null"
            :text="null"
            :action="null"
            :input="null"
            trouble="run"
            @decided="emit('decided')"
          />
        </div>
      </div>
      <SourceEditor v-if="source" :source-id="source.id" />
      <RulesEditor v-else-if="editor.row === RULES" />
      <p v-else-if="band" class="text-ink-2">
        {{ band.empty ? 'No steps here yet.' : 'These steps are done' }}
        {{ band.empty ? 'Press A, or the plus beside its name, to add one.' : 'when this case is taken.' }}
        <button v-if="band.step !== '~failure'" class="link" @click="editor.row = band.step">Edit the step</button>
      </p>
      <component :is="EDITORS[step.verb]" v-else-if="step" :key="step.id" :step="step" />
      <ElementsSheet v-if="step" :step="step.id" :trace="trace" :run="editor.chosenRun" />
      <WorthALook :advice="advice" @show="emit('show', $event)" />
    </section>
    <section
      class="min-h-0 overflow-auto border-line px-4 py-2.5 md:border-l"
      aria-label="The chosen item"
      tabindex="0"
    >
      <FieldList :inserts="insertion.target !== null && !!step" @insert="insertion.target?.($event)" />
    </section>
    <section class="min-h-0 overflow-auto border-line px-4 py-2.5 md:border-l" aria-label="Preview" tabindex="0">
      <PostPreview />
    </section>
  </div>
</template>
