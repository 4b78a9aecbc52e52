<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import type { Revision } from '@playa/core/model/acts.ts';
import type { PostCell } from '@playa/core/model/cells.ts';
import type { WorldOutlet } from '@playa/core/model/world.ts';
import { wordRules } from '@playa/core/outlets/length.ts';
import { refusal } from '@playa/core/captions/say.ts';
import { writtenText } from '@playa/core/captions/written.ts';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import { shortMoment } from '../../lib/times.ts';
import type { PostEdit } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';

// Putting right, or taking down, a post that is out already, where its network lets that be. What it said is kept.
const props = defineProps<{ post: PostCell; outlet: WorldOutlet }>();
const session = useSession();
const edits = ref<PostEdit[]>([]);
const now = ref('');
const text = ref('');
const editing = ref(false);
const { busy, trouble, attempt } = useAttempt();
const deleting = ref(false);
/** What has just been done. */
const said = ref('');
const root = ref<HTMLElement>();
// What it unfolds may lie below what can be seen.
watch([editing, deleting], () => void nextTick(() => root.value?.scrollIntoView({ block: 'end' })));
const rules = computed(() => wordRules(props.outlet.kind, 'post', (props.post.more?.media?.length ?? 0) > 0));
const written = computed(() => writtenText(rules.value, text.value));
/** Tries to delete it that nobody heard back about are no versions of it. */
const earlier = computed(() => edits.value.filter(({ deletes }) => !deletes));
const refused = computed(() => refusal(rules.value, written.value, props.outlet.name));

async function load() {
  const answer = await call('listPostEdits', { brand: session.brandId, key: props.post.key ?? '' });
  edits.value = answer.edits;
  now.value = answer.text;
}
watch(
  () => props.post.key,
  () => {
    editing.value = deleting.value = false;
    trouble.value = said.value = '';
    edits.value = [];
    if (props.post.key) void load().catch(() => undefined);
  },
  { immediate: true },
);
function begin() {
  text.value = now.value || props.post.text;
  editing.value = true;
}
const save = () =>
  make(() => call('editPost', { brand: session.brandId, key: props.post.key ?? '' }, { body: { text: text.value } }));
/** What its network lets be done to it. */
const offers = (change: Revision): boolean => props.outlet.revisions?.includes(change) === true;
async function pin(on: boolean) {
  said.value = '';
  await make(() => call('pinPost', { brand: session.brandId, key: props.post.key ?? '' }, { body: { on } }));
  if (!trouble.value) said.value = on ? 'It is pinned.' : 'It is no longer pinned.';
}
const remove = () => make(() => call('deletePost', { brand: session.brandId, key: props.post.key ?? '' }));
async function make(change: () => Promise<unknown>) {
  await attempt(async () => {
    await change();
    editing.value = deleting.value = false;
  });
  await load().catch(() => undefined);
}
</script>

<template>
  <div ref="root" class="mt-2 scroll-mb-4">
    <p v-if="!editing && !deleting" class="flex flex-wrap gap-x-3 text-sm">
      <button v-if="offers('edit')" class="link" @click="begin">Edit this post on {{ outlet.name }}</button>
      <button v-if="offers('delete')" class="link" @click="deleting = true">
        Delete it {{ offers('edit') ? 'there' : `on ${outlet.name}` }}
      </button>
      <button v-if="offers('pin')" class="link" :disabled="busy" @click="pin(true)">Pin it there</button>
      <button v-if="offers('unpin')" class="link" :disabled="busy" @click="pin(false)">Unpin it</button>
      <span v-if="said" role="status" class="text-kelp">{{ said }}</span>
    </p>
    <div v-else-if="deleting" class="grid gap-1.5" role="group" aria-label="Delete this post">
      <p>Nobody sees it on {{ outlet.name }} any more. Its words stay here, and it is not posted again by itself.</p>
      <div class="flex items-center gap-2">
        <button class="btn btn-main" :disabled="busy" @click="remove">Delete it on {{ outlet.name }}</button>
        <button class="btn" @click="deleting = false">Leave it</button>
      </div>
    </div>
    <form v-else class="grid gap-1.5" @submit.prevent="save">
      <textarea v-model="text" class="field min-h-20 w-full" aria-label="What the post says"></textarea>
      <div class="flex items-center gap-2">
        <button class="btn btn-main" :disabled="busy || !text.trim() || text === now || refused !== undefined">
          Edit it there
        </button>
        <button class="btn" type="button" @click="editing = false">Leave it</button>
        <span class="ml-auto text-sm" :class="refused ? 'text-rose' : 'text-ink-3'" aria-live="polite">
          <template v-if="refused">{{ refused }}</template><template v-else
            >{{ written.length }}<template v-if="rules.limit">/{{ rules.limit }}</template></template
          >
        </span>
      </div>
    </form>
    <p v-if="trouble" role="alert" class="mt-1 text-sm text-rose">{{ trouble }}</p>
    <details v-if="earlier.length" class="mt-1.5 text-sm">
      <summary class="cursor-pointer text-ink-2">
        {{ earlier.length }} earlier {{ earlier.length === 1 ? 'version' : 'versions' }}
      </summary>
      <p v-for="(edit, index) in earlier" :key="index" class="border-b border-dashed border-line py-1">
        <span class="whitespace-pre-line text-ink-3">{{ edit.before }}</span>
        <span class="block text-ink-3">
          until {{ shortMoment(edit.at, session.zone) }}, by {{ edit.by
          }}<b v-if="!edit.made" class="text-amber">; nobody heard whether it was made</b></span
        >
      </p>
    </details>
  </div>
</template>
