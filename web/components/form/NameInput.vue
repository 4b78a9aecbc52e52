<script setup lang="ts">
import FormRow from './FormRow.vue';
import KeptInput from './KeptInput.vue';

// What later steps call what a step makes. It can stand in a wording, so it has no spaces.
const props = defineProps<{ name: string; what: string }>();
const emit = defineEmits<{ change: [name: string] }>();
function typed(event: Event) {
  const input = event.target as HTMLInputElement;
  const name = input.value.trim();
  if (/^\p{L}[\p{L}\p{N}_-]{0,39}$/u.test(name)) emit('change', name);
  else input.value = props.name;
}
</script>

<template>
  <FormRow label="Called" :hint="`Later steps know ${what} by this name.`">
    <KeptInput class="field w-36" :aria-label="`Name of ${what}`" :value="name" @change="typed" />
  </FormRow>
</template>
