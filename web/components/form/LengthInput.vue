<script setup lang="ts">
import { ref, watch } from 'vue';
import { readLength, spokenLength } from '@playa/core/text/durations.ts';

// A length as people type it: "2 min", "1:30", "90 s".
const props = defineProps<{ seconds: number; label?: string }>();
const emit = defineEmits<{ change: [seconds: number] }>();
const text = ref(spokenLength(props.seconds));
const wrong = ref(false);
watch(
  () => props.seconds,
  (seconds) => {
    if (readLength(text.value) !== seconds) text.value = spokenLength(seconds);
  },
);
function typed() {
  const seconds = readLength(text.value);
  wrong.value = seconds === undefined;
  if (seconds !== undefined && seconds !== props.seconds) emit('change', seconds);
}
</script>

<template>
  <span>
    <input
      v-model="text"
      class="field w-28"
      :class="wrong && 'border-rose'"
      :aria-label="label ?? 'Compared with'"
      :aria-invalid="wrong"
      @input="typed"
      @blur="!wrong && (text = spokenLength(seconds))"
    />
    <span v-if="wrong" class="ml-1 text-sm text-rose">write 2 min, 1:30 or 90 s</span>
  </span>
</template>
