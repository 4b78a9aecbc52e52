<script setup lang="ts">
import { Bold, Code, Italic, Link, List, Lock, Scissors } from '@lucide/vue';
import type { Editor } from '@tiptap/vue-3';
import { computed, ref } from 'vue';
import { useFloating } from '../../../lib/floating.ts';
import { useEditor } from '../../../stores/editor.ts';

// How the words look and what may give way. Networks without formatting get plain words; a link's address then stands
// after them.
const props = defineProps<{ editor: Editor; version: number }>();
const store = useEditor();
const { open: linking, style, toggle: toggleLinking } = useFloating(288);
const address = ref('');

const is = (name: string) => {
  // The editor is no reactive thing; its version says when to look again.
  void props.version;
  return props.editor.isActive(name);
};
const isItem = computed(() => {
  void props.version;
  return props.editor.isActive('paragraph', { item: true });
});
const hasSelection = computed(() => {
  void props.version;
  return !props.editor.state.selection.empty;
});
const buttons = [
  { mark: 'bold', icon: Bold, label: 'Bold', keys: 'Ctrl B' },
  { mark: 'italic', icon: Italic, label: 'Italic', keys: 'Ctrl I' },
  { mark: 'code', icon: Code, label: 'Code', keys: 'Ctrl E' },
] as const;
const giving = [
  { mark: 'keep', icon: Lock, label: 'Never shorten', says: 'Kept whole when the words are shortened' },
  { mark: 'optional', icon: Scissors, label: 'May be left out', says: 'Left out as a whole when there is no room' },
] as const;
const toggle = (mark: string) => props.editor.chain().focus().toggleMark(mark).run();
const toggleItem = () => props.editor.chain().focus().updateAttributes('paragraph', { item: !isItem.value }).run();
const links = computed(() => store.usable.filter((field) => field.type === 'link'));
function openLink(event: MouseEvent) {
  if (is('link')) return void props.editor.chain().focus().extendMarkRange('link').unsetMark('link').run();
  address.value = '';
  toggleLinking(event);
}
function setLink(attrs: { field: string } | { address: string }) {
  linking.value = false;
  props.editor
    .chain()
    .focus()
    .setMark('link', { field: null, address: null, ...attrs })
    .run();
}
const isAddress = computed(() => /^(https?:\/\/|mailto:)\S+$/.test(address.value.trim()));
</script>

<template>
  <div class="relative flex flex-wrap items-center gap-0.5" role="toolbar" aria-label="How the words look">
    <button
      v-for="each in buttons"
      :key="each.mark"
      class="tool"
      :aria-pressed="is(each.mark)"
      :aria-label="each.label"
      :title="`${each.label} (${each.keys})`"
      @mousedown.prevent
      @click="toggle(each.mark)"
    >
      <component :is="each.icon" :size="14" />
    </button>
    <button
      class="tool"
      :aria-pressed="is('link')"
      :aria-expanded="linking"
      aria-label="Link"
      :disabled="!hasSelection && !is('link')"
      :title="is('link') ? 'No longer a link' : 'Let the marked words lead somewhere'"
      @mousedown.prevent
      @click="openLink"
    >
      <Link :size="14" />
    </button>
    <button
      class="tool"
      :aria-pressed="isItem"
      aria-label="Entry of a list"
      title="Entry of a list"
      @mousedown.prevent
      @click="toggleItem"
    >
      <List :size="14" />
    </button>
    <span class="mx-1 h-4 border-l border-line" aria-hidden="true"></span>
    <button
      v-for="each in giving"
      :key="each.mark"
      class="tool"
      :aria-pressed="is(each.mark)"
      :aria-label="each.label"
      :disabled="!hasSelection && !is(each.mark)"
      :title="`${each.label}: ${each.says}`"
      @mousedown.prevent
      @click="toggle(each.mark)"
    >
      <component :is="each.icon" :size="14" />
    </button>
    <slot />
    <div
      v-if="linking"
      ref="panel"
      :style="style"
      class="z-30 grid gap-1 rounded-(--radius) border border-line bg-card p-2 shadow-lg"
      role="dialog"
      aria-label="Where the words lead"
      @keydown.escape.stop="linking = false"
    >
      <button
        v-for="field in links"
        :key="field.path"
        class="rounded px-2 py-1 text-left hover:bg-sea-wash"
        @click="setLink({ field: field.path })"
      >
        {{ field.label }} <span class="text-sm text-ink-3">of the item</span>
      </button>
      <form class="flex gap-1" @submit.prevent="isAddress && setLink({ address: address.trim() })">
        <input v-model="address" class="field min-w-0 flex-1" placeholder="https://…" aria-label="An address" />
        <button class="btn px-2 py-1" :disabled="!isAddress">Set</button>
      </form>
    </div>
  </div>
</template>

<style>
.tool {
  border-radius: 5px;
  padding: 4px 5px;
  color: var(--ink-2);
}
.tool:hover:not(:disabled) {
  background: var(--paper);
}
.tool:disabled {
  opacity: 0.4;
}
.tool[aria-pressed='true'] {
  background: var(--sea-wash);
  color: var(--sea);
}
</style>
