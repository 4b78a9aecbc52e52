<script setup lang="ts">
import { computed } from 'vue';
import type { PostCell } from '@playa/core/model/cells.ts';
import { sayTrimmedParts } from '@playa/core/captions/say-trimmed.ts';
import { clockTime, shortMoment } from '../../lib/times.ts';
import { webHref } from '../../lib/links.ts';
import type { HappenedRun } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';

// One post of a Publish cell: where, and how it stands.
const props = defineProps<{ post: PostCell; run?: HappenedRun | undefined }>();
const editor = useEditor();
const session = useSession();
const outletName = computed(() => editor.world.outlets.get(props.post.outlet)?.name ?? 'gone');
const retry = computed(() => props.run?.retries.find((each) => each.key === props.post.key));
const trimmed = computed(() => sayTrimmedParts(props.post.trimmed));
/** Why it goes no earlier. */
const KEPT: Readonly<Record<NonNullable<PostCell['kept']>, string>> = {
  free: 'the first time that nobody holds',
  gap: 'apart from another post',
  day: 'the day before is full',
  pause: 'after a pause',
  hours: 'in the opening hours',
};
/** It has a time of its own, which has not come. */
const later = computed(() => props.post.at > Date.now() + 60_000);
const dot = computed(() => {
  const { post } = props;
  if (post.status === 'failed') return 'bg-rose';
  if (post.trouble) return 'bg-amber';
  if (post.status === 'posted') return post.deleted ? 'bg-ink-3' : 'bg-kelp';
  return post.status === 'skipped' ? 'bg-ink-3' : 'bg-sea';
});
</script>

<template>
  <p class="flex items-baseline gap-1.5">
    <span class="size-1.5 shrink-0 -translate-y-0.5 rounded-[2px]" :class="dot" aria-hidden="true"></span>
    <span class="min-w-0 text-sm">
      {{ outletName }}
      <template v-if="post.status === 'posted'"
        ><a
          v-if="post.url"
          :href="webHref(post.url)"
          target="_blank"
          rel="noreferrer"
          tabindex="-1"
          class="font-[650] whitespace-nowrap text-kelp"
          @click.stop
          >posted {{ shortMoment(post.at, session.zone) }}</a
        ><b v-else class="whitespace-nowrap text-kelp">posted {{ shortMoment(post.at, session.zone) }}</b
        ><span v-if="post.deleted" class="text-amber">, deleted since</span
        ><span v-else-if="post.edited" class="text-ink-3">, edited since</span></template
      >
      <b v-else-if="post.status === 'skipped'" class="text-ink-3">left out</b>
      <b v-else-if="post.status === 'failed'" class="text-rose">failed: {{ post.says }}</b>
      <b v-else-if="post.trouble" class="text-amber">{{ run ? 'needs you: ' : '' }}{{ post.says }}</b>
      <template v-else-if="post.status === 'planned'"
        ><template v-if="retry"
          ><b class="text-amber">{{
            retry.dueAt ? `again ${clockTime(retry.dueAt, session.zone)}` : 'waits for the account'
          }}</b>
          <span class="text-ink-3">{{ retry.trouble }}</span></template
        ><b v-else-if="later" class="whitespace-nowrap text-sea">goes out {{ shortMoment(post.at, session.zone) }}</b
        ><b v-else class="text-sea">on its way</b></template
      >
      <b v-else class="whitespace-nowrap">{{ shortMoment(post.at, session.zone) }}</b><span
        v-if="post.kept && (later || post.status === 'would')"
        class="text-ink-3"
        >, {{ KEPT[post.kept] }}</span
      ><span v-if="trimmed && !post.trouble && post.status !== 'skipped'" class="text-ink-3">, {{ trimmed }}</span>
    </span>
  </p>
</template>
