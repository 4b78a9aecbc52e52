<script setup lang="ts">
import {
  Listbox,
  ListboxButton,
  ListboxOption,
  ListboxOptions,
  Menu,
  MenuButton,
  MenuItem,
  MenuItems,
} from '@headlessui/vue';
import { ChevronDown, Search } from '@lucide/vue';
import { onKeyStroke } from '@vueuse/core';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { cutGraphemes } from '@playa/core/text/graphemes.ts';
import { useSession } from '../stores/session.ts';
import { sayCount, useWaiting } from '../stores/waiting.ts';

const FindOrDo = defineAsyncComponent(() => import('./FindOrDo.vue'));
const KeyList = defineAsyncComponent(() => import('./KeyList.vue'));

const session = useSession();
const waiting = useWaiting();
const toAnswer = (brand: number) => sayCount(waiting.counts.value.get(brand));
const route = useRoute();
const router = useRouter();
const finding = ref(false);
const keys = ref(false);
const initials = computed(() =>
  (session.user?.name ?? '')
    .split(/\s+/)
    .map((word) => cutGraphemes(word, 1))
    .join('')
    .slice(0, 2)
    .toUpperCase(),
);

const places = [
  { name: 'today', label: 'Today' },
  { name: 'calendar', label: 'Calendar' },
  { name: 'desk', label: 'Desk' },
  { name: 'workflows', label: 'Workflows' },
  { name: 'sheets', label: 'Sheets' },
  { name: 'people', label: 'People' },
  { name: 'logbook', label: 'Logbook' },
  { name: 'accounts', label: 'Accounts' },
];
/** Views of one thing, by the view that lists all of them. */
const WITHIN: Readonly<Record<string, string>> = {
  'run-sheet': 'workflows',
  sheet: 'sheets',
  post: 'calendar',
  'new-post': 'calendar',
  'desk-numbers': 'desk',
};
const here = (name: string) => route.name === name || WITHIN[String(route.name)] === name;

function choose(id: number) {
  const view = WITHIN[String(route.name)] ?? String(route.name);
  void router.push({ name: view, params: { brand: id } });
}
onKeyStroke('k', (event) => {
  if (!(event.ctrlKey || event.metaKey)) return;
  event.preventDefault();
  finding.value = true;
});
onKeyStroke('?', (event) => {
  const target = event.target as HTMLElement;
  if (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) return;
  keys.value = true;
});
</script>

<template>
  <header class="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-1 bg-bar px-4 py-2 text-bar-ink">
    <RouterLink :to="`/${session.brandId}/today`" class="text-lg font-bold text-white no-underline">playa</RouterLink>
    <Listbox :model-value="session.brandId" as="div" class="relative" @update:model-value="choose">
      <ListboxButton
        class="flex items-center gap-1 rounded-full bg-white/10 px-3 py-1 text-sm text-white"
        aria-label="Brand"
        @click="waiting.look()"
      >
        {{ session.brand?.name }} <ChevronDown :size="13" />
      </ListboxButton>
      <ListboxOptions
        class="absolute z-30 mt-1 min-w-52 rounded-(--radius) border border-line bg-card py-1 text-ink shadow-lg"
      >
        <ListboxOption
          v-for="brand in session.brands"
          :key="brand.id"
          v-slot="{ active, selected }"
          :value="brand.id"
          as="template"
        >
          <li
            class="flex cursor-pointer gap-4 px-3 py-1.5"
            :class="[active && 'bg-sea-wash', selected && 'font-[650]']"
          >
            <span>{{ brand.name }}<span v-if="selected" class="sr-only"> (chosen)</span></span>
            <span v-if="toAnswer(brand.id)" class="ml-auto font-[400] text-ink-3 tabular-nums"
              >{{ toAnswer(brand.id) }} to answer</span
            >
          </li>
        </ListboxOption>
      </ListboxOptions>
    </Listbox>
    <nav class="flex max-w-full gap-1 overflow-x-auto" aria-label="Views">
      <RouterLink
        v-for="place in places"
        :key="place.name"
        :to="{ name: place.name, params: { brand: session.brandId } }"
        class="rounded-(--radius) px-3 py-1.5 no-underline"
        :class="here(place.name) ? 'bg-card font-[650] text-ink' : 'hover:text-white'"
        :aria-current="here(place.name) ? 'page' : undefined"
        >{{ place.label
        }}<template v-if="place.name === 'desk' && toAnswer(session.brandId)"
          ><span
            aria-hidden="true"
            class="ml-1.5 rounded-full px-1.5 text-sm tabular-nums"
            :class="here('desk') ? 'bg-sea-wash text-sea' : 'bg-white/15 text-white'"
            >{{ toAnswer(session.brandId) }}</span
          ><span class="sr-only">, {{ toAnswer(session.brandId) }} to answer</span></template
        ></RouterLink
      >
    </nav>
    <button
      class="ml-auto flex items-center gap-1.5 rounded-(--radius) px-2 py-1 hover:text-white"
      @click="finding = true"
    >
      <Search :size="14" /> Find or do… <kbd class="rounded border border-white/25 px-1 text-[11px]">Ctrl K</kbd>
    </button>
    <Menu as="div" class="relative">
      <MenuButton
        class="grid size-7 place-items-center rounded-full bg-[#e0b84f] text-[11px] font-bold text-[#12262e]"
        aria-label="You"
        >{{ initials }}</MenuButton
      >
      <MenuItems
        class="absolute right-0 z-30 mt-1 w-56 rounded-(--radius) border border-line bg-card py-1 text-ink shadow-lg"
      >
        <div class="border-b border-line px-3 py-1.5 text-sm text-ink-2">
          {{ session.user?.name }}<br />{{ session.user?.email }}
        </div>
        <MenuItem v-if="session.brandId" v-slot="{ active }"
          ><button
            class="w-full px-3 py-1.5 text-left"
            :class="active && 'bg-sea-wash'"
            @click="$router.push({ name: 'history', params: { brand: session.brandId } })"
          >
            Who did what
          </button></MenuItem
        >
        <MenuItem v-slot="{ active }"
          ><button class="w-full px-3 py-1.5 text-left" :class="active && 'bg-sea-wash'" @click="keys = true">
            Keys
          </button></MenuItem
        >
        <MenuItem v-slot="{ active }"
          ><button class="w-full px-3 py-1.5 text-left" :class="active && 'bg-sea-wash'" @click="session.signOut()">
            Sign out
          </button></MenuItem
        >
        <MenuItem v-slot="{ active }"
          ><button
            class="w-full px-3 py-1.5 text-left"
            :class="active && 'bg-sea-wash'"
            @click="session.signOutEverywhere()"
          >
            Sign out on all devices
          </button></MenuItem
        >
      </MenuItems>
    </Menu>
  </header>
  <FindOrDo v-if="finding" @close="finding = false" />
  <KeyList v-if="keys" @close="keys = false" />
</template>
