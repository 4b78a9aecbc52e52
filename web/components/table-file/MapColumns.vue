<script setup lang="ts">
import ChooseOne from '../form/ChooseOne.vue';

// What each column of a file is here. One that is chosen for another is that of no other any more.
const props = defineProps<{
  /** The headings of the file, in order. */
  header: readonly string[];
  /** What each is here; null for one that is left out. */
  map: readonly (string | null)[];
  choices: readonly { value: string; name: string }[];
  /** Asks for a column by its name, for those who do not see where it stands. */
  label: (heading: string) => string;
}>();
const emit = defineEmits<{ change: [map: (string | null)[]] }>();
const headingOf = (place: number) => props.header[place] || `column ${place + 1}`;
function choose(place: number, chosen: string) {
  const value = chosen || null;
  emit(
    'change',
    props.map.map((each, index) => (index === place ? value : each === value ? null : each)),
  );
}
</script>

<template>
  <div class="mt-1 grid gap-x-6 gap-y-1 sm:grid-cols-2">
    <label v-for="(_, place) in header" :key="place" class="flex items-center gap-2">
      <span class="min-w-0 flex-1 truncate" :title="headingOf(place)">{{ headingOf(place) }}</span>
      <span aria-hidden="true" class="text-ink-3">→</span>
      <ChooseOne
        class="w-44"
        :label="label(headingOf(place))"
        any="left out"
        :options="choices"
        :value="map[place]"
        @change="choose(place, $event)"
      />
    </label>
  </div>
</template>
