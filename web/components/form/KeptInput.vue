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
watch(
  () => props.value,
  () => (typed.value = null),
);
function left(event: Event) {
  const input = event.target as HTMLInputElement;
  emit('change', event);
  // Whoever refuses the words puts the old ones back.
  typed.value = input.value === String(props.value) ? null : input.value;
}
</script>

<template>
  <component
    :is="lines ? 'textarea' : 'input'"
    :value="typed ?? value"
    @input="typed = ($event.target as HTMLInputElement).value"
    @change="left"
  />
</template>
