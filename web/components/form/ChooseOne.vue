<script setup lang="ts">
import { Check, ChevronDown } from '@lucide/vue';
import {
  ComboboxAnchor,
  ComboboxContent,
  ComboboxEmpty,
  ComboboxGroup,
  ComboboxInput,
  ComboboxItem,
  ComboboxItemIndicator,
  ComboboxLabel,
  ComboboxRoot,
  ComboboxTrigger,
  ComboboxViewport,
} from 'reka-ui';
import { computed, ref, watch } from 'vue';

// One of several things. A few are a plain select, which every device shows its own way; of many one types a part of the
// name. What is chosen is a text; empty for none.
export interface Option {
  value: string | number;
  name: string;
  /** Under which heading it stands. */
  group?: string | undefined;
  /** It is there to be seen, and cannot be chosen. */
  disabled?: boolean | undefined;
}
const props = defineProps<{
  value: string | number | null | undefined;
  /** For those who do not see it. */
  label: string;
  options: readonly Option[];
  /** What is said where nothing is chosen, which then can be chosen; left out where something has to be. */
  any?: string;
  /** What is said where something has to be chosen and is not yet. */
  prompt?: string;
  /** How what is chosen is called where it is among the options no longer. */
  gone?: string;
  /** Whether it is the first field of the bench, which gets the focus. */
  first?: boolean;
}>();
const emit = defineEmits<{ change: [value: string] }>();
/** So many are seen at once. */
const FEW = 10;
/** Nothing, among options that must be something. */
const NONE = 'none of them';
const chosen = computed(() => (props.value === null || props.value === undefined ? '' : String(props.value)));
const known = computed(() => props.options.some(({ value }) => String(value) === chosen.value));
const missing = computed(() => (chosen.value !== '' && !known.value ? (props.gone ?? chosen.value) : null));
const groups = computed(() => {
  const found = new Map<string, Option[]>();
  for (const option of props.options) {
    const group = option.group ?? '';
    found.set(group, [...(found.get(group) ?? []), option]);
  }
  return [...found];
});
const nameOf = (value: unknown) =>
  value === '' || value === NONE || value === null || value === undefined
    ? (props.any ?? '')
    : (props.options.find((option) => String(option.value) === value)?.name ?? missing.value ?? '');
const open = ref(false);
/** Grows when what is chosen is called otherwise than before: the field shows what it was once told. */
const renamed = ref(0);
watch([chosen, () => nameOf(chosen.value)], ([value, name], [before, called]) => {
  if (value === before && name !== called) renamed.value++;
});
function take(value: unknown) {
  const text = value === NONE ? '' : value;
  if (typeof text === 'string' && text !== chosen.value) emit('change', text);
}
function close(event: KeyboardEvent) {
  if (!open.value) return;
  // A dialog around it stays open.
  event.preventDefault();
  event.stopPropagation();
  open.value = false;
}
</script>

<template>
  <select
    v-if="options.length <= FEW"
    class="field"
    :aria-label="label"
    :value="chosen"
    :data-bench-first="first ? '' : undefined"
    @change="emit('change', ($event.target as HTMLSelectElement).value)"
  >
    <option v-if="any !== undefined" value="">{{ any }}</option>
    <option v-else-if="chosen === ''" value="" disabled>{{ prompt ?? 'choose' }}</option>
    <option v-if="missing !== null" :value="chosen">{{ missing }}</option>
    <template v-for="[group, all] in groups" :key="group">
      <optgroup v-if="group" :label="group">
        <option v-for="option in all" :key="option.value" :value="String(option.value)" :disabled="option.disabled">
          {{ option.name }}
        </option>
      </optgroup>
      <template v-else>
        <option v-for="option in all" :key="option.value" :value="String(option.value)" :disabled="option.disabled">
          {{ option.name }}
        </option>
      </template>
    </template>
  </select>
  <ComboboxRoot
    v-else
    :key="renamed"
    v-model:open="open"
    :model-value="chosen === '' && any !== undefined ? NONE : chosen"
    open-on-click
    class="inline-flex min-w-0 align-middle"
    @update:model-value="take"
    @keydown.escape.capture="close"
  >
    <ComboboxAnchor
      class="field flex w-full min-w-0 items-center gap-1 focus-within:outline-2 focus-within:outline-sea"
    >
      <ComboboxInput
        :aria-label="label"
        :display-value="nameOf"
        :placeholder="any ?? prompt ?? 'choose'"
        class="min-w-0 flex-1 bg-transparent text-ellipsis outline-none placeholder:text-ink-3"
        :data-bench-first="first ? '' : undefined"
        autocomplete="off"
        size="14"
        spellcheck="false"
        @focus="($event.target as HTMLInputElement).select()"
      />
      <ComboboxTrigger tabindex="-1" class="text-ink-3 hover:text-ink" :aria-label="`${label}: show all`">
        <ChevronDown :size="15" />
      </ComboboxTrigger>
    </ComboboxAnchor>
    <!-- Not moved to the end of the page: a dialog would take it for something beside it. -->
    <ComboboxContent
      position="popper"
      position-strategy="fixed"
      align="start"
      :side-offset="4"
      class="sheet z-50 max-h-80 min-w-(--reka-combobox-trigger-width) max-w-[min(26rem,95vw)] overflow-auto shadow-xl"
    >
      <ComboboxViewport class="p-1">
        <ComboboxEmpty class="px-2 py-1 text-ink-3">Nothing is called so.</ComboboxEmpty>
        <ComboboxItem
          v-if="any !== undefined"
          :value="NONE"
          :text-value="any"
          class="flex cursor-pointer items-center gap-2 rounded-[5px] px-2 py-1 text-ink-2 data-[highlighted]:bg-sea-wash"
        >
          <span class="min-w-0 flex-1">{{ any }}</span>
          <ComboboxItemIndicator><Check :size="14" /></ComboboxItemIndicator>
        </ComboboxItem>
        <ComboboxGroup v-for="[group, all] in groups" :key="group">
          <ComboboxLabel v-if="group" class="px-2 pt-2 pb-0.5 text-sm text-ink-3">{{ group }}</ComboboxLabel>
          <ComboboxItem
            v-for="option in all"
            :key="option.value"
            :value="String(option.value)"
            :text-value="option.name"
            :disabled="option.disabled"
            class="flex cursor-pointer items-center gap-2 rounded-[5px] px-2 py-1 data-[disabled]:cursor-default data-[disabled]:text-ink-3 data-[highlighted]:bg-sea-wash"
          >
            <span class="min-w-0 flex-1">{{ option.name }}</span>
            <ComboboxItemIndicator><Check :size="14" /></ComboboxItemIndicator>
          </ComboboxItem>
        </ComboboxGroup>
      </ComboboxViewport>
    </ComboboxContent>
  </ComboboxRoot>
</template>
