<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue';
import { Bookmark, X } from '@lucide/vue';
import { computed, ref } from 'vue';
import { useRoute, useRouter, type LocationQueryRaw } from 'vue-router';
import { call } from '../../lib/api.ts';
import type { Answer } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { useResource } from '../../stores/resource.ts';

// Ways of looking at a list, kept under names: the filters in its address. Everybody has their own.
const props = defineProps<{ place: 'desk' | 'logbook' | 'people' }>();
const session = useSession();
const notices = useNotices();
const route = useRoute();
const router = useRouter();
type KeptView = Answer<'listViews'>['views'][number];
const opened = ref(false);
const { data, trouble, load } = useResource('listViews', () =>
  opened.value ? { brand: session.brandId, place: props.place } : null,
);
const views = computed(() => data.value?.views);
const name = ref('');
const wrong = ref('');

/** The filters as they stand, in an order of their own. */
const query = computed(() => {
  const asked = new URLSearchParams();
  for (const key of Object.keys(route.query).sort()) {
    const value = route.query[key];
    // Whoever is open beside the list is no way of looking at it.
    if (key !== 'contact' && typeof value === 'string' && value !== '') asked.set(key, value);
  }
  return asked.toString();
});
const here = computed(() => views.value?.find((each) => each.query === query.value));

/** They are read whenever somebody looks. */
function look() {
  if (opened.value) void load();
  opened.value = true;
}
async function keep() {
  const called = name.value.trim();
  if (called === '') return;
  try {
    await call(
      'keepView',
      { brand: session.brandId, place: props.place, name: called },
      { body: { query: query.value } },
    );
    name.value = '';
    wrong.value = '';
    await load();
  } catch (error) {
    wrong.value = (error as Error).message;
  }
}
async function drop(view: KeptView) {
  try {
    await call('dropView', { brand: session.brandId, place: props.place, name: view.name });
    await load();
    notices.say(`“${view.name}” is taken away.`, () => {
      void call(
        'keepView',
        { brand: session.brandId, place: props.place, name: view.name },
        { body: { query: view.query } },
      ).then(load, notices.wrong);
    });
  } catch (error) {
    notices.wrong(error);
  }
}
function show(view: KeptView, close: () => void) {
  const asked: LocationQueryRaw = Object.fromEntries(new URLSearchParams(view.query));
  void router.replace({ query: asked });
  close();
}
</script>

<template>
  <Popover v-slot="{ close }" class="relative">
    <PopoverButton class="btn" @click="look"><Bookmark :size="15" /> Views</PopoverButton>
    <PopoverPanel
      class="sheet absolute right-0 z-30 mt-1 w-72 max-w-[88vw] p-3 shadow-lg max-sm:fixed max-sm:inset-x-4 max-sm:w-auto"
    >
      <ul v-if="views?.length" class="mb-2 max-h-64 overflow-auto" aria-label="Kept views">
        <li v-for="view in views" :key="view.name" class="flex items-center gap-1">
          <button
            class="min-w-0 flex-1 truncate rounded-(--radius) px-2 py-1 text-left hover:bg-paper"
            :class="here === view && 'bg-sea-wash font-[650]'"
            :aria-current="here === view || undefined"
            @click="show(view, close)"
          >
            {{ view.name }}
          </button>
          <button class="btn btn-quiet px-1" :aria-label="`Take the view ${view.name} away`" @click="drop(view)">
            <X :size="14" />
          </button>
        </li>
      </ul>
      <p v-else-if="views" class="mb-2 text-ink-2">
        Keep what you look at often: choose filters, give them a name here, and come back in two clicks.
      </p>
      <form class="flex gap-2" @submit.prevent="keep">
        <input
          v-model="name"
          class="field min-w-0 flex-1"
          maxlength="60"
          placeholder="a name for what is shown"
          aria-label="Name of the view"
        />
        <button class="btn" :disabled="name.trim() === ''">Keep</button>
      </form>
      <p v-if="wrong || trouble" role="alert" class="mt-2 text-rose">{{ wrong || trouble }}</p>
    </PopoverPanel>
  </Popover>
</template>
