<script setup lang="ts">
import { computed } from 'vue';
import { shortMoment } from '../../lib/times.ts';
import type { LogbookEntry } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import { UNTIDY } from './words.ts';
import { useResource } from '../../stores/resource.ts';

// What is out and lacks something, or is out twice, by what it lacks.
const emit = defineEmits<{ open: [entry: LogbookEntry] }>();
const session = useSession();
const { data, trouble, load } = useResource('listUntidy', () => ({ brand: session.brandId }), { topics: ['runs'] });
const posts = computed(() => data.value?.posts);
const ORDER = ['doubled', 'picture', 'title', 'link', 'alt'] as const;
const groups = computed(() =>
  ORDER.map((what) => ({
    what,
    posts: (posts.value ?? []).filter((post) => post.untidy.some((each) => each.what === what)),
  })).filter((group) => group.posts.length > 0),
);
</script>

<template>
  <p v-if="trouble" role="alert" class="rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
    {{ trouble }} <button class="underline" @click="load">Try again</button>
  </p>
  <p v-else-if="!posts" class="text-ink-3">Loading …</p>
  <p v-else-if="posts.length === 0" class="sheet px-4 py-5 text-ink-2">
    Everything of the last 180 days has its title, link, picture and what it shows, and nothing is out twice.
  </p>
  <section v-for="group in groups" :key="group.what" class="sheet mb-3" :aria-label="UNTIDY[group.what]">
    <h2 class="border-b border-line px-4 py-2 font-[650]">
      {{ UNTIDY[group.what] }} <span class="font-normal text-ink-3">{{ group.posts.length }}</span>
    </h2>
    <div
      v-for="{ entry, changeable } in group.posts"
      :key="entry.key"
      class="flex items-start gap-3 border-b border-line px-4 py-2 last:border-0"
    >
      <span class="w-24 shrink-0 text-ink-2">{{ shortMoment(entry.at, session.zone) }}</span>
      <span class="min-w-0 flex-1">
        <span class="line-clamp-2">{{ entry.text || 'Without words' }}</span>
        <span class="text-sm text-ink-3">{{ entry.outlet }} · {{ entry.workflow }}</span>
      </span>
      <button class="btn shrink-0" @click="emit('open', entry)">{{ changeable ? 'Mend it' : 'Look at it' }}</button>
    </div>
  </section>
</template>
