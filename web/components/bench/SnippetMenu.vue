<script setup lang="ts">
import { TextQuote } from '@lucide/vue';
import { ref } from 'vue';
import { snippetField } from '@playa/core/workflow/snippets.ts';
import { useFloating } from '../../lib/floating.ts';
import { useEditor } from '../../stores/editor.ts';
import { useInsertion } from '../../stores/insertion.ts';
import SnippetsDialog from './SnippetsDialog.vue';

// The brand's own words, to put in; and the way to where they are looked after.
const editor = useEditor();
const insertion = useInsertion();
const { open, style, toggle } = useFloating(288);
const looking = ref(false);
function put(name: string) {
  open.value = false;
  insertion.target?.(snippetField(name));
}
</script>

<template>
  <div class="relative">
    <button
      class="tool flex items-center gap-1 text-sm"
      :aria-expanded="open"
      aria-haspopup="true"
      title="Words of the brand’s own: sign-offs, hashtags, addresses"
      @mousedown.prevent
      @click="toggle"
    >
      <TextQuote :size="14" /> snippet
    </button>
    <div
      v-if="open"
      ref="panel"
      :style="style"
      class="z-30 rounded-(--radius) border border-line bg-card py-1 shadow-lg"
      role="dialog"
      aria-label="Snippets"
      @keydown.escape.stop="open = false"
    >
      <p v-if="!editor.world.snippets?.size" class="px-3 py-1 text-ink-3">
        Words that many captions share stand here once there are some.
      </p>
      <button
        v-for="[name, text] in editor.world.snippets ?? []"
        :key="name"
        class="flex w-full gap-3 px-3 py-1 text-left hover:bg-sea-wash"
        @click="put(name)"
      >
        <span class="shrink-0 font-[650]">{{ name }}</span><span class="ml-auto truncate text-sm text-ink-3">{{
          text
        }}</span>
      </button>
      <button
        class="block w-full border-t border-line px-3 py-1 text-left text-sea hover:bg-sea-wash"
        @click="((looking = true), (open = false))"
      >
        New, or change one …
      </button>
    </div>
    <SnippetsDialog v-if="looking" @close="looking = false" />
  </div>
</template>
