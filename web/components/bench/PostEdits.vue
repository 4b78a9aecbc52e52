<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import type { PostCell } from '@playa/core/engine/cells.ts';
import type { WorldOutlet } from '@playa/core/workflow/world.ts';
import { wordRules } from '@playa/core/outlets/length.ts';
import { refusal } from '@playa/core/outlets/say.ts';
import { writtenText } from '@playa/core/outlets/write.ts';
import { api } from '../../lib/api.ts';
import { shortMoment } from '../../lib/times.ts';
import type { PostEdit } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';

// Putting right a post that is out already, where its network lets posts be edited. What it said before is kept.
const props = defineProps<{ post: PostCell; outlet: WorldOutlet }>();
const session = useSession();
const edits = ref<PostEdit[]>([]);
const now = ref('');
const text = ref('');
const editing = ref(false);
const busy = ref(false);
const trouble = ref('');
const at = computed(() => `${session.at}/posts/${encodeURIComponent(props.post.key ?? '')}/edits`);
const rules = computed(() => wordRules(props.outlet.kind, 'post', (props.post.more?.media?.length ?? 0) > 0));
const written = computed(() => writtenText(rules.value, text.value));
const refused = computed(() => refusal(rules.value, written.value, props.outlet.name));

async function load() {
  const answer = await api<{ text: string; edits: PostEdit[] }>('GET', at.value);
  edits.value = answer.edits;
  now.value = answer.text;
}
watch(
  () => props.post.key,
  () => {
    editing.value = false;
    trouble.value = '';
    edits.value = [];
    if (props.post.key) void load().catch(() => undefined);
  },
  { immediate: true },
);
function begin() {
  text.value = now.value || props.post.text;
  editing.value = true;
}
async function save() {
  busy.value = true;
  trouble.value = '';
  try {
    await api('POST', at.value, { text: text.value });
    editing.value = false;
  } catch (error) {
    trouble.value = (error as Error).message;
  }
  busy.value = false;
  await load().catch(() => undefined);
}
</script>

<template>
  <div class="mt-2">
    <button v-if="!editing" class="link text-sm" @click="begin">Edit this post on {{ outlet.name }}</button>
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
    <details v-if="edits.length" class="mt-1.5 text-sm">
      <summary class="cursor-pointer text-ink-2">
        {{ edits.length }} earlier {{ edits.length === 1 ? 'version' : 'versions' }}
      </summary>
      <p v-for="(edit, index) in edits" :key="index" class="border-b border-dashed border-line py-1">
        <span class="whitespace-pre-line text-ink-3">{{ edit.before }}</span>
        <span class="block text-ink-3">
          until {{ shortMoment(edit.at, session.zone) }}, by {{ edit.by
          }}<b v-if="!edit.made" class="text-amber">; nobody heard whether it was made</b></span
        >
      </p>
    </details>
  </div>
</template>
