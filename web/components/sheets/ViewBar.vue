<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue';
import { Columns3, Filter, X } from '@lucide/vue';
import { computed, ref } from 'vue';
import type { Group } from '@playa/core/conditions/condition.ts';
import type { Column } from '@playa/core/sheets/column.ts';
import { sheetShape } from '@playa/core/sheets/row-fields.ts';
import type { SheetView } from '@playa/core/sheets/view.ts';
import { fieldsIn } from '@playa/core/shapes/catalogue.ts';
import ConditionGroup from '../form/ConditionGroup.vue';

// How a sheet is looked at: its kept views, a filter, hidden columns, words that are looked for.
const props = defineProps<{
  columns: readonly Column[];
  views: readonly SheetView[];
  /** As it is looked at now. */
  view: SheetView;
  /** The kept view that this began as; empty for the whole sheet. */
  chosen: string;
  search: string;
  shown: number;
  all: number;
}>();
const emit = defineEmits<{
  choose: [name: string];
  change: [view: SheetView];
  search: [words: string];
  keep: [name: string];
  remove: [];
}>();
const EMPTY: Group = { type: 'group', match: 'all', items: [] };
const fields = computed(() =>
  fieldsIn(sheetShape(props.columns)).filter(({ path }) => !/^(id|row|link|outlet\b)/.test(path)),
);
const filter = computed(() => props.view.filter ?? EMPTY);
const kept = computed(() => props.views.find(({ name }) => name === props.chosen));
const changed = computed(() => {
  const before = kept.value ?? { sort: [], filter: null, hidden: [] };
  const of = ({ sort, filter: asked, hidden }: Omit<SheetView, 'name'>) => JSON.stringify([sort, asked, hidden]);
  return of(before) !== of(props.view);
});
const name = ref('');
const setFilter = (group: Group) => emit('change', { ...props.view, filter: group.items.length > 0 ? group : null });
const toggle = (key: string) =>
  emit('change', {
    ...props.view,
    hidden: props.view.hidden.includes(key)
      ? props.view.hidden.filter((each) => each !== key)
      : [...props.view.hidden, key],
  });
function keep(close: () => void) {
  const called = name.value.trim();
  if (!called) return;
  emit('keep', called);
  name.value = '';
  close();
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-2">
    <select
      v-if="views.length"
      class="field max-w-44"
      aria-label="View"
      :value="chosen"
      @change="emit('choose', ($event.target as HTMLSelectElement).value)"
    >
      <option value="">all rows</option>
      <option v-for="each in views" :key="each.name">{{ each.name }}</option>
    </select>
    <input
      type="search"
      class="field w-40"
      placeholder="Find in the rows"
      aria-label="Find in the rows"
      :value="search"
      @input="emit('search', ($event.target as HTMLInputElement).value)"
    />
    <Popover class="relative">
      <PopoverButton class="btn" :class="view.filter && 'text-sea'">
        <Filter :size="14" /> Filter<template v-if="view.filter"> · {{ view.filter.items.length }}</template>
      </PopoverButton>
      <PopoverPanel
        class="absolute z-30 mt-1 w-[min(34rem,88vw)] rounded-(--radius) border border-line bg-card p-3 shadow-lg"
      >
        <p class="mb-2 text-ink-2">Only rows of which this is true:</p>
        <ConditionGroup :group="filter" :fields="fields" :depth="0" path="filter" @change="setFilter" />
      </PopoverPanel>
    </Popover>
    <Popover class="relative">
      <PopoverButton class="btn" :class="view.hidden.length && 'text-sea'">
        <Columns3 :size="14" /> Show<template v-if="view.hidden.length"> · {{ view.hidden.length }} hidden</template>
      </PopoverButton>
      <PopoverPanel class="absolute z-30 mt-1 w-56 rounded-(--radius) border border-line bg-card py-1 shadow-lg">
        <label v-for="column in columns" :key="column.key" class="flex items-center gap-2 px-3 py-1 hover:bg-sea-wash">
          <input type="checkbox" :checked="!view.hidden.includes(column.key)" @change="toggle(column.key)" />
          {{ column.name }}
        </label>
      </PopoverPanel>
    </Popover>
    <Popover v-if="changed" v-slot="{ close }" class="relative">
      <PopoverButton class="btn btn-quiet">Keep this view</PopoverButton>
      <PopoverPanel class="absolute z-30 mt-1 w-64 rounded-(--radius) border border-line bg-card p-3 shadow-lg">
        <form class="flex gap-2" @submit.prevent="keep(close)">
          <input
            v-model="name"
            class="field min-w-0 flex-1"
            maxlength="80"
            :placeholder="kept ? kept.name : 'Ready to go'"
            aria-label="Name of the view"
          />
          <button class="btn btn-main" :disabled="!name.trim()">Keep</button>
        </form>
        <button v-if="kept" class="btn btn-quiet mt-2 px-1" @click="(emit('keep', kept!.name), close())">
          Keep it as “{{ kept.name }}”
        </button>
      </PopoverPanel>
    </Popover>
    <button v-if="kept" class="btn btn-quiet px-1" :aria-label="`Remove the view ${kept.name}`" @click="emit('remove')">
      <X :size="14" />
    </button>
    <span class="text-sm text-ink-3" role="status">{{
      shown === all ? `${all} ${all === 1 ? 'row' : 'rows'}` : `${shown} of ${all} rows`
    }}</span>
  </div>
</template>
