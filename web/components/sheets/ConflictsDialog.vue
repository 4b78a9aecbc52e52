<script setup lang="ts">
import { sayCell, type Cell } from '@playa/core/sheets/cell.ts';
import type { EditConflict } from '../../lib/types.ts';
import type { OpenSheet } from './use-sheet.ts';
import ModalDialog from '../form/ModalDialog.vue';

// Somebody else has changed what one wrote over: both are shown, and one of them is chosen for each.
const props = defineProps<{ open: OpenSheet }>();
const columnOf = (key: string) => props.open.columns.value.find((column) => column.key === key);
const textOf = (key: string, value: unknown) => {
  const column = columnOf(key);
  return (column && sayCell(column, value as Cell, props.open.context.value)) || 'nothing';
};
const gone = (conflict: EditConflict) => !props.open.rows.value.has(conflict.row);
const settleAll = (mine: boolean) => {
  for (const conflict of [...props.open.conflicts.value]) props.open.settle(conflict, mine && !gone(conflict));
};
</script>

<template>
  <ModalDialog title="Somebody else was faster" @close="settleAll(false)">
    <p class="text-ink-2">What they wrote stands there now. Yours is kept here until you choose.</p>
    <div
      v-for="conflict in open.conflicts.value"
      :key="`${conflict.row}.${conflict.key}`"
      class="mt-3 border-t border-line pt-3"
    >
      <p class="text-sm text-ink-2">{{ columnOf(conflict.key)?.name ?? conflict.key }}</p>
      <template v-if="gone(conflict)">
        <p>
          {{ conflict.by ?? 'Somebody' }} has deleted the row. You wrote: {{ textOf(conflict.key, conflict.wanted) }}
        </p>
        <button class="btn mt-1" @click="open.settle(conflict, false)">Leave it deleted</button>
      </template>
      <div v-else class="mt-1 grid grid-cols-2 gap-2">
        <button
          class="rounded-(--radius) border border-line p-2 text-left hover:border-sea"
          @click="open.settle(conflict, false)"
        >
          <span class="block text-sm text-ink-3">{{ conflict.by ?? 'Theirs' }}</span>
          {{ textOf(conflict.key, conflict.now) }}
          <span class="mt-1 block text-sea">Leave this</span>
        </button>
        <button
          class="rounded-(--radius) border border-line p-2 text-left hover:border-sea"
          @click="open.settle(conflict, true)"
        >
          <span class="block text-sm text-ink-3">Yours</span>
          {{ textOf(conflict.key, conflict.wanted) }}
          <span class="mt-1 block text-sea">Write this over it</span>
        </button>
      </div>
    </div>
  </ModalDialog>
</template>
