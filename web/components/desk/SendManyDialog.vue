<script setup lang="ts">
import ModalDialog from '../form/ModalDialog.vue';
import type { BrandEntry } from './use-desk.ts';

// Many answers at once: all of them are shown before they go.
defineProps<{ entries: readonly BrandEntry[]; textOf: (entry: BrandEntry) => string }>();
const emit = defineEmits<{ close: []; send: [] }>();
</script>

<template>
  <ModalDialog
    :title="`Send ${entries.length === 1 ? 'one answer' : `${entries.length} answers`}?`"
    @close="emit('close')"
  >
    <ul class="mt-2 rounded-(--radius) bg-paper px-3 py-2">
      <li v-for="entry in entries" :key="entry.itemId" class="border-b border-line py-1.5 last:border-0">
        <b>{{ entry.contact.name }}</b> <span class="text-ink-3">{{ entry.outlet }}</span>
        <span class="block break-words">{{ textOf(entry) }}</span>
      </li>
    </ul>
    <template #actions>
      <button class="btn" @click="emit('close')">Cancel</button>
      <button class="btn btn-main" @click="emit('send')">Send {{ entries.length }}</button>
    </template>
  </ModalDialog>
</template>
