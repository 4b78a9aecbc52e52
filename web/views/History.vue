<script setup lang="ts">
import { DateTime } from 'luxon';
import { computed } from 'vue';
import DayRange from '../components/form/DayRange.vue';
import ChooseOne from '../components/form/ChooseOne.vue';
import { sayValues } from '../components/history/values.ts';
import { ABOUT_NAMES, placeOf, sayAbout } from '../components/history/words.ts';
import { daysBetween, useFilters } from '../lib/filters.ts';
import type { AuditEntry } from '../lib/types.ts';
import { usePages } from '../stores/resource.ts';
import { useSession } from '../stores/session.ts';

// Who did what: people, workflows, and Playa by itself, newest first.
const session = useSession();
/** Asked of the server by their own names. */
const { text, set, asked: chosen, clear } = useFilters<'readAudit'>(['about', 'by']);
const asked = computed(() => ({ ...chosen.value, ...daysBetween(text('from'), text('to'), session.zone) }));
const { data, trouble, busy, load, more, further } = usePages('readAudit', () => ({ brand: session.brandId }), {
  query: asked,
});
const entries = computed(() => data.value?.flatMap((page) => page.entries));
const people = computed(() => data.value?.[0]?.people ?? []);

const days = computed(() => {
  const by = new Map<string, AuditEntry[]>();
  for (const entry of entries.value ?? []) {
    const day = DateTime.fromMillis(entry.at, { zone: session.zone }).toFormat('cccc, d LLLL yyyy');
    by.set(day, [...(by.get(day) ?? []), entry]);
  }
  return [...by];
});
const time = (entry: AuditEntry) => DateTime.fromMillis(entry.at, { zone: session.zone }).toFormat('HH:mm');
const sorts = Object.entries(ABOUT_NAMES).map(([value, name]) => ({ value, name }));
const doers = computed(() => [
  ...people.value.map(({ id, name }) => ({ value: id, name })),
  { value: 'workflows', name: 'workflows' },
  { value: 'playa', name: 'Playa by itself' },
]);
const filtered = computed(() => Object.keys(asked.value).length > 0);
</script>

<template>
  <div class="mx-auto max-w-[1080px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <h1 class="mr-auto text-xl">Who did what</h1>
      <ChooseOne label="Who" any="everybody" :value="text('by')" :options="doers" @change="set({ by: $event })" />
      <ChooseOne
        label="What"
        any="everything"
        :value="text('about')"
        :options="sorts"
        @change="set({ about: $event })"
      />
      <DayRange :from="text('from')" :to="text('to')" @change="set($event)" />
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble }} <button class="underline" @click="load()">Try again</button>
    </p>
    <p v-else-if="!entries" class="text-ink-3">Loading …</p>
    <p v-else-if="entries.length === 0" class="sheet px-4 py-6 text-ink-2">
      <template v-if="filtered"
        >Nothing was done that fits. <button class="underline" @click="clear()">Show everything</button></template
      >
      <template v-else
        >Nothing was done yet. What colleagues, workflows and Playa itself do from now on is written down
        here.</template
      >
    </p>
    <section v-for="[day, list] in days" :key="day" class="mb-4" :aria-label="day">
      <h2 class="mb-1 text-sm font-[650] text-ink-2">{{ day }}</h2>
      <ul class="sheet">
        <li
          v-for="entry in list"
          :key="entry.id"
          class="grid grid-cols-[3.25rem_minmax(0,1fr)] gap-x-2 border-b border-line px-3 py-1.5 last:border-0"
        >
          <span class="text-ink-3 tabular-nums">{{ time(entry) }}</span>
          <div class="min-w-0">
            <p>
              <b class="font-[650]">{{ entry.by ?? 'Playa' }}</b><span
                v-if="entry.by && !entry.byUser"
                class="text-ink-3"
              >
                (workflow)</span
              >
              {{ entry.did }} <span class="text-ink-3">·</span> {{ sayAbout(entry) }}
              <RouterLink v-if="entry.name && placeOf(entry, session.brandId)" :to="placeOf(entry, session.brandId)!">{{
                entry.name
              }}</RouterLink>
              <RouterLink
                v-else-if="placeOf(entry, session.brandId)"
                :to="placeOf(entry, session.brandId)!"
                class="underline"
                >show it</RouterLink
              >
              <template v-else-if="entry.name">{{ entry.name }}</template>
            </p>
            <dl v-if="sayValues(entry).was !== null || sayValues(entry).became !== null" class="text-sm text-ink-2">
              <div v-if="sayValues(entry).was !== null" class="flex gap-2">
                <dt class="w-14 shrink-0 text-ink-3">before</dt>
                <dd class="line-clamp-3 min-w-0 break-words">{{ sayValues(entry).was }}</dd>
              </div>
              <div v-if="sayValues(entry).became !== null" class="flex gap-2">
                <dt v-if="sayValues(entry).was !== null" class="w-14 shrink-0 text-ink-3">then</dt>
                <dt v-else class="sr-only">now</dt>
                <dd class="line-clamp-3 min-w-0 break-words">{{ sayValues(entry).became }}</dd>
              </div>
            </dl>
          </div>
        </li>
      </ul>
    </section>
    <button v-if="more" class="btn" :disabled="busy" @click="further">Show more</button>
  </div>
</template>
