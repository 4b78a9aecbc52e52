<script setup lang="ts">
import { computed } from 'vue';
import type { Cell } from '@playa/core/engine/cells.ts';
import { fieldLabel } from '@playa/core/items/catalogue.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { allSteps } from '@playa/core/workflow/tree.ts';
import { shortMoment } from '../../lib/times.ts';
import type { HappenedRun } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';
import ActLine from './ActLine.vue';
import PostLine from './PostLine.vue';

// One step's outcome for one item, in a few words.
const props = defineProps<{ cell: Cell | undefined; run?: HappenedRun | undefined }>();
const editor = useEditor();
const session = useSession();
const zone = computed(() => session.zone);

/** Whether every outlet that takes fewer gets the words shortened. */
const isFitted = computed(() => {
  const { cell } = props;
  const publishing = allSteps(editor.definition).flatMap(({ step }) =>
    step.verb === 'publish' && !step.off && cell?.kind === 'text' && step.caption === cell.name ? [step] : [],
  );
  return publishing.length > 0 && publishing.every((step) => step.fit);
});
/** The tightest limit among the outlets this text is published to. */
const limit = computed(() => {
  const { cell } = props;
  if (cell?.kind !== 'text') return null;
  const ids = allSteps(editor.definition).flatMap(({ step }) =>
    step.verb === 'publish' && !step.off && step.caption === cell.name ? step.outlets : [],
  );
  const limits = ids.flatMap((id) => KIND_RULES[editor.world.outlets.get(id)?.kind ?? 'page'].text.limit ?? []);
  return limits.length ? Math.min(...limits) : null;
});
</script>

<template>
  <div v-if="cell" class="leading-snug" :class="cell.off && 'opacity-55'">
    <span v-if="cell.off" class="mr-1 text-sm text-ink-3 italic">off, would be:</span>
    <template v-if="cell.kind === 'passes'"
      ><b class="text-kelp">passes</b> <span class="text-sm text-ink-3">{{ cell.why }}</span></template
    >
    <template v-else-if="cell.kind === 'stops'"
      ><b class="text-ink-2">stops</b> <span class="text-sm text-ink-3">{{ cell.why }}</span></template
    >
    <template v-else-if="cell.kind === 'text'">
      <p v-if="cell.wrong" class="text-rose"><b>Cannot be read.</b> {{ cell.wrong }}</p>
      <p v-else-if="cell.text === ''" class="font-[550] text-amber">No words</p>
      <p v-else class="line-clamp-4 text-sm break-words whitespace-pre-line">{{ cell.text }}</p>
      <p
        v-if="!cell.wrong"
        class="mt-0.5 text-[11.5px]"
        :class="limit !== null && cell.length > limit && !isFitted ? 'font-[650] text-rose' : 'text-ink-3'"
      >
        {{ cell.length }}<template v-if="limit !== null">/{{ limit }}</template
        ><template v-if="limit !== null && cell.length > limit"
          >, {{ isFitted ? 'will be shortened' : `${cell.length - limit} too many` }}</template
        ><template v-if="cell.variant"> · wording {{ cell.variant[0] }} of {{ cell.variant[1] }}</template
        ><span v-if="cell.empty.length" class="text-amber"> · {{ cell.empty.map(fieldLabel).join(', ') }} empty</span>
      </p>
    </template>
    <template v-else-if="cell.kind === 'posts'">
      <p v-if="cell.posts.length === 0" class="text-sm text-ink-3">nowhere to post yet</p>
      <PostLine v-for="post in cell.posts" :key="post.outlet" :post="post" :run="run" />
    </template>
    <template v-else-if="cell.kind === 'acts'">
      <ActLine v-for="(act, index) in cell.acts" :key="index" :act="act" :run="run" />
    </template>
    <template v-else-if="cell.kind === 'waits'">
      <b :class="cell.over ? 'text-ink-2' : 'text-sea'">{{ cell.over ? 'waited' : 'waits' }}</b>
      <span class="text-sm"
        ><template v-if="cell.until !== null"> until {{ shortMoment(cell.until, zone) }}</template>
        <span v-if="cell.why" class="text-ink-3"> {{ cell.why }}</span></span
      >
    </template>
    <template v-else-if="cell.kind === 'takes'"
      ><b class="text-ink-2">{{ cell.label }}</b> <span class="text-sm text-ink-3">{{ cell.why }}</span></template
    >
    <template v-else-if="cell.kind === 'elements'">
      <b>{{ cell.labels.length }}</b> {{ cell.labels.length === 1 ? 'element' : 'elements' }}
      <span v-if="cell.left" class="text-sm text-sea">, {{ cell.left }} under way</span>
      <span v-if="cell.why" class="text-sm text-amber">, {{ cell.why }}</span>
      <p class="line-clamp-2 text-sm break-words text-ink-3">{{ cell.labels.join(', ') }}</p>
    </template>
    <template v-else-if="cell.kind === 'joined'">
      <b class="text-kelp">gathered</b>
      <span class="text-sm text-ink-3"
        >as number {{ cell.count
        }}<template v-if="cell.closesAt !== null">, complete {{ shortMoment(cell.closesAt, zone) }}</template></span
      >
    </template>
  </div>
  <span v-else class="sr-only">not reached</span>
</template>
