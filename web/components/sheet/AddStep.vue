<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue';
import { computed, nextTick, onMounted, ref } from 'vue';
import { stepSort, stepTitle, type OfferedVerb, type Step } from '@playa/core/steps/index.ts';
import { makeStep } from '../../lib/make-step.ts';
import { useEditor } from '../../stores/editor.ts';

// The short list of steps to add, filtered while typing: "pub", "check longer 2 min", "wait 10 min".
const emit = defineEmits<{ close: [] }>();
const editor = useEditor();
const query = ref('');
const box = ref<HTMLElement>();

/** What each does, and by which words it is found. The compiler asks for one of every verb. */
const OFFERED: Record<OfferedVerb, [says: string, words: string]> = {
  check: ['go on only if something is so', 'only if longer contains filter stop'],
  split: ['take one of several ways', 'case otherwise if else branch chance random'],
  foreach: ['once for every element of a list', 'for each loop list elements'],
  gather: ['make one of many', 'collect digest join list'],
  compose: ['word a caption from the item', 'caption text write words'],
  draft: ['have a text model word something', 'model words write answer'],
  wait: ['go on later', 'later delay until pause hours minutes'],
  find: ['look up a person, post, row or file', 'search look person post row file'],
  call: ['ask any service', 'http service request hook api ask'],
  publish: ['post it at outlets', 'post send page picture note photo room broadcast'],
  reply: ['answer what they wrote', 'answer comment review'],
  message: ['write to one person', 'direct person write'],
  react: ['like what they wrote', 'like heart'],
  revise: ['change a post: edit, delete, pin', 'edit delete pin unpin forward change'],
  hold: ['wait for a yes', 'approve yes ask person'],
  record: ['write a row', 'row table sheet write save'],
  label: ['mark the person', 'tag person mark'],
  notify: ['tell a colleague', 'tell colleague alert'],
  end: ['nothing further', 'stop finish'],
};
const VERBS = Object.entries(OFFERED) as [OfferedVerb, [says: string, words: string]][];
const GROUPS = [
  ['looking', 'Looking'],
  ['thinking', 'Thinking'],
  ['sending', 'Sending'],
  ['keeping', 'Keeping'],
] as const;
/** Acts that only a network can do: worth offering first when there is one that does. */
const needs: Partial<Record<OfferedVerb, string>> = {
  reply: 'reply',
  message: 'message',
  react: 'react',
  record: 'record',
  draft: 'draft',
};
const offered = (verb: OfferedVerb) => {
  const act = needs[verb];
  return !act || [...editor.world.outlets.values()].some((outlet) => outlet.acts?.includes(act as 'reply'));
};

const shown = computed(() => {
  const first = query.value.toLowerCase().trim().split(/\s+/)[0] ?? '';
  const matching = VERBS.filter(([verb, [, words]]) =>
    `${stepTitle(verb)} ${words}`
      .toLowerCase()
      .split(' ')
      .some((word) => word.startsWith(first)),
  );
  return GROUPS.map(([sort, label]) => ({
    label,
    sort,
    verbs: matching
      .filter(([verb]) => stepSort(verb) === sort)
      .sort((a, b) => Number(offered(b[0])) - Number(offered(a[0])))
      .map(([verb, [says]]) => ({ verb, says, title: stepTitle(verb), offered: offered(verb) })),
  })).filter((group) => group.verbs.length > 0);
});
function choose(choice: { verb: OfferedVerb } | null) {
  if (choice) editor.addStep(makeStep(choice.verb, query.value, editor) as Step);
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
    class="w-96 overflow-hidden rounded-(--radius) border border-line bg-card shadow-lg"
    @keydown.escape.stop="emit('close')"
  >
    <Combobox :model-value="null" @update:model-value="choose">
      <ComboboxInput
        class="w-full bg-card px-3 py-2 outline-none"
        placeholder="Add a step: check, compose, wait 10 min, publish"
        aria-label="Add a step"
        @change="query = $event.target.value"
        @blur="emit('close')"
      />
      <ComboboxOptions static class="max-h-[46vh] overflow-auto border-t border-line py-1">
        <template v-for="group in shown" :key="group.sort">
          <li class="px-3 pt-1.5 pb-0.5 text-sm text-ink-3" role="presentation">{{ group.label }}</li>
          <ComboboxOption
            v-for="choice in group.verbs"
            :key="choice.verb"
            v-slot="{ active }"
            :value="choice"
            as="template"
          >
            <li
              class="flex cursor-pointer items-center gap-2 px-3 py-1"
              :class="active && 'bg-sea-wash'"
              @mousedown.prevent="choose(choice)"
            >
              <span
                class="h-4 w-[3px] rounded"
                :style="{ background: `var(--${group.sort})` }"
                aria-hidden="true"
              ></span>
              <b>{{ choice.title }}</b><span class="truncate text-ink-3">{{
                choice.offered ? choice.says : 'no connected account offers this yet'
              }}</span>
            </li>
          </ComboboxOption>
        </template>
        <li v-if="shown.length === 0" class="px-3 py-1.5 text-ink-3">There is no step by that name.</li>
      </ComboboxOptions>
    </Combobox>
  </div>
</template>
