<script setup lang="ts">
import { computed, nextTick, ref } from 'vue';
import type { DeskEntry } from '../../lib/types.ts';
import { useBrandHere } from '../../stores/brand-here.ts';
import { matching, typingAt, useSnippets, wordsFor, type Snippet, type Typing } from './snippets.ts';

// Where an answer is typed. "/" offers the brand's snippets.
const props = defineProps<{ entry: DeskEntry; text: string; label: string; placeholder: string; invalid: boolean }>();
const emit = defineEmits<{ text: [text: string]; focus: []; blur: [] }>();
const { brand } = useBrandHere();
const field = ref<HTMLTextAreaElement>();
const snippets = useSnippets();
const typing = ref<Typing | null>(null);
const at = ref(0);
const offered = computed(() => (typing.value ? matching(snippets.all.value, typing.value.name) : []));
const listId = computed(() => `snippets-${props.entry.itemId}`);

function look() {
  const { value, selectionStart, selectionEnd } = field.value!;
  typing.value = selectionStart === selectionEnd ? typingAt(value, selectionStart) : null;
  at.value = 0;
  if (typing.value) void snippets.load();
}
function onInput() {
  emit('text', field.value!.value);
  look();
}
async function put(snippet: Snippet) {
  const place = typing.value;
  if (!place) return;
  typing.value = null;
  const words = await wordsFor(snippet, props.entry, brand.value?.locale ?? 'en');
  const text = field.value!.value;
  emit('text', text.slice(0, place.from) + words + text.slice(place.to));
  await nextTick();
  const end = place.from + words.length;
  field.value?.focus();
  field.value?.setSelectionRange(end, end);
}
function onKey(event: KeyboardEvent) {
  if (offered.value.length === 0 || event.ctrlKey || event.metaKey) return;
  const count = offered.value.length;
  if (event.key === 'ArrowDown') at.value = (at.value + 1) % count;
  else if (event.key === 'ArrowUp') at.value = (at.value + count - 1) % count;
  else if (event.key === 'Enter' || event.key === 'Tab') void put(offered.value[at.value]!);
  else if (event.key === 'Escape') typing.value = null;
  else return;
  // The desk has keys of its own.
  event.preventDefault();
  event.stopPropagation();
}
function onBlur() {
  typing.value = null;
  emit('blur');
}
defineExpose({
  edit() {
    field.value?.focus();
    field.value?.setSelectionRange(props.text.length, props.text.length);
  },
});
</script>

<template>
  <div class="relative">
    <textarea
      ref="field"
      class="field answer-field w-full"
      rows="2"
      :value="text"
      :aria-label="label"
      :placeholder="placeholder"
      :aria-invalid="invalid || undefined"
      aria-autocomplete="list"
      :aria-controls="offered.length ? listId : undefined"
      :aria-activedescendant="offered.length ? `${listId}-${at}` : undefined"
      dir="auto"
      @input="onInput"
      @click="look"
      @keydown="onKey"
      @focus="emit('focus')"
      @blur="onBlur"
    ></textarea>
    <ul
      v-if="offered.length"
      :id="listId"
      role="listbox"
      aria-label="Snippets"
      class="absolute inset-x-0 top-full z-30 mt-0.5 max-h-56 overflow-auto rounded-(--radius) border border-line bg-card py-1 shadow-lg"
    >
      <li
        v-for="(snippet, index) in offered"
        :id="`${listId}-${index}`"
        :key="snippet.name"
        role="option"
        :aria-selected="index === at"
        class="flex cursor-pointer gap-3 px-3 py-1"
        :class="index === at && 'bg-sea-wash'"
        @mousedown.prevent="put(snippet)"
        @mousemove="at = index"
      >
        <span class="shrink-0 font-[650]">{{ snippet.name }}</span>
        <span class="ml-auto truncate text-sm text-ink-3">{{ snippet.text }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.answer-field {
  field-sizing: content;
  max-height: 260px;
  resize: vertical;
  line-height: 1.45;
}
</style>
