<script setup lang="ts">
import { TimeFieldInput, TimeFieldRoot } from 'reka-ui';
import { computed } from 'vue';
import { dateLocale, textOfTime, timeOf } from '../../lib/date-values.ts';
import { useSession } from '../../stores/session.ts';
import { useTyped } from './typed-value.ts';

// A time of day, typed part by part or moved by the arrows. What it holds is a text: "18:30".
const props = defineProps<{
  modelValue: string;
  /** What it is, for those who do not see it. */
  label: string;
}>();
const emit = defineEmits<{
  /** At once, with every part that is typed; empty as long as a part is missing. */
  'update:modelValue': [text: string];
  /** Once it is left or Enter is pressed: when it has changed since. */
  change: [text: string];
}>();
const session = useSession();
const locale = computed(() => dateLocale(session.brand?.locale));
const { typed, type, focused, left, settle } = useTyped(
  () => props.modelValue,
  (text) => emit('update:modelValue', text),
  (text) => emit('change', text),
);
</script>

<template>
  <TimeFieldRoot
    v-slot="{ segments }"
    :model-value="timeOf(typed) ?? null"
    granularity="minute"
    :hour-cycle="24"
    :locale="locale"
    class="field inline-flex items-center py-0.5 whitespace-nowrap tabular-nums focus-within:outline-2 focus-within:outline-sea"
    role="group"
    :aria-label="label"
    :data-value="typed"
    @update:model-value="type(textOfTime($event))"
    @focusin="focused"
    @focusout="left"
    @keydown.enter="settle"
  >
    <template v-for="segment in segments" :key="segment.part">
      <TimeFieldInput v-if="segment.part === 'literal'" :part="segment.part" class="text-ink-3">{{
        segment.value
      }}</TimeFieldInput>
      <TimeFieldInput
        v-else
        :part="segment.part"
        class="min-w-6 rounded-[3px] px-px py-0.5 text-center outline-none focus:bg-sea-wash focus:text-sea data-[placeholder]:text-ink-3"
        >{{ segment.value }}</TimeFieldInput
      >
    </template>
  </TimeFieldRoot>
</template>
