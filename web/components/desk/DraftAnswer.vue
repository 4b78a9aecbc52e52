<script setup lang="ts">
import { ChevronLeft, ChevronRight, PenLine } from '@lucide/vue';
import { computed, ref, watch } from 'vue';
import { call, Refused } from '../../lib/api.ts';
import type { DeskEntry } from '../../lib/types.ts';
import { useBrandHere } from '../../stores/brand-here.ts';

// Drafts of a text model for one entry, in the brand's voice. What somebody has typed stays among them.
const props = defineProps<{ entry: DeskEntry; text: string }>();
const emit = defineEmits<{ text: [text: string] }>();
const here = useBrandHere();

interface Draft {
  text: string;
  faults: readonly string[];
  /** Whose words they are. */
  from: string;
}
const drafts = ref<Draft[]>([]);
const at = ref(0);
const hint = ref('');
const busy = ref(false);
const trouble = ref('');
/** Whether connecting an account would mend it. */
const unconnected = ref(false);
/** What stands in the field is one of them, as it was drafted. */
const shown = computed(() => drafts.value.find(({ text }) => text === props.text));
watch(
  () => props.entry.itemId,
  () => {
    drafts.value = [];
    trouble.value = hint.value = '';
  },
);

async function draft() {
  if (busy.value) return;
  busy.value = true;
  trouble.value = '';
  unconnected.value = false;
  const { itemId } = props.entry;
  const before = props.text;
  try {
    const count = drafts.value.length;
    const body = { instruction: hint.value.trim(), before: count };
    const made = await call('draftAnswer', { brand: here.id.value, item: itemId }, { body });
    if (itemId !== props.entry.itemId) return;
    if (before.trim() !== '' && !drafts.value.some(({ text }) => text === before))
      drafts.value.push({ text: before, faults: [], from: 'as it was' });
    if (!drafts.value.some(({ text }) => text === made.text))
      drafts.value.push({ text: made.text, faults: made.faults ?? [], from: made.model });
    // What was typed while it was drafted is worth more than a draft; it is one step back.
    if (props.text === before) show(drafts.value.findIndex(({ text }) => text === made.text));
  } catch (error) {
    trouble.value = (error as Error).message;
    unconnected.value = error instanceof Refused && error.details.why === 'no-text-model';
  } finally {
    busy.value = false;
  }
}
function show(index: number) {
  const found = drafts.value[index];
  if (!found) return;
  at.value = index;
  emit('text', found.text);
}
defineExpose({ draft });
</script>

<template>
  <div class="mt-1 grid gap-1 text-sm">
    <div class="flex flex-wrap items-center gap-1.5">
      <button class="btn py-0.5" title="D" :disabled="busy" @click="draft">
        <PenLine :size="13" /> {{ busy ? 'Drafting …' : drafts.length ? 'Draft again' : 'Draft' }}
      </button>
      <input
        v-model="hint"
        class="field min-w-0 flex-1 py-0.5"
        maxlength="2000"
        placeholder="what it should say, if you like"
        :aria-label="`What the draft for ${entry.contact.name} should say`"
        @keydown.enter.prevent.stop="draft"
      />
      <span v-if="drafts.length > 1" class="flex items-center" role="group" aria-label="Drafts">
        <button
          class="btn btn-quiet px-1 py-0.5"
          aria-label="The draft before"
          :disabled="at === 0"
          @click="show(at - 1)"
        >
          <ChevronLeft :size="14" />
        </button>
        <span class="tabular-nums">{{ at + 1 }} of {{ drafts.length }}</span>
        <button
          class="btn btn-quiet px-1 py-0.5"
          aria-label="The next draft"
          :disabled="at === drafts.length - 1"
          @click="show(at + 1)"
        >
          <ChevronRight :size="14" />
        </button>
      </span>
    </div>
    <p v-if="trouble" role="alert" class="text-rose">
      {{ trouble }}
      <RouterLink v-if="unconnected" class="underline" :to="{ name: 'accounts', params: { brand: here.id.value } }"
        >Accounts</RouterLink
      >
    </p>
    <p v-else-if="shown?.faults.length" role="status" class="text-amber">
      Look at it before it goes: {{ shown.faults.join('; ') }}.
    </p>
    <p v-else-if="shown" role="status" class="text-ink-3">Drafted: {{ shown.from }}</p>
  </div>
</template>
