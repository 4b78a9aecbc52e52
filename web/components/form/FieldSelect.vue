<script setup lang="ts">
import { computed } from 'vue';
import { fieldInfo } from '@playa/core/shapes/catalogue.ts';
import type { ShapeType } from '@playa/core/shapes/shape.ts';
import { useEditor } from '../../stores/editor.ts';
import ChooseOne from './ChooseOne.vue';

// A field of the items, or one that earlier steps have made.
const props = defineProps<{
  field: string;
  label: string;
  /** Only fields of these types; all without. */
  types?: readonly ShapeType[];
  /** What choosing nothing is called; without it something has to be chosen. */
  none?: string;
  first?: boolean;
}>();
const emit = defineEmits<{ change: [field: string] }>();
const editor = useEditor();
const fits = (type: ShapeType) => !props.types || props.types.includes(type);
const own = computed(() => editor.fields.filter((field) => fits(field.type)));
const made = computed(() => editor.made.filter((field) => fits(field.type)));
const choices = computed(() => [
  ...own.value.map(({ path, label }) => ({ value: path, name: label, group: 'Of the item' })),
  ...made.value.map(({ path, label }) => ({ value: path, name: label, group: 'Made by earlier steps' })),
]);
</script>

<template>
  <ChooseOne
    class="max-w-60"
    :label="label"
    :value="field"
    :options="choices"
    :any="none"
    prompt="choose a field"
    :gone="field && fieldInfo(field).label"
    :first="first"
    @change="emit('change', $event)"
  />
</template>
