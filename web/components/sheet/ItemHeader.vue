<script setup lang="ts">
import { computed } from 'vue';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { itemTitle } from '@playa/core/items/title.ts';
import { clockLength } from '@playa/core/text/durations.ts';
import { dayAndTime } from '../../lib/times.ts';
import type { HappenedRun } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import { momentOf, type PastItem } from '@playa/core/rehearsal/virtual-run.ts';

const props = defineProps<{ item: PastItem; run?: HappenedRun | undefined }>();
const session = useSession();
const title = computed(() => itemTitle(props.item.fields));
const picture = computed(() =>
  fieldText(readField(props.item.fields, 'thumbnail.url') ?? readField(props.item.fields, 'picture.url')),
);
const length = computed(() => Number(readField(props.item.fields, 'length') ?? NaN));
const states = computed(() => ({
  new: props.run?.queued ? 'waits its turn' : 'about to begin',
  waiting: 'on its way',
  held: 'needs you',
  done: props.run?.thinned ? 'done, details let go' : '',
  stopped: '',
  cancelled: 'ended by you',
}));
</script>

<template>
  <div class="flex gap-2 text-left">
    <img
      v-if="picture"
      :src="picture"
      alt=""
      referrerpolicy="no-referrer"
      class="h-8 w-12 shrink-0 rounded-[4px] object-cover"
    />
    <div class="min-w-0">
      <div class="line-clamp-2 leading-tight font-[650]">{{ title }}</div>
      <div class="mt-0.5 text-[11.5px] whitespace-nowrap text-ink-3">
        {{ dayAndTime(momentOf(item), session.zone)
        }}<template v-if="Number.isFinite(length)"> · {{ clockLength(length) }}</template>
      </div>
      <div v-if="run && run.createdAt > item.seenAt + 60_000" class="text-[11.5px] whitespace-nowrap text-ink-3">
        ran {{ dayAndTime(run.createdAt, session.zone) }}
      </div>
      <div
        v-if="run && states[run.status]"
        class="text-[11.5px] font-[650]"
        :class="run.status === 'held' ? 'text-amber' : 'text-sea'"
      >
        {{ states[run.status] }}
      </div>
    </div>
  </div>
</template>
