<script setup lang="ts">
import { computed, nextTick, ref } from 'vue';
import { textLength } from '@playa/core/outlets/kinds.ts';
import { api } from '../lib/api.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';

/** What a person can decide about something held: other words, again, went out, leave out. */
const props = defineProps<{
  runId: number;
  /** Null when the run itself is stuck. */
  effectKey: string | null;
  text: string | null;
  limit: number | null;
  trouble: string | undefined;
}>();
const emit = defineEmits<{ decided: [] }>();

const session = useSession();
const notices = useNotices();
const editing = ref(false);
const words = ref('');
const area = ref<HTMLTextAreaElement>();
const busy = ref(false);
const length = computed(() => textLength('page', words.value));
const tooLong = computed(() => props.limit !== null && length.value > props.limit);

async function edit() {
  words.value = props.text ?? '';
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
</script>

<template>
  <div class="flex flex-wrap items-center gap-1.5">
    <button v-if="effectKey === null" class="btn btn-main" :disabled="busy" @click="decide({}, 'Trying again.')">
      Try again
    </button>
    <template v-else>
      <button
        v-if="trouble === 'unknown'"
        class="btn btn-main"
        :disabled="busy"
        @click="decide({ do: 'itWentOut' }, 'Written down as posted.')"
      >
        It went out
      </button>
      <button
        v-if="trouble !== 'too-long' && trouble !== 'empty'"
        class="btn"
        :disabled="busy"
        @click="decide({ do: 'retry' }, 'Posting it again.')"
      >
        {{ trouble === 'unknown' ? 'It did not, post it' : 'Try again' }}
      </button>
      <button
        class="btn"
        :class="trouble === 'too-long' && 'btn-main'"
        :disabled="busy"
        :aria-expanded="editing"
        @click="edit"
      >
        Change the words
      </button>
      <button class="btn" :disabled="busy" @click="decide({ do: 'skip' }, 'Left out.')">Leave it out</button>
    </template>
    <form
      v-if="editing"
      class="mt-1 grid w-full gap-2"
      @submit.prevent="decide({ do: 'retry', text: words }, 'Posting it with your words.')"
    >
      <textarea
        ref="area"
        v-model="words"
        rows="6"
        class="field w-full"
        aria-label="The words to post"
        @keydown.escape.stop="editing = false"
      ></textarea>
      <div class="flex items-center gap-2">
        <button class="btn btn-main" :disabled="busy || tooLong || words.trim() === ''">Post these words</button>
        <button type="button" class="btn btn-quiet" @click="editing = false">Cancel</button>
        <span class="ml-auto text-sm" :class="tooLong ? 'font-[650] text-rose' : 'text-ink-3'">
          {{ length }}<template v-if="limit !== null">/{{ limit }}</template
          ><template v-if="tooLong">, {{ length - limit! }} too many</template>
        </span>
      </div>
    </form>
  </div>
</template>
