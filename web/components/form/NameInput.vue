<script setup lang="ts">
import { ref } from 'vue';
import FormRow from './FormRow.vue';
import KeptInput from './KeptInput.vue';

// What later steps call what a step makes. It can stand in a wording, so it has no spaces: those become strokes below.
const props = defineProps<{ name: string; what: string }>();
const emit = defineEmits<{ change: [name: string] }>();
const refused = ref('');
function typed(event: Event) {
  const input = event.target as HTMLInputElement;
  const name = input.value.trim().replace(/\s+/g, '_');
  refused.value = '';
  if (/^\p{L}[\p{L}\p{N}_-]{0,39}$/u.test(name)) return emit('change', name);
  refused.value = `“${input.value}” cannot be a name: it takes letters, figures, - and _, begins with a letter, and has at most 40 of them.`;
  input.value = props.name;
}
</script>

<template>
  <FormRow label="Called" :hint="refused ? '' : `Later steps know ${what} by this name.`">
    <KeptInput class="field w-36" :aria-label="`Name of ${what}`" :value="name" @change="typed" />
    <p v-if="refused" role="alert" class="w-full text-sm text-rose">{{ refused }}</p>
  </FormRow>
</template>
