<script setup lang="ts">
import { ref, watch } from 'vue';

// A field whose words count once it is left. News that come meanwhile draw the screen anew; what was typed stays.
const props = defineProps<{
  value: string | number;
  /** For words on several lines. */
  lines?: boolean;
}>();
const emit = defineEmits<{ change: [event: Event] }>();
const typed = ref<string | null>(null);
const input = ref<HTMLInputElement>();
// What somebody is typing stays, whatever a colleague made of the value meanwhile.
watch(
  () => props.value,
  () => {
    if (document.activeElement !== input.value) typed.value = null;
  },
);
function left(event: Event) {
  const { value } = event.target as HTMLInputElement;
  emit('change', event);
  // Whoever refuses the words puts the old ones back.
  typed.value = value === String(props.value) ? null : value;
}
</script>

<template>
  <component
    :is="lines ? 'textarea' : 'input'"
    ref="input"
    :value="typed ?? value"
    @input="typed = ($event.target as HTMLInputElement).value"
    @change="left"
  />
</template>
