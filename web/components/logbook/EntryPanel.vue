<script setup lang="ts">
import { X } from '@lucide/vue';
import { computed } from 'vue';
import type { PostCell } from '@playa/core/model/cells.ts';
import type { WorldOutlet } from '@playa/core/model/world.ts';
import { webHref } from '../../lib/links.ts';
import { dayAndTime } from '../../lib/times.ts';
import type { LogbookEntry, LogbookFilters } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import PostEdits from '../bench/PostEdits.vue';
import EntryStory from './EntryStory.vue';
import { didOf } from './words.ts';

// One thing that went out: its words as sent, where it came from, and what can still be done to it.
const props = defineProps<{ entry: LogbookEntry; outlet: LogbookFilters['outlets'][number] | undefined }>();
const emit = defineEmits<{ close: [] }>();
const session = useSession();
const run = computed(() => ({
  name: 'run-sheet',
  params: { brand: session.brandId, id: props.entry.workflowId },
  query: { reading: 'happened' },
}));
const changeable = computed(
  () => props.entry.action === 'publish' && props.entry.deletedAt === null && (props.outlet?.revisions.length ?? 0) > 0,
);
const post = computed<PostCell>(() => {
  const { key, text, at, url, media } = props.entry;
  return {
    key,
    text,
    at,
    url: url ?? undefined,
    outlet: props.entry.outletId ?? 0,
    status: 'posted',
    ...(media && { more: { media: [media] } }),
  } as unknown as PostCell;
});
const worldOutlet = computed(() => props.outlet as unknown as WorldOutlet);
</script>

<template>
  <aside class="sheet self-start p-3" aria-label="The chosen entry">
    <div class="flex items-start gap-2">
      <h2 class="min-w-0 flex-1 font-[650]">{{ entry.outlet ?? entry.workflow }}</h2>
      <button class="rounded p-1 text-ink-3 hover:text-ink" aria-label="Close" @click="emit('close')">
        <X :size="15" />
      </button>
    </div>
    <p class="text-ink-2">
      {{ didOf(entry.action) }} {{ dayAndTime(entry.at, session.zone) }}
      <b v-if="entry.deletedAt !== null" class="text-rose"
        >, deleted there {{ dayAndTime(entry.deletedAt, session.zone) }}</b
      >
    </p>
    <p v-if="entry.text" class="mt-2 rounded-(--radius) bg-paper px-2.5 py-2 whitespace-pre-line break-words">
      {{ entry.text }}
    </p>
    <img
      v-if="entry.media?.type === 'picture'"
      :src="entry.media.url"
      :alt="entry.media.alt"
      class="mt-2 max-h-48 rounded-(--radius) border border-line"
    />
    <p v-if="entry.media" class="text-sm text-ink-3">
      {{ entry.media.alt ? `Said of it: ${entry.media.alt}` : 'Nothing is said of it for those who do not see it.' }}
    </p>
    <p v-if="entry.card" class="mt-2 truncate text-sm">
      With it:
      <a class="link" :href="webHref(entry.card)" target="_blank" rel="noreferrer">{{ entry.card }}</a>
    </p>
    <p class="mt-2 flex flex-wrap gap-3">
      <a
        v-if="entry.url && entry.deletedAt === null"
        class="link"
        :href="webHref(entry.url)"
        target="_blank"
        rel="noreferrer"
        >See it there</a
      >
      <RouterLink class="link" :to="run">{{ entry.workflow }}</RouterLink>
    </p>
    <EntryStory :entry="entry" />
    <PostEdits v-if="changeable" :post="post" :outlet="worldOutlet" />
  </aside>
</template>
