<script setup lang="ts">
import { computed, nextTick, ref } from 'vue';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import { textLength } from '@playa/core/outlets/length.ts';
import { api } from '../lib/api.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';

/** What a person can decide about something held: yes or no, other words, another input, again, went out, leave out, end. */
const props = defineProps<{
  runId: number;
  /** Null when the run itself is stuck. */
  effectKey: string | null;
  text: string | null;
  limit: number | null;
  /** The sort of outlet, for counting as it does. */
  kind?: OutletKind | null | undefined;
  trouble: string | undefined;
  action: string | null;
  /** What would be sent, for changing it. */
  input: Record<string, unknown> | null;
}>();
const emit = defineEmits<{ decided: [] }>();

const session = useSession();
const notices = useNotices();
const editing = ref(false);
const words = ref('');
const wrong = ref('');
const area = ref<HTMLTextAreaElement>();
const busy = ref(false);

/** A question put on purpose: yes or no. */
const asks = computed(() => props.action === 'hold');
/** What has words is changed as words, anything else as what would be sent. */
const asWords = computed(() => props.text !== null);
const canEdit = computed(() => (asks.value ? props.text !== null : asWords.value || props.input !== null));
const length = computed(() => textLength(props.kind ?? 'page', words.value));
const tooLong = computed(() => props.limit !== null && length.value > props.limit);
const posts = computed(() => props.action === 'publish' || props.action === null);
const does = computed(() => (posts.value ? 'post' : 'send'));

async function edit() {
  words.value = asWords.value ? (props.text ?? '') : JSON.stringify(props.input, null, 2);
  wrong.value = '';
  editing.value = true;
  await nextTick();
  area.value?.focus();
}

async function decide(decision: object, said: string) {
  busy.value = true;
  try {
    await (props.effectKey === null
      ? api('POST', `${session.at}/runs/${props.runId}/again`)
      : api('POST', `${session.at}/runs/${props.runId}/decide`, { key: props.effectKey, decision }));
    editing.value = false;
    notices.say(said);
    emit('decided');
  } catch (error) {
    notices.wrong(error);
  } finally {
    busy.value = false;
  }
}
function send() {
  if (asks.value) return decide({ do: 'retry', text: words.value }, 'Yes, with your words.');
  if (asWords.value)
    return decide(
      { do: 'retry', text: words.value },
      posts.value ? 'Posting it with your words.' : 'Sending it with your words.',
    );
  try {
    return decide({ do: 'retry', input: JSON.parse(words.value) as unknown }, 'Trying it with what you changed.');
  } catch (error) {
    wrong.value = `This is not JSON: ${(error as Error).message}`;
  }
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-1.5">
    <button v-if="effectKey === null" class="btn btn-main" :disabled="busy" @click="decide({}, 'Trying again.')">
      Try again
    </button>
    <template v-else-if="asks">
      <button class="btn btn-main" :disabled="busy" @click="decide({ do: 'retry' }, 'Yes. It goes on.')">Yes</button>
      <button v-if="canEdit" class="btn" :disabled="busy" :aria-expanded="editing" @click="edit">
        Change the words
      </button>
      <button class="btn" :disabled="busy" @click="decide({ do: 'skip' }, 'No. It ends here.')">No</button>
    </template>
    <template v-else>
      <button
        v-if="trouble === 'unknown'"
        class="btn btn-main"
        :disabled="busy"
        @click="decide({ do: 'itWentOut' }, posts ? 'Written down as posted.' : 'Written down as done.')"
      >
        {{ posts ? 'It went out' : 'It was done' }}
      </button>
      <button
        v-if="trouble !== 'too-long' && trouble !== 'empty'"
        class="btn"
        :disabled="busy"
        @click="decide({ do: 'retry' }, posts ? 'Posting it again.' : 'Trying again.')"
      >
        {{ trouble === 'unknown' ? `It did not, ${does} it` : 'Try again' }}
      </button>
      <button
        v-if="canEdit"
        class="btn"
        :class="trouble === 'too-long' && 'btn-main'"
        :disabled="busy"
        :aria-expanded="editing"
        @click="edit"
      >
        {{ asWords ? 'Change the words' : 'Change what is sent' }}
      </button>
      <button class="btn" :disabled="busy" @click="decide({ do: 'skip' }, 'Left out.')">Leave it out</button>
      <button class="btn" :disabled="busy" @click="decide({ do: 'end' }, 'The run ends here.')">End the run</button>
    </template>
    <form v-if="editing" class="mt-1 grid w-full gap-2" @submit.prevent="send">
      <textarea
        ref="area"
        v-model="words"
        rows="6"
        class="field w-full"
        :class="!asWords && 'font-mono text-sm'"
        :aria-label="asWords ? (posts ? 'The words to post' : 'The words') : 'What is sent'"
        @keydown.escape.stop="editing = false"
      ></textarea>
      <p v-if="wrong" role="alert" class="text-sm text-rose">{{ wrong }}</p>
      <div class="flex items-center gap-2">
        <button class="btn btn-main" :disabled="busy || tooLong || words.trim() === ''">
          {{
            asks ? 'Yes, with these words' : asWords ? (posts ? 'Post these words' : 'Send these words') : 'Send this'
          }}
        </button>
        <button type="button" class="btn btn-quiet" @click="editing = false">Cancel</button>
        <span v-if="asWords" class="ml-auto text-sm" :class="tooLong ? 'font-[650] text-rose' : 'text-ink-3'">
          {{ length }}<template v-if="limit !== null">/{{ limit }}</template
          ><template v-if="tooLong">, {{ length - limit! }} too many</template>
        </span>
      </div>
    </form>
  </div>
</template>
