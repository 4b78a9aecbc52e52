<script setup lang="ts">
import { computed } from 'vue';
import { sayTrimmedParts } from '@playa/core/captions/say-trimmed.ts';
import type { Cell, Trace } from '@playa/core/model/cells.ts';
import { fieldLabel } from '@playa/core/items/field-label.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { saidAt } from '@playa/core/workflow/word-uses.ts';
import { shortMoment } from '../../lib/times.ts';
import type { HappenedRun } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';
import ActLine from './ActLine.vue';
import PostLine from './PostLine.vue';

// One step's outcome for one item, in a few words.
const props = defineProps<{
  cell: Cell | undefined;
  run?: HappenedRun | undefined;
  /** All cells of the item, and where among them this one stands. */
  trace?: Trace | undefined;
  place?: string | undefined;
}>();
const editor = useEditor();
const session = useSession();
const zone = computed(() => session.zone);

/** As many as one takes in. */
const MOST = 3;
/** How long the words are where they go, the fullest first. */
const lengths = computed(() => {
  const { cell, trace, place } = props;
  if (cell?.kind !== 'text' || !trace) return [];
  return saidAt(trace, editor.uses.get(cell.name) ?? [], place)
    .flatMap((said) => (said.limit ? [{ ...said, share: (said.trimmed?.text?.from ?? said.length) / said.limit }] : []))
    .sort((a, b) => b.share - a.share)
    .slice(0, MOST)
    .map(({ outlet, length, limit, trouble, trimmed }) => ({
      outlet,
      name: shortName(outlet),
      says: `${trimmed?.text?.from ?? length}/${limit}`,
      trimmed: sayTrimmedParts(trimmed && { text: trimmed.text }),
      tooLong: trouble === 'too-long',
    }));
});
/** The kind of an outlet in a word, or its name where another of its kind gets these words too. */
function shortName(id: number): string {
  const { cell } = props;
  const outlet = editor.world.outlets.get(id);
  if (!outlet || cell?.kind !== 'text') return 'gone';
  const ids = new Set((editor.uses.get(cell.name) ?? []).flatMap((use) => use.outlets));
  const alike = [...ids].filter((each) => editor.world.outlets.get(each)?.kind === outlet.kind);
  return alike.length > 1 ? outlet.name : KIND_RULES[outlet.kind].short;
}
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
      <p v-if="!cell.wrong" class="mt-0.5 text-[11.5px] text-ink-3">
        <template v-if="lengths.length === 0">{{ cell.length }}</template>
        <template v-for="(each, index) in lengths" v-else :key="each.outlet"
          ><template v-if="index > 0"> · </template
          ><span :class="each.tooLong && 'font-[650] text-rose'"
            >{{ each.name }} {{ each.says }}<template v-if="each.trimmed">, {{ each.trimmed }}</template></span
          ></template
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
