<script setup lang="ts">
import { Document } from '@tiptap/extension-document';
import { Paragraph } from '@tiptap/extension-paragraph';
import { Text } from '@tiptap/extension-text';
import { Editor, EditorContent } from '@tiptap/vue-3';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { CaptionError, parseCaption } from '@playa/core/captions/caption.ts';
import { TWEAKS, tweakNamed } from '@playa/core/captions/functions.ts';
import { captionParts, captionSource } from '@playa/core/captions/tokens.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { useEditor } from '../../stores/editor.ts';
import { useInsertion } from '../../stores/insertion.ts';
import { FieldTokenNode, fromDocument, toDocument } from './field-token.ts';

// Words with fields as tokens. The text form is there on demand, and whenever the words are more than text and tokens.
const props = defineProps<{
  text: string;
  label: string;
  /** The one that fields go into until another is worked on. */
  first?: boolean;
  /** A line rather than a paragraph. */
  small?: boolean;
  placeholder?: string;
}>();
const emit = defineEmits<{ change: [text: string] }>();
const store = useEditor();
const insertion = useInsertion();
const showText = ref(false);
const token = ref<{ pos: number; field: string; tweak: string | null; left: number; top: number } | null>(null);
const box = ref<HTMLElement>();

function partsOf(source: string) {
  try {
    return captionParts(source);
  } catch {
    return undefined;
  }
}
const simple = computed(() => partsOf(props.text) !== undefined);
const asText = computed(() => showText.value || !simple.value);
const wrong = computed(() => {
  try {
    parseCaption(props.text);
    return null;
  } catch (error) {
    return error instanceof CaptionError ? error : null;
  }
});

let own = props.text;
const editor = new Editor({
  extensions: [Document, Paragraph, Text, FieldTokenNode],
  content: toDocument(partsOf(props.text) ?? []),
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
  onFocus: () => insertion.take(insert),
  onUpdate: ({ editor: changed }) => {
    own = captionSource(fromDocument(changed.getJSON()));
    emit('change', own);
  },
});
onMounted(() => {
  if (props.first || !insertion.target) insertion.take(insert);
});
onBeforeUnmount(() => {
  insertion.leave(insert);
  editor.destroy();
});

// Undo, another step or the text form: the editor shows what the draft says.
watch(
  () => props.text,
  (text) => {
    if (text === own) return;
    own = text;
    const parts = partsOf(text);
    if (parts) editor.commands.setContent(toDocument(parts), { emitUpdate: false });
  },
);

function openToken(pos: number) {
  const node = editor.state.doc.nodeAt(pos);
  const place = editor.view.coordsAtPos(pos);
  const frame = box.value!.getBoundingClientRect();
  if (!node) return;
  token.value = {
    pos,
    field: String(node.attrs.field),
    tweak: (node.attrs.tweak as string | null) ?? null,
    left: Math.max(0, Math.min(place.left - frame.left, frame.width - 260)),
    top: place.bottom - frame.top + 4,
  };
}
const fieldType = (path: string) => store.usable.find((field) => field.path === path)?.type ?? 'text';
const tweaks = computed(() => (token.value ? TWEAKS.filter((tweak) => tweak.fits(fieldType(token.value!.field))) : []));
function preview(tweak: string | null): string {
  if (!token.value || !store.chosenItem) return '';
  const value = fieldText(readField(store.chosenItem.fields, token.value.field));
  return (tweak ? tweakNamed(tweak)!.apply(value, store.world.locale, {}) : value).slice(0, 90) || '(empty)';
}
function setTweak(tweak: string | null) {
  if (!token.value) return;
  const { pos, field } = token.value;
  editor.view.dispatch(editor.state.tr.setNodeMarkup(pos, undefined, { field, tweak }));
  token.value = null;
  editor.commands.focus();
}
function removeToken() {
  if (!token.value) return;
  const { pos } = token.value;
  editor.view.dispatch(editor.state.tr.delete(pos, pos + 1));
  token.value = null;
  editor.commands.focus();
}
function insert(field: string) {
  if (asText.value) return emit('change', `${props.text}{$${field}}`);
  editor
    .chain()
    .focus()
    .insertContent({ type: 'field', attrs: { field, tweak: null } })
    .run();
}
</script>

<template>
  <div ref="box" class="relative min-w-0">
    <EditorContent
      v-if="!asText"
      :editor="editor"
      class="rounded-(--radius) border border-line bg-card focus-within:border-sea"
      :class="small ? 'px-2 py-0.5' : 'min-h-24 px-3 py-2'"
    />
    <div v-else>
      <textarea
        class="field w-full font-mono text-sm"
        :class="small ? 'h-8 px-2' : 'min-h-24 px-3 py-2'"
        :aria-label="`${label}, as text`"
        :value="text"
        :data-bench-first="first ? '' : undefined"
        @focus="insertion.take(insert)"
        @input="emit('change', ($event.target as HTMLTextAreaElement).value)"
      ></textarea>
      <p v-if="wrong" role="alert" class="text-sm text-rose">
        {{ wrong.message
        }}<template v-if="wrong.at !== null">
          It stops making sense at “<b>{{ text.slice(wrong.at, wrong.at + 12) || 'the end' }}</b
          >”.</template
        >
      </p>
      <p v-else-if="!simple" class="text-sm text-ink-3">
        These words choose by value, which the token editor does not show yet.
      </p>
    </div>
    <span
      v-if="placeholder && text === '' && !asText"
      class="pointer-events-none absolute top-1 left-2.5 text-ink-3"
      aria-hidden="true"
      >{{ placeholder }}</span
    >
    <div
      v-if="token"
      class="absolute z-20 max-h-48 w-64 overflow-y-auto rounded-(--radius) border border-line bg-card py-1 shadow-lg"
      :style="{ left: `${token.left}px`, top: `${token.top}px` }"
      role="menu"
      aria-label="What to do with this field"
      @keydown.escape.stop="((token = null), editor.commands.focus())"
    >
      <button
        role="menuitem"
        class="block w-full px-3 py-1 text-left hover:bg-sea-wash"
        :class="token.tweak === null && 'font-[650]'"
        @click="setTweak(null)"
      >
        as it is<span class="block truncate text-sm font-normal text-ink-3">{{ preview(null) }}</span>
      </button>
      <button
        v-for="tweak in tweaks"
        :key="tweak.name"
        role="menuitem"
        class="block w-full px-3 py-1 text-left hover:bg-sea-wash"
        :class="token.tweak === tweak.name && 'font-[650]'"
        :title="tweak.says"
        @click="setTweak(tweak.name)"
      >
        {{ tweak.label }}<span class="block truncate text-sm font-normal text-ink-3">{{ preview(tweak.name) }}</span>
      </button>
      <button
        role="menuitem"
        class="block w-full border-t border-line px-3 py-1 text-left text-rose hover:bg-rose-wash"
        @click="removeToken"
      >
        remove
      </button>
      <button
        role="menuitem"
        class="block w-full px-3 py-1 text-left text-ink-3 hover:bg-sea-wash"
        @click="token = null"
      >
        close
      </button>
    </div>
    <slot name="below" :simple="simple" :show-text="showText" :toggle="() => (showText = !showText)" />
  </div>
</template>

<style>
.caption-editor {
  min-height: 5rem;
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
.caption-editor .ProseMirror-selectednode {
  outline: 2px solid var(--sea);
}
</style>
