<script setup lang="ts">
import { Slice } from '@tiptap/pm/model';
import { Document } from '@tiptap/extension-document';
import { Text } from '@tiptap/extension-text';
import { Editor, EditorContent } from '@tiptap/vue-3';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { captionSource, type CaptionPart } from '@playa/core/captions/tokens.ts';
import { afterPaint } from '../../../lib/after-paint.ts';
import { beside } from '../../../lib/beside.ts';
import { useInsertion } from '../../../stores/insertion.ts';
import { fromDocument, toDocument } from './document.ts';
import { FieldTokenNode, type TokenAttributes } from './field-token.ts';
import { useInsertables } from './insertables.ts';
import { Line, RICH } from './marks.ts';
import { slashExtension } from './slash.ts';
import TokenPopover from './TokenPopover.vue';
import WordsToolbar from './WordsToolbar.vue';

// Words with fields as tokens: one pattern of a message.
const props = defineProps<{
  parts: CaptionPart[];
  label: string;
  /** The one that fields go into until another is worked on. */
  first?: boolean;
  /** A line rather than a paragraph. */
  small?: boolean;
  /** With formatting. */
  rich?: boolean;
}>();
const emit = defineEmits<{ change: [parts: CaptionPart[]] }>();
const insertion = useInsertion();
const insertables = useInsertables();
const version = ref(0);
const focused = ref(false);
const { extension: slash, list } = slashExtension(() => insertables.value);
const token = ref<{ pos: number; attrs: TokenAttributes; style: Record<string, string> } | null>(null);

let own = captionSource(props.parts);
const typed = afterPaint();
const editor = new Editor({
  extensions: [Document, Line, Text, FieldTokenNode, slash, ...(props.rich ? RICH : [])],
  content: toDocument(props.parts),
  editorProps: {
    attributes: {
      class: `caption-editor${props.small ? ' caption-small' : ''}`,
      role: 'textbox',
      'aria-multiline': 'true',
      'aria-label': props.label,
      ...(props.first ? { 'data-bench-first': '' } : {}),
    },
    handleClickOn(_view, _pos, node, nodePos) {
      if (node.type.name !== 'field') return false;
      openToken(nodePos);
      return true;
    },
    // A single line that is pasted goes on in the line where it is pasted.
    transformPasted(slice) {
      const alone = slice.content.childCount === 1 && slice.content.firstChild?.type.name === 'paragraph';
      return alone && slice.openStart === 0 ? new Slice(slice.content, 1, 1) : slice;
    },
    handleClick() {
      token.value = null;
      return false;
    },
    handleKeyDown(view, event) {
      // Enter on a chosen token opens what can be done with it.
      const { selection } = view.state;
      if (event.key === 'Enter' && 'node' in selection) {
        openToken(selection.from);
        return true;
      }
      return false;
    },
  },
  onFocus: () => {
    focused.value = true;
    insertion.take(insert);
  },
  // The link's own field, in the toolbar, keeps the words worked on.
  onBlur: ({ event }) => {
    const to = event.relatedTarget as Element | null;
    if (!to?.closest('[role="toolbar"]')) focused.value = false;
  },
  onTransaction: () => version.value++,
  onUpdate: ({ editor: changed }) => {
    typed.soon(() => {
      const parts = fromDocument(changed.getJSON());
      own = captionSource(parts);
      emit('change', parts);
    });
  },
});
onMounted(() => {
  if (props.first || !insertion.target) insertion.take(insert);
});
onBeforeUnmount(() => {
  insertion.leave(insert);
  typed.flush();
  editor.destroy();
});

// Undo, another step or the text form: the editor shows what the draft says.
watch(
  () => captionSource(props.parts),
  (source) => {
    if (source === own) return;
    own = source;
    editor.commands.setContent(toDocument(props.parts), { emitUpdate: false });
  },
);

function openToken(pos: number) {
  const node = editor.state.doc.nodeAt(pos);
  const place = editor.view.coordsAtPos(pos);
  if (!node) return;
  token.value = { pos, attrs: node.attrs as TokenAttributes, style: beside(place, 288) };
}
const hasMark = (name: string) => {
  void version.value;
  const node = token.value && editor.state.doc.nodeAt(token.value.pos);
  return node?.marks.some((mark) => mark.type.name === name) ?? false;
};
function closeToken() {
  token.value = null;
  editor.commands.focus();
}
function setToken(attrs: TokenAttributes) {
  if (!token.value) return;
  const { pos } = token.value;
  const node = editor.state.doc.nodeAt(pos);
  editor.view.dispatch(editor.state.tr.setNodeMarkup(pos, undefined, attrs, node?.marks));
  // What can be told something stays open to be told.
  if (attrs.tweak === token.value.attrs.tweak) token.value.attrs = attrs;
  else closeToken();
}
function markToken(mark: 'keep' | 'optional') {
  if (!token.value) return;
  const { pos } = token.value;
  editor
    .chain()
    .setTextSelection({ from: pos, to: pos + 1 })
    .toggleMark(mark)
    .run();
}
function removeToken() {
  if (!token.value) return;
  const { pos } = token.value;
  editor.view.dispatch(editor.state.tr.delete(pos, pos + 1));
  closeToken();
}
function insert(field: string) {
  editor
    .chain()
    .focus()
    .insertContent({ type: 'field', attrs: { field, tweak: null, options: null } })
    .run();
}
const menuId = `insert-${Math.random().toString(36).slice(2)}`;
const menuStyle = computed(() => (list.value?.place ? beside(list.value.place, 288) : {}));
</script>

<template>
  <div class="relative min-w-0">
    <WordsToolbar v-if="rich && !small" :editor="editor" :version="version" class="mb-1"
      ><slot name="tools"
    /></WordsToolbar>
    <EditorContent
      :editor="editor"
      class="rounded-(--radius) border border-line bg-card focus-within:border-sea"
      :class="small ? 'px-2 py-0.5' : 'min-h-20 px-3 py-1.5'"
    />
    <!-- Below, where nothing moves under the pointer when it comes. -->
    <WordsToolbar v-if="rich && small && focused" :editor="editor" :version="version" />
    <div
      v-if="list && focused"
      :id="menuId"
      class="z-30 rounded-(--radius) border border-line bg-card py-1 shadow-lg"
      :style="menuStyle"
      role="listbox"
      aria-label="What to put in"
    >
      <p v-if="list.items.length === 0" class="px-3 py-1 text-ink-3">No field is called like that.</p>
      <button
        v-for="(each, index) in list.items"
        :key="each.field"
        role="option"
        :aria-selected="index === list.index"
        class="flex w-full gap-3 px-3 py-1 text-left"
        :class="index === list.index && 'bg-sea-wash'"
        @mousedown.prevent="list.take(each)"
      >
        <span class="shrink-0">{{ each.label }}</span>
        <span class="ml-auto truncate text-sm text-ink-3">{{
          each.sort === 'snippet' ? `snippet: ${each.value}` : each.value || '(empty)'
        }}</span>
      </button>
    </div>
    <p class="sr-only" aria-live="polite">
      {{
        list && focused
          ? list.items.length
            ? `${list.items[list.index]?.label ?? ''}, ${list.index + 1} of ${list.items.length}`
            : 'No field is called like that.'
          : ''
      }}
    </p>
    <TokenPopover
      v-if="token"
      class="z-30"
      :style="token.style"
      :token="token.attrs"
      :kept="hasMark('keep')"
      :optional="hasMark('optional')"
      :rich="rich ?? false"
      @change="setToken"
      @mark="markToken"
      @remove="removeToken"
      @close="closeToken"
    />
  </div>
</template>

<style>
.caption-editor {
  min-height: 4rem;
  outline: none;
  line-height: 1.7;
  white-space: pre-wrap;
}
.caption-small {
  min-height: 1.7em;
}
.caption-editor .token {
  border-radius: 5px;
  background: var(--dusk-wash);
  color: var(--dusk);
  font-weight: 650;
  padding: 1px 6px;
  cursor: pointer;
  white-space: nowrap;
}
.caption-editor .token-snippet {
  background: var(--kelp-wash);
  color: var(--kelp);
}
.caption-editor .ProseMirror-selectednode {
  outline: 2px solid var(--sea);
}
.caption-editor .linked {
  color: var(--sea);
  text-decoration: underline;
}
.caption-editor .kept {
  border-bottom: 2px solid var(--kelp);
}
.caption-editor .optional {
  border-bottom: 2px dashed var(--amber);
}
.caption-editor code {
  border-radius: 3px;
  background: var(--paper);
  padding: 0 3px;
}
.caption-editor p[data-item]::before {
  content: '• ';
  color: var(--ink-3);
}
</style>
