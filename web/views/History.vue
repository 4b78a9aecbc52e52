<script setup lang="ts">
import { DateTime } from 'luxon';
import { computed, onMounted, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import FilterSelect from '../components/form/FilterSelect.vue';
import { sayValues } from '../components/history/values.ts';
import { ABOUT_NAMES, placeOf, sayAbout } from '../components/history/words.ts';
import { api } from '../lib/api.ts';
import type { AuditEntry, AuditPage } from '../lib/types.ts';
import { useSession } from '../stores/session.ts';

// Who did what: people, workflows, and Playa by itself, newest first.
const session = useSession();
const route = useRoute();
const router = useRouter();
const entries = ref<AuditEntry[]>();
const people = ref<AuditPage['people']>([]);
const next = ref<string | null>(null);
const trouble = ref('');
const busy = ref(false);
const text = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '');
/** The filters are in the address, so that a view can be sent to a colleague. */
const set = (name: string, value: string) => router.replace({ query: { ...route.query, [name]: value || undefined } });
const asked = computed(() => {
  const query = new URLSearchParams();
  for (const name of ['about', 'by']) if (text(name)) query.set(name, text(name));
  const day = (name: string) => DateTime.fromISO(text(name), { zone: session.zone });
  if (day('from').isValid) query.set('from', String(day('from').toMillis()));
  if (day('to').isValid) query.set('to', String(day('to').plus({ days: 1 }).toMillis()));
  return query.toString();
});

let turn = 0;
async function load(more = false) {
  const mine = ++turn;
  busy.value = true;
  try {
    const after = more && next.value ? `&after=${next.value}` : '';
    const page = await api<AuditPage>('GET', `${session.at}/audit?${asked.value}${after}`);
    if (mine !== turn) return;
    entries.value = more ? [...(entries.value ?? []), ...page.entries] : page.entries;
    people.value = page.people;
    next.value = page.next;
    trouble.value = '';
  } catch (error) {
    if (mine === turn) trouble.value = (error as Error).message;
  } finally {
    if (mine === turn) busy.value = false;
  }
}
onMounted(load);
watch(asked, () => void load());

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
const filtered = computed(() => asked.value !== '');
</script>

<template>
  <div class="mx-auto max-w-[1080px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <h1 class="mr-auto text-xl">Who did what</h1>
      <FilterSelect label="Who" any="everybody" :value="text('by')" :options="doers" @change="set('by', $event)" />
      <FilterSelect
        label="What"
        any="everything"
        :value="text('about')"
        :options="sorts"
        @change="set('about', $event)"
      />
      <label class="flex items-center gap-1 text-ink-2"
        >from
        <input
          type="date"
          class="field"
          :value="text('from')"
          @change="set('from', ($event.target as HTMLInputElement).value)"
      /></label>
      <label class="flex items-center gap-1 text-ink-2"
        >to
        <input
          type="date"
          class="field"
          :value="text('to')"
          @change="set('to', ($event.target as HTMLInputElement).value)"
      /></label>
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble }} <button class="underline" @click="load()">Try again</button>
    </p>
    <p v-else-if="!entries" class="text-ink-3">Loading …</p>
    <p v-else-if="entries.length === 0" class="sheet px-4 py-6 text-ink-2">
      <template v-if="filtered"
        >Nothing was done that fits.
        <button class="underline" @click="router.replace({ query: {} })">Show everything</button></template
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
                v-if="entry.by && !entry.person"
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
    <button v-if="next" class="btn" :disabled="busy" @click="load(true)">Show more</button>
  </div>
</template>
