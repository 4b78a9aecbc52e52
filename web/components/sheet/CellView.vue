<script setup lang="ts">
import { computed } from 'vue';
import type { Cell, PostCell } from '@playa/core/engine/cells.ts';
import { fieldLabel } from '@playa/core/items/catalogue.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { clockTime, shortMoment } from '../../lib/times.ts';
import type { HappenedRun } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';

// One step's outcome for one item, in a few words.
const props = defineProps<{ cell: Cell | undefined; run?: HappenedRun | undefined }>();
const editor = useEditor();
const session = useSession();
const zone = computed(() => session.zone);

const outletName = (id: number) => editor.world.outlets.get(id)?.name ?? 'gone';
/** The tightest limit among the outlets this text is published to. */
const limit = computed(() => {
  const { cell } = props;
  if (cell?.kind !== 'text') return null;
  const ids = editor.definition.steps.flatMap((step) =>
    step.verb === 'publish' && !step.off && step.caption === cell.name ? step.outlets : [],
  );
  const limits = ids.flatMap((id) => KIND_RULES[editor.world.outlets.get(id)?.kind ?? 'page'].text.limit ?? []);
  return limits.length ? Math.min(...limits) : null;
});
const retryOf = (post: PostCell) => props.run?.retries.find((retry) => retry.key === post.key);
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
        :class="limit !== null && cell.length > limit ? 'font-[650] text-rose' : 'text-ink-3'"
      >
        {{ cell.length }}<template v-if="limit !== null">/{{ limit }}</template
        ><template v-if="limit !== null && cell.length > limit">, {{ cell.length - limit }} too many</template
        ><span v-if="cell.empty.length" class="text-amber"> · {{ cell.empty.map(fieldLabel).join(', ') }} empty</span>
      </p>
    </template>
    <template v-else>
      <p v-if="cell.posts.length === 0" class="text-sm text-ink-3">nowhere to post yet</p>
      <p v-for="post in cell.posts" :key="post.outlet" class="flex items-baseline gap-1.5">
        <span
          class="size-1.5 shrink-0 -translate-y-0.5 rounded-[2px]"
          :class="
            post.trouble
              ? 'bg-amber'
              : post.status === 'posted'
                ? 'bg-kelp'
                : post.status === 'skipped'
                  ? 'bg-ink-3'
                  : 'bg-sea'
          "
          aria-hidden="true"
        ></span>
        <span class="min-w-0 text-sm">
          {{ outletName(post.outlet) }}
          <template v-if="post.status === 'posted'"
            ><a
              v-if="post.url"
              :href="post.url"
              target="_blank"
              rel="noreferrer"
              tabindex="-1"
              class="font-[650] text-kelp"
              @click.stop
              >posted {{ shortMoment(post.at, zone) }}</a
            ><b v-else class="text-kelp">posted {{ shortMoment(post.at, zone) }}</b></template
          >
          <b v-else-if="post.status === 'skipped'" class="text-ink-3">left out</b>
          <b v-else-if="post.trouble" class="text-amber">{{ run ? 'needs you: ' : '' }}{{ post.says }}</b>
          <template v-else-if="post.status === 'sending'"
            ><template v-if="retryOf(post)"
              ><b class="text-amber">{{
                retryOf(post)!.dueAt ? `again ${clockTime(retryOf(post)!.dueAt!, zone)}` : 'waits for the account'
              }}</b>
              <span class="text-ink-3">{{ retryOf(post)!.trouble }}</span></template
            ><b v-else class="text-sea">on its way</b></template
          >
          <b v-else>at once, {{ clockTime(post.at, zone) }}</b>
        </span>
      </p>
    </template>
  </div>
  <span v-else class="sr-only">not reached</span>
</template>
