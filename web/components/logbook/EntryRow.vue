<script setup lang="ts">
import { shorten } from '@playa/core/text/shorten.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { webHref } from '../../lib/links.ts';
import { clockTime } from '../../lib/times.ts';
import type { LogbookEntry, LogbookFilters } from '../../lib/types.ts';
import type { LogbookColumn } from './columns.ts';
import { didOf } from './words.ts';

// One entry of the logbook, with as much of it as is wanted.
const props = defineProps<{
  entry: LogbookEntry;
  outlet: LogbookFilters['outlets'][number] | undefined;
  zone: string;
  opened: boolean;
  shows: (column: LogbookColumn) => boolean;
  /** It can be chosen, and is; null where it cannot be. */
  chosen: boolean | null;
}>();
const emit = defineEmits<{ open: []; choose: [] }>();
/** "posted · @ternbaylidos (photos) · New films" */
const about = (): string => {
  const { action, outlet, workflow } = props.entry;
  const kind = props.outlet ? ` (${KIND_RULES[props.outlet.kind].short})` : '';
  return [
    props.shows('did') && didOf(action),
    props.shows('outlet') && outlet && `${outlet}${kind}`,
    props.shows('workflow') && workflow,
  ]
    .filter(Boolean)
    .join(' · ');
};
</script>

<template>
  <li class="flex items-start gap-2.5 border-b border-line px-3 py-2 last:border-0" :class="opened && 'bg-sea-wash'">
    <input
      v-if="chosen !== null"
      type="checkbox"
      class="mt-1 accent-(--sea)"
      :checked="chosen"
      :aria-label="`Choose ${shorten(entry.text, 40)}`"
      @change="emit('choose')"
    />
    <span v-else class="w-[13px]"></span>
    <span class="w-11 shrink-0 text-ink-2 tabular-nums">{{ clockTime(entry.at, zone) }}</span>
    <button class="min-w-0 flex-1 text-left" @click="emit('open')">
      <span class="line-clamp-2 break-words" :class="entry.deletedAt !== null && 'text-ink-3 line-through'">{{
        entry.text || 'Without words'
      }}</span>
      <span class="text-sm text-ink-3">
        {{ about()
        }}<template v-if="shows('since')">
          <b v-if="entry.edited" class="text-dusk"> · edited</b>
          <b v-if="entry.deletedAt !== null" class="text-rose"> · deleted</b>
        </template>
      </span>
    </button>
    <img
      v-if="shows('picture') && entry.media?.type === 'picture'"
      :src="entry.media.url"
      alt=""
      loading="lazy"
      class="h-10 w-14 shrink-0 rounded-sm border border-line object-cover"
    />
    <a
      v-if="shows('link') && entry.url && entry.deletedAt === null"
      class="link shrink-0 text-sm"
      :href="webHref(entry.url)"
      target="_blank"
      rel="noreferrer"
      >see it</a
    >
  </li>
</template>
