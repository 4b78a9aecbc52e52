<script setup lang="ts">
import { Copy, EyeOff, GripVertical, Plus, Trash2 } from '@lucide/vue';
import { computed } from 'vue';
import { stepSentence, stepSort } from '@playa/core/steps/index.ts';
import { sayStarts } from '@playa/core/triggers/trigger.ts';
import { saySettings } from '@playa/core/workflow/say-settings.ts';
import { nameOfSource, type SheetRow } from '../../lib/sheet-rows.ts';
import { useEditor } from '../../stores/editor.ts';
import PhraseText from '../PhraseText.vue';

// What a row of the sheet is: a source, the rules, a case of a Split, or a step, with what can be done to it.
defineProps<{ row: SheetRow }>();
const emit = defineEmits<{ add: [] }>();
const editor = useEditor();
const problemsOf = (id: string) => editor.problems.filter((problem) => problem.step === id);
const rules = computed(() => saySettings(editor.settings));
/** The places at which the same is written, the first of them by name. */
function sourceNames({ source, others }: Extract<SheetRow, { type: 'source' }>): string {
  const first = nameOfSource(editor.world, source.watch);
  if (others.length === 0) return first;
  if (others.length === 1) return `${first} and ${nameOfSource(editor.world, others[0]!.watch)}`;
  return `${first} and ${others.length} more`;
}
</script>

<template>
  <template v-if="row.type === 'source'">
    <span
      class="w-4 shrink-0 text-right whitespace-nowrap text-ink-3"
      :class="row.number.length > 2 && '-ml-1.5 w-5.5 text-sm'"
      >{{ row.number }}</span
    >
    <span class="w-[3px] shrink-0 rounded bg-(--looking)" aria-hidden="true"></span>
    <span class="min-w-0"
      ><b>Watch</b> {{ sourceNames(row)
      }}<template v-if="row.source.watch">
        ·
        {{ sayStarts(row.source.trigger, editor.world.watches.get(row.source.watch)?.things ?? 'items') }}</template
      ><template v-if="row.source.condition?.items.length"> · only some</template>
      <span
        v-for="problem in [row.source, ...row.others].flatMap(({ id }) => problemsOf(id))"
        :key="problem.says"
        class="block text-sm"
        :class="problem.level === 'harm' ? 'text-rose' : 'text-amber'"
        >{{ problem.says }}</span
      >
    </span>
  </template>
  <template v-else-if="row.type === 'rules'">
    <span class="w-4 shrink-0"></span><span class="w-[3px] shrink-0" aria-hidden="true"></span>
    <span class="min-w-0 text-sm" :class="rules.length ? 'text-ink-2' : 'text-ink-3'"
      ><b class="text-ink-2">Rules</b> {{ rules.length ? rules.join(' · ') : 'none' }}</span
    >
  </template>
  <template v-else-if="row.type === 'band'">
    <span
      class="flex min-w-0 flex-1 items-center gap-2 border-l-2 border-(--thinking) pl-2 text-sm"
      :style="{ marginLeft: `${28 + row.depth * 16}px` }"
    >
      <span class="min-w-0 truncate font-[550] text-ink-2" :title="row.label">{{ row.label }}</span>
      <span v-if="row.empty" class="shrink-0 text-ink-3">no steps yet</span>
      <button
        tabindex="-1"
        class="ml-auto shrink-0 rounded p-0.5 text-sea"
        :class="!row.empty && 'invisible group-focus-within/row:visible group-hover/row:visible'"
        :aria-label="`Add a step to ${row.label}`"
        title="Add a step here (A)"
        @click.stop="emit('add')"
      >
        <Plus :size="13" />
      </button>
    </span>
  </template>
  <template v-else>
    <GripVertical
      :size="13"
      class="grip absolute top-2.5 left-0.5 cursor-grab text-ink-3 opacity-0 group-hover/row:opacity-100"
      aria-hidden="true"
    />
    <span
      class="shrink-0 text-right text-ink-3"
      :class="row.placed.depth ? 'text-[11.5px]' : 'w-4'"
      :style="row.placed.depth ? { marginLeft: `${row.placed.depth * 16 + 6}px` } : {}"
      >{{ row.number }}</span
    >
    <span
      class="w-[3px] shrink-0 rounded"
      :style="{ background: `var(--${stepSort(row.placed.step.verb)})` }"
      aria-hidden="true"
    ></span>
    <span class="min-w-0 flex-1 break-words" :class="row.placed.step.off && 'text-ink-3 line-through'">
      <PhraseText :phrase="stepSentence(row.placed.step, editor.world)" lead />
      <span v-if="row.placed.step.off" class="sr-only"> (switched off)</span>
      <span
        v-for="problem in problemsOf(row.id)"
        :key="problem.says"
        class="block text-sm"
        :class="problem.level === 'harm' ? 'text-rose' : 'text-amber'"
        >{{ problem.says }}</span
      >
    </span>
    <span
      class="invisible absolute right-1 bottom-0.5 flex gap-0.5 rounded bg-paper-2 group-focus-within/row:visible group-hover/row:visible"
    >
      <button
        tabindex="-1"
        class="rounded p-1 text-ink-3 hover:text-ink"
        aria-label="Add a step below"
        title="Add a step below (A)"
        @click.stop="emit('add')"
      >
        <Plus :size="13" />
      </button>
      <button
        tabindex="-1"
        class="rounded p-1 text-ink-3 hover:text-ink"
        :aria-label="row.placed.step.off ? 'Switch on' : 'Switch off'"
        :title="row.placed.step.off ? 'Switch on (X)' : 'Switch off (X)'"
        @click.stop="editor.toggleStep(row.id)"
      >
        <EyeOff :size="13" />
      </button>
      <button
        tabindex="-1"
        class="rounded p-1 text-ink-3 hover:text-ink"
        aria-label="Double"
        title="Double (Ctrl D)"
        @click.stop="editor.doubleStep(row.id)"
      >
        <Copy :size="13" />
      </button>
      <button
        tabindex="-1"
        class="rounded p-1 text-ink-3 hover:text-rose"
        aria-label="Remove"
        title="Remove (Delete)"
        @click.stop="editor.removeStep(row.id)"
      >
        <Trash2 :size="13" />
      </button>
    </span>
  </template>
</template>
