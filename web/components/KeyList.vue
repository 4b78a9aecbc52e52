<script setup lang="ts">
import ModalDialog from './form/ModalDialog.vue';

defineEmits<{ close: [] }>();
const groups = [
  {
    name: 'Everywhere',
    keys: [
      ['Ctrl or ⌘ K', 'find or do anything'],
      ['?', 'these keys'],
      ['Escape', 'back, close'],
    ],
  },
  {
    name: 'On a run sheet',
    keys: [
      ['Arrows', 'from cell to cell'],
      ['Enter', 'edit the step'],
      ['Escape', 'back to the sheet'],
      ['A', 'add a step below'],
      ['X', 'switch the step off or on'],
      ['Alt ↑ ↓', 'move the step'],
      ['Ctrl or ⌘ D', 'double the step'],
      ['Delete', 'remove the step'],
      ['[ and ]', 'previous and next item with a problem'],
      ['Ctrl or ⌘ Z', 'undo; with Shift, redo'],
    ],
  },
];
</script>

<template>
  <ModalDialog title="Keys" @close="$emit('close')">
    <div class="grid gap-4">
      <section v-for="group in groups" :key="group.name">
        <h3 class="mb-1">{{ group.name }}</h3>
        <dl class="grid grid-cols-[9rem_1fr] gap-y-1">
          <template v-for="[key, does] in group.keys" :key="key"
            ><dt class="font-[550]">{{ key }}</dt>
            <dd class="text-ink-2">{{ does }}</dd></template
          >
        </dl>
      </section>
    </div>
    <template #actions>
      <button class="btn" @click="$emit('close')">Close</button>
    </template>
  </ModalDialog>
</template>
