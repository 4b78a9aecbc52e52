<script setup lang="ts">
import { GitFork } from '@lucide/vue';
import { computed, ref } from 'vue';
import { CaptionError, parseCaption, readCaption } from '@playa/core/captions/caption.ts';
import { captionChoice, choiceFrom, choiceSource } from '@playa/core/captions/choices.ts';
import { captionParts, captionSource, type CaptionPart } from '@playa/core/captions/tokens.ts';
import { useEditor } from '../../stores/editor.ts';
import { useInsertion } from '../../stores/insertion.ts';
import ChoiceRows from './words/ChoiceRows.vue';
import PartsEditor from './words/PartsEditor.vue';

// A wording: tokens, or rows that choose by value, or the text of the message itself, on demand and whenever it says
// more than the others can show.
const props = defineProps<{
  text: string;
  label: string;
  /** The one that fields go into until another is worked on. */
  first?: boolean;
  /** A line rather than a paragraph. */
  small?: boolean;
  /** With formatting, and with words that depend on a value. */
  rich?: boolean;
  placeholder?: string;
}>();
const emit = defineEmits<{ change: [text: string] }>();
const editor = useEditor();
const insertion = useInsertion();
const showText = ref(false);

const read = computed(() => {
  try {
    const parts = captionParts(props.text);
    return { parts, choice: parts ? undefined : captionChoice(props.text), wrong: null };
  } catch (error) {
    return { parts: undefined, choice: undefined, wrong: error instanceof CaptionError ? error : null };
  }
});
/** What cannot be used although it can be read: a function that nobody knows. */
const wrong = computed(() => {
  if (read.value.wrong) return read.value.wrong;
  try {
    parseCaption(props.text);
    readCaption(props.text);
    return null;
  } catch (error) {
    return error instanceof CaptionError ? error : null;
  }
});
/** The words around the place at which they stop making sense. */
const around = computed(() => {
  const at = wrong.value?.at ?? null;
  if (at === null) return null;
  const { start, end } = at;
  return {
    before: (start > 24 ? '…' : '') + props.text.slice(Math.max(0, start - 24), start),
    from: props.text.slice(start, Math.min(end, start + 40)),
    after: props.text.slice(end, end + 40),
  };
});
const simple = computed(() => read.value.parts !== undefined || read.value.choice !== undefined);
const asText = computed(() => showText.value || !simple.value);
const area = ref<HTMLTextAreaElement>();
function insertText(field: string) {
  const at = area.value?.selectionStart ?? props.text.length;
  emit('change', `${props.text.slice(0, at)}{$${field}}${props.text.slice(at)}`);
}
const change = (parts: CaptionPart[]) => emit('change', captionSource(parts));
/** Begins to choose by the field that is likeliest meant: stars, a count, or the first there is. */
function choose() {
  const known = editor.usable;
  const field =
    known.find((each) => each.path === 'stars') ??
    known.find((each) => each.type === 'number') ??
    known.find((each) => each.emptyIn > 0) ??
    known[0];
  if (!field || !read.value.parts) return;
  const by = field.type === 'number' ? 'number' : 'filled';
  emit('change', choiceSource(choiceFrom(read.value.parts, field.path, by, [by === 'filled' ? 'yes' : '1'])));
}
</script>

<template>
  <div class="min-w-0">
    <ChoiceRows
      v-if="!asText && read.choice"
      :choice="read.choice"
      :label="label"
      :first="first ?? false"
      :rich="rich ?? false"
      @change="emit('change', $event)"
      @merge="change"
    />
    <div v-else-if="!asText && read.parts" class="relative">
      <PartsEditor
        :parts="read.parts"
        :label="label"
        :first="first ?? false"
        :small="small ?? false"
        :rich="rich ?? false"
        @change="change"
      >
        <template #tools>
          <button
            class="tool flex items-center gap-1 text-sm"
            title="Other words for other values: by stars, by number, filled or empty"
            @mousedown.prevent
            @click="choose"
          >
            <GitFork :size="14" /> by value
          </button>
          <slot name="tools" />
        </template>
      </PartsEditor>
      <span
        v-if="placeholder && text === ''"
        class="pointer-events-none absolute top-1 left-2.5 text-ink-3"
        aria-hidden="true"
        >{{ placeholder }}</span
      >
    </div>
    <div v-else>
      <textarea
        ref="area"
        class="field w-full font-mono text-sm"
        :class="small ? 'h-8 px-2' : 'min-h-24 px-3 py-2'"
        :aria-label="`${label}, as text`"
        :aria-invalid="wrong !== null"
        :value="text"
        :data-bench-first="first ? '' : undefined"
        @focus="insertion.take(insertText)"
        @input="emit('change', ($event.target as HTMLTextAreaElement).value)"
      ></textarea>
      <div v-if="wrong" role="alert" class="text-sm text-rose">
        {{ wrong.message }}
        <template v-if="around">
          <button
            class="underline"
            @click="
              area?.focus();
              area?.setSelectionRange(wrong.at!.start, wrong.at!.end);
            "
          >
            Go there
          </button>
          <p class="mt-0.5 truncate rounded bg-rose-wash px-2 py-0.5 font-mono whitespace-pre">
            <span class="text-ink-2">{{ around.before }}</span><mark
              class="bg-transparent font-[650] text-rose underline decoration-wavy underline-offset-4"
              >{{ around.from || 'the end' }}</mark
            ><span class="text-ink-2">{{ around.after }}</span>
          </p>
        </template>
      </div>
      <p v-else-if="!simple" class="text-sm text-ink-3">These words do more than tokens and rows can show.</p>
    </div>
    <slot name="below" :simple="simple" :show-text="showText" :toggle="() => (showText = !showText)" />
  </div>
</template>
