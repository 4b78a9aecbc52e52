<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue';
import { ref } from 'vue';
import { useFocusBack } from '../../lib/focus-back.ts';

// The one dialog: its title, what it is about (that scrolls), and what can be done (that stays in sight). The focus is
// kept inside and given back to where it came from. Escape and a click beside it close it, unless something was typed
// that is not kept yet: then it asks first.
const props = withDefaults(
  defineProps<{
    title: string;
    width?: keyof typeof WIDTHS;
    /** Something is being done that closing would not stop. */
    busy?: boolean;
    /** Something was typed that closing would lose. */
    unsaved?: boolean;
  }>(),
  { width: 'middle' },
);
const emit = defineEmits<{ close: [] }>();
const WIDTHS = {
  small: 'max-w-md',
  middle: 'max-w-xl',
  large: 'max-w-3xl',
  huge: 'max-w-5xl',
} as const;
const asking = ref(false);
useFocusBack();

function leave() {
  if (props.busy) return;
  if (props.unsaved && !asking.value) asking.value = true;
  else if (!props.unsaved) emit('close');
}
</script>

<template>
  <Dialog :open="true" class="fixed inset-0 z-40 grid place-items-center bg-ink/40 p-4" @close="leave">
    <DialogPanel
      class="sheet flex max-h-[min(90vh,calc(100dvh-2rem))] w-full flex-col overflow-hidden shadow-xl"
      :class="WIDTHS[width]"
    >
      <div class="min-h-0 overflow-auto p-5">
        <DialogTitle class="flex items-center gap-2 text-lg font-[650]"><slot name="icon" />{{ title }}</DialogTitle>
        <slot />
      </div>
      <div
        v-if="asking && unsaved"
        class="flex flex-wrap items-center justify-end gap-2 border-t border-line bg-amber-wash px-5 py-3"
        role="alert"
      >
        <span class="mr-auto">What you changed is not kept yet.</span>
        <button type="button" class="btn" @click="emit('close')">Throw it away</button>
        <button type="button" class="btn btn-main" @click="asking = false">Go on</button>
      </div>
      <div
        v-else-if="$slots.actions"
        class="flex flex-wrap items-center justify-end gap-2 border-t border-line bg-paper-2 px-5 py-3"
      >
        <!-- leave: as Escape does it, for a button that says neither that what was typed is kept nor that it is not. -->
        <slot name="actions" :leave="leave" />
      </div>
    </DialogPanel>
  </Dialog>
</template>
