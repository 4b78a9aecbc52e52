<script setup lang="ts">
import { computed } from 'vue';
import type { Desk } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import ChooseOne from '../form/ChooseOne.vue';
import { KIND_CHOICES, LANGUAGE_CHOICES, placeChoices, STAR_CHOICES, TONE_CHOICES } from './choices.ts';
import { sayCounted, type DeskFilters } from './desk-filters.ts';

// Which of all that people wrote is shown; what is done to those that are chosen stands at its end.
const props = defineProps<{
  filters: DeskFilters;
  desk: Pick<Desk, 'counts' | 'outlets' | 'labels' | 'members'> | undefined;
}>();
const session = useSession();
const tabs = computed(() => [
  { shelf: 'open', label: 'To answer', count: props.desk?.counts.open },
  { shelf: 'later', label: 'Put off', count: props.desk?.counts.later },
  { shelf: 'answered', label: 'Answered', count: undefined },
  { shelf: 'left', label: 'Left', count: undefined },
]);
const memberChoices = computed(() =>
  (props.desk?.members ?? []).map(({ id, name }) => ({ value: id, name: id === session.user?.id ? 'mine' : name })),
);
/** One that nobody has any more is still what is looked at. */
const labelChoices = computed(() => {
  const asked = props.filters.text('label');
  return [...new Set([...(props.desk?.labels ?? []), ...(asked ? [asked] : [])])].map((label) => ({
    value: label,
    name: label,
  }));
});
</script>

<template>
  <div class="sheet mb-3 flex flex-wrap items-center gap-x-2 gap-y-2 px-3 py-2">
    <div role="radiogroup" aria-label="Which part of the desk" class="flex flex-wrap gap-1">
      <button
        v-for="tab in tabs"
        :key="tab.shelf"
        role="radio"
        :aria-checked="filters.shelf.value === tab.shelf"
        class="rounded-(--radius) px-2 py-1"
        :class="filters.shelf.value === tab.shelf ? 'bg-sea-wash font-[650]' : 'hover:bg-paper'"
        @click="filters.set({ shelf: tab.shelf === 'open' ? '' : tab.shelf })"
      >
        {{ tab.count ? `${tab.label} ${sayCounted(tab.count)}` : tab.label }}
      </button>
    </div>
    <span class="hidden h-5 w-px bg-line sm:block"></span>
    <input
      :value="filters.search.value"
      type="search"
      class="field w-28"
      placeholder="Words, name"
      aria-label="Find words or a name"
      @input="filters.find(($event.target as HTMLInputElement).value)"
    />
    <ChooseOne
      label="Which kind"
      any="every kind"
      :options="KIND_CHOICES"
      :value="filters.text('kind')"
      @change="filters.set({ kind: $event })"
    />
    <ChooseOne
      class="max-w-32"
      label="Which place"
      any="every place"
      :options="placeChoices(desk?.outlets)"
      :value="filters.text('outlet')"
      @change="filters.set({ outlet: $event })"
    />
    <ChooseOne
      label="How many stars"
      any="any stars"
      :options="STAR_CHOICES"
      :value="filters.text('stars')"
      @change="filters.set({ stars: $event })"
    />
    <ChooseOne
      label="How it sounds"
      any="any tone"
      :options="TONE_CHOICES"
      :value="filters.text('tone')"
      @change="filters.set({ tone: $event })"
    />
    <ChooseOne
      label="Which language"
      any="any language"
      :options="LANGUAGE_CHOICES"
      :value="filters.text('language')"
      @change="filters.set({ language: $event })"
    />
    <ChooseOne
      label="Who has it"
      any="anyone’s"
      :options="memberChoices"
      :value="filters.text('assigned')"
      @change="filters.set({ assigned: $event })"
    />
    <ChooseOne
      v-if="labelChoices.length"
      class="max-w-28"
      label="Which label"
      any="any label"
      :options="labelChoices"
      :value="filters.text('label')"
      @change="filters.set({ label: $event })"
    />
    <span class="ml-auto flex flex-wrap gap-2"><slot /></span>
  </div>
</template>
