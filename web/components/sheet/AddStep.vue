<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue';
import { computed, nextTick, onMounted, ref } from 'vue';
import type { Step } from '@playa/core/steps/index.ts';
import { operatorsFor } from '@playa/core/conditions/operators.ts';
import { catalogue } from '@playa/core/items/catalogue.ts';
import { readLength } from '@playa/core/text/durations.ts';
import { stepId } from '../../lib/make-workflow.ts';
import { useEditor } from '../../stores/editor.ts';

// The short list of steps to add, filtered while typing: "pub", "check longer 2 min".
const emit = defineEmits<{ close: [] }>();
const editor = useEditor();
const query = ref('');
const box = ref<HTMLElement>();

interface Choice {
  group: string;
  label: string;
  says: string;
  words: string;
  make: () => Step;
}

const fields = computed(() => catalogue(editor.items.slice(0, 30).map((item) => item.fields)));
const texts = computed(() => editor.definition.steps.flatMap((step) => (step.verb === 'compose' ? [step.name] : [])));

function freshName(): string {
  if (!texts.value.includes('caption')) return 'caption';
  for (let number = 2; ; number++) if (!texts.value.includes(`caption ${number}`)) return `caption ${number}`;
}
/** A check that says something about these items at once. */
function firstCheck(): Step {
  const length = fields.value.find((field) => field.type === 'length');
  const minutes = /(\d.*)$/.exec(query.value)?.[1];
  const test = length
    ? {
        type: 'test' as const,
        field: length.path,
        op: 'longer' as const,
        value: (minutes && readLength(minutes)) || 60,
      }
    : {
        type: 'test' as const,
        field: fields.value[0]?.path ?? 'title',
        op: operatorsFor(fields.value[0]?.type ?? 'text').includes('filled')
          ? ('filled' as const)
          : ('contains' as const),
      };
  return { id: stepId(), verb: 'check', condition: { type: 'group', match: 'all', items: [test] } };
}
const choices: Choice[] = [
  {
    group: 'thinking',
    label: 'Check',
    says: 'go on only if something is so',
    words: 'check only if longer contains filter stop',
    make: firstCheck,
  },
  {
    group: 'thinking',
    label: 'Compose',
    says: 'word a caption from the item',
    words: 'compose caption text write words',
    make: () => ({ id: stepId(), verb: 'compose', name: freshName(), text: '{$title}' }),
  },
  {
    group: 'sending',
    label: 'Publish',
    says: 'post it on pages',
    words: 'publish post send page',
    make: () => ({
      id: stepId(),
      verb: 'publish',
      outlets: [...editor.world.outlets.values()]
        .filter((outlet) => outlet.kind === 'page' && !outlet.trouble)
        .map((outlet) => outlet.id)
        .slice(0, 1),
      caption: texts.value.at(-1) ?? 'caption',
      card: 'link',
    }),
  },
];
const shown = computed(() => {
  const first = query.value.toLowerCase().trim().split(/\s+/)[0] ?? '';
  return choices.filter((choice) => choice.words.split(' ').some((word) => word.startsWith(first)));
});
function choose(choice: Choice | null) {
  if (choice) editor.addStep(choice.make());
  emit('close');
}
onMounted(async () => {
  await nextTick();
  box.value?.querySelector('input')?.focus();
});
</script>

<template>
  <div
    ref="box"
    class="w-80 overflow-hidden rounded-(--radius) border border-line bg-card shadow-lg"
    @keydown.escape.stop="emit('close')"
  >
    <Combobox :model-value="null" @update:model-value="choose">
      <ComboboxInput
        class="w-full bg-card px-3 py-2 outline-none"
        placeholder="Add a step: check, compose, publish"
        aria-label="Add a step"
        @change="query = $event.target.value"
        @blur="emit('close')"
      />
      <ComboboxOptions static class="border-t border-line py-1">
        <ComboboxOption v-for="choice in shown" :key="choice.label" v-slot="{ active }" :value="choice" as="template">
          <li
            class="flex cursor-pointer items-center gap-2 px-3 py-1.5"
            :class="active && 'bg-sea-wash'"
            @mousedown.prevent="choose(choice)"
          >
            <span
              class="h-4 w-[3px] rounded"
              :style="{ background: `var(--${choice.group})` }"
              aria-hidden="true"
            ></span>
            <b>{{ choice.label }}</b><span class="text-ink-3">{{ choice.says }}</span>
          </li>
        </ComboboxOption>
        <li v-if="shown.length === 0" class="px-3 py-1.5 text-ink-3">There is no step by that name.</li>
      </ComboboxOptions>
    </Combobox>
  </div>
</template>
