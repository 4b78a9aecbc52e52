<script setup lang="ts">
import { computed } from 'vue';
import type { ActCell } from '@playa/core/model/cells.ts';
import { sayTrimmedParts } from '@playa/core/captions/say-trimmed.ts';
import { clockTime, shortMoment } from '../../lib/times.ts';
import { webHref } from '../../lib/links.ts';
import type { HappenedRun } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';

// One act that is not a post: a call, a label, a reply.
const props = defineProps<{ act: ActCell; run?: HappenedRun | undefined }>();
const editor = useEditor();
const session = useSession();
const DID: Record<string, [would: string, doing: string, did: string]> = {
  reply: ['would reply', 'replying', 'replied'],
  message: ['would write', 'writing', 'wrote'],
  react: ['would like it', 'liking it', 'liked'],
  revise: ['would', 'is about to', 'done:'],
  record: ['would write', 'writing', 'wrote'],
  find: ['would look for a', 'looking for a', 'looked for a'],
  draft: ['would be drafted', 'being drafted', 'drafted'],
  label: ['would label', 'labelling', 'labelled'],
  notify: ['would tell', 'telling', 'told'],
  call: ['would ask', 'asking', 'asked'],
  hold: ['would wait for', 'waits for', 'had'],
};
const words = computed(() => DID[props.act.action] ?? ['would', 'doing', 'did']);
const outlet = computed(() =>
  props.act.outlet === null ? '' : (editor.world.outlets.get(props.act.outlet)?.name ?? 'gone'),
);
const retry = computed(() => props.run?.retries.find((each) => each.key === props.act.key));
const trimmed = computed(() => sayTrimmedParts(props.act.trimmed));
const what = computed(() =>
  ['reply', 'message', 'draft', 'react'].includes(props.act.action) ? outlet.value : props.act.what,
);
</script>

<template>
  <div class="text-sm">
    <p class="break-words">
      <b v-if="act.status === 'held'" class="text-amber">{{ run ? 'needs you: ' : '' }}{{ act.says }}</b>
      <b v-else-if="act.status === 'failed'" class="text-rose">failed: {{ act.says }}</b>
      <b v-else-if="act.status === 'skipped'" class="text-ink-3">{{
        act.action === 'hold' ? 'answered no' : 'left out'
      }}</b>
      <template v-else-if="act.status === 'planned' && retry">
        <b class="text-amber">{{
          retry.dueAt ? `again ${clockTime(retry.dueAt, session.zone)}` : 'waits for the account'
        }}</b>
        <span class="text-ink-3"> {{ retry.trouble }}</span>
      </template>
      <template v-else>
        <b :class="act.status === 'done' ? 'text-kelp' : 'text-sea'">{{
          words[act.status === 'would' ? 0 : act.status === 'planned' ? 1 : 2]
        }}</b>{{ ' '
        }}<a
          v-if="act.url"
          :href="webHref(act.url)"
          target="_blank"
          rel="noreferrer"
          tabindex="-1"
          class="underline"
          @click.stop
          >{{ what }}</a
        ><span v-else>{{ what }}</span>
        <span v-if="act.status === 'done'" class="text-ink-3"> {{ shortMoment(act.at, session.zone) }}</span>
      </template>
    </p>
    <p v-if="trimmed" class="text-ink-3">{{ trimmed }}</p>
    <p v-if="act.result" class="line-clamp-3 break-words text-ink-2">{{ act.result }}</p>
    <p v-else-if="act.text && act.action !== 'draft'" class="line-clamp-2 break-words text-ink-3">{{ act.text }}</p>
  </div>
</template>
