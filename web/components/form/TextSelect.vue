<script setup lang="ts">
import { computed } from 'vue';
import { useEditor } from '../../stores/editor.ts';

// One of the texts that earlier steps have composed, drafted or gathered.
const props = defineProps<{ text: string; label: string; none?: string }>();
const emit = defineEmits<{ change: [text: string] }>();
const editor = useEditor();
const names = computed(() => [...new Set([...editor.texts, ...(props.text ? [props.text] : [])])]);
</script>

<template>
  <select
    class="field"
    :aria-label="label"
    :value="text"
    @change="emit('change', ($event.target as HTMLSelectElement).value)"
  >
    <option v-if="none !== undefined" value="">{{ none }}</option>
    <option v-for="name in names" :key="name" :value="name">{{ name }}</option>
    <option v-if="names.length === 0 && none === undefined" value="" disabled>compose a text above first</option>
  </select>
</template>
