<script setup lang="ts">
import { computed } from 'vue';
import { fieldInfo } from '@playa/core/shapes/catalogue.ts';
import type { ShapeType } from '@playa/core/shapes/shape.ts';
import { useEditor } from '../../stores/editor.ts';

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
const known = computed(() => [...own.value, ...made.value].some((field) => field.path === props.field));
</script>

<template>
  <select
    class="field max-w-60"
    :aria-label="label"
    :value="field"
    :data-bench-first="first ? '' : undefined"
    @change="emit('change', ($event.target as HTMLSelectElement).value)"
  >
    <option v-if="none !== undefined" value="">{{ none }}</option>
    <option v-else-if="field === ''" value="" disabled>choose a field</option>
    <option v-if="field && !known" :value="field">{{ fieldInfo(field).label }}</option>
    <optgroup label="Of the item">
      <option v-for="each in own" :key="each.path" :value="each.path">{{ each.label }}</option>
    </optgroup>
    <optgroup v-if="made.length" label="Made by earlier steps">
      <option v-for="each in made" :key="each.path" :value="each.path">{{ each.label }}</option>
    </optgroup>
  </select>
</template>
