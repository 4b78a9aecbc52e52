<script setup lang="ts">
import { computed, nextTick, ref } from 'vue';
import type { Media } from '@playa/core/model/acts.ts';
import type { Fault } from '@playa/core/model/cells.ts';
import { KIND_RULES, type OutletKind } from '@playa/core/outlets/kinds.ts';
import { purposeOf, titleRules, wordRules } from '@playa/core/outlets/length.ts';
import { refusal } from '@playa/core/captions/say.ts';
import { writtenText } from '@playa/core/captions/written.ts';
import { call } from '../lib/api.ts';
import { useAttempt } from '../lib/attempt.ts';
import type { Sent } from '../lib/endpoint-types.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';

/** What a person can decide about something held: yes or no, other words, another input, again, went out, leave out, end. */
const props = defineProps<{
  runId: number;
  /** Null when the run itself is stuck. */
  effectKey: string | null;
  text: string | null;
  /** The sort of outlet, for counting as it does. */
  kind?: OutletKind | null | undefined;
  trouble: string | undefined;
  /** Which part of it is at fault. */
  fault?: Fault | null | undefined;
  action: string | null;
  /** What would be sent, for changing it. */
  input: Record<string, unknown> | null;
  /** Its workflow is paused: what is decided waits. */
  paused?: boolean;
  /** It no longer waits; what is being typed stays. */
  gone?: boolean;
}>();
const emit = defineEmits<{ decided: [] }>();

const session = useSession();
const notices = useNotices();
const editing = ref(false);
const words = ref('');
const wrong = ref('');
const area = ref<HTMLTextAreaElement | HTMLInputElement>();
const title = ref<HTMLInputElement>();
const { busy, attempt } = useAttempt(notices.wrong);
/** What this person has decided, while the row keeps its place. */
const mine = ref('');
/** The words as they were when this person began to change them. */
const began = ref('');
const changed = computed(() => editing.value && !props.gone && asWords.value && props.text !== began.value);
async function copyWords() {
  await navigator.clipboard.writeText(words.value);
  notices.say('Your words are copied.');
}

/** A question put on purpose: yes or no. */
const asks = computed(() => props.action === 'hold');
/** What has words is changed as words, anything else as what would be sent. */
const asWords = computed(() => props.text !== null);
const canEdit = computed(() => (asks.value ? props.text !== null : asWords.value || props.input !== null));
/** The title of a post that has one of its own. */
const heading = ref('');
const titled = computed(() => typeof props.input?.title === 'string');
const rules = computed(() => {
  const purpose = purposeOf(props.action ?? '');
  if (!props.kind || !purpose) return null;
  return wordRules(props.kind, purpose, Array.isArray(props.input?.media) && props.input.media.length > 0);
});
const length = computed(() => (rules.value ? writtenText(rules.value, words.value).length : words.value.length));
/** What the outlet would say against the words, or against their title. */
const refused = computed(() => {
  if (!rules.value || !asWords.value) return '';
  const ofTitle = props.kind && titled.value ? titleRules(props.kind) : undefined;
  // Words that stay as they were keep their formatting, so only whoever holds them knows how long they are.
  const judged = words.value !== props.text || (props.trouble === 'too-long' && props.fault !== 'title');
  return (
    (judged ? refusal(rules.value, writtenText(rules.value, words.value), 'this outlet') : undefined) ??
    (ofTitle && refusal(ofTitle, writtenText(ofTitle, heading.value), 'the title')) ??
    ''
  );
});
const posts = computed(() => props.action === 'publish' || props.action === null);
const does = computed(() => (posts.value ? 'post' : 'send'));

async function edit() {
  words.value = asWords.value ? (props.text ?? '') : JSON.stringify(props.input, null, 2);
  heading.value = titled.value ? String(props.input!.title) : '';
  wrong.value = '';
  began.value = props.text ?? '';
  editing.value = true;
  await nextTick();
  (props.fault === 'title' ? title : area).value?.focus();
}

async function decide(decision: Sent<'decide'>['body']['decision'], said: string) {
  await attempt(async () => {
    await (props.effectKey === null
      ? call('tryRunAgain', { brand: session.brandId, id: props.runId })
      : call('decide', { brand: session.brandId, id: props.runId }, { body: { key: props.effectKey, decision } }));
    editing.value = false;
    mine.value = said;
    notices.say(props.paused ? `${said} The workflow is paused, so it waits until that goes on.` : said);
    emit('decided');
  });
}
/** Whether the picture would be taken in another shape. */
const shapeable = computed(() => props.fault === 'shape' && Array.isArray(props.input?.media));
/** What would be sent, with its pictures brought to a shape that is taken. */
function shaped(by: 'crop' | 'pad') {
  const [least, most] = (props.kind && KIND_RULES[props.kind].media.shape) || [0.5, 2];
  const media = (props.input!.media as Media[]).map((each) =>
    each.type === 'picture' ? { ...each, shape: { by, least, most } } : each,
  );
  return { ...props.input, media };
}
/** What would be sent, with another title, and with other words where they were changed. */
function retitled() {
  const input: Record<string, unknown> = { ...props.input, title: heading.value };
  // Markup would say the old words.
  if (words.value !== input.text) delete input.markup;
  return { ...input, text: words.value };
}
function send() {
  if (asks.value)
    return decide(
      { do: 'retry', text: words.value },
      props.trouble === 'date' ? 'It goes on then, if that is a date.' : 'Yes, with your words.',
    );
  if (asWords.value)
    return decide(
      titled.value && heading.value !== props.input!.title
        ? { do: 'retry', input: retitled() }
        : { do: 'retry', text: words.value },
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
    <p v-if="gone" class="w-full text-sm text-ink-3" role="status">
      {{ mine || 'This no longer waits for you: a colleague decided it, or it changed.' }}
    </p>
    <button
      v-else-if="effectKey === null"
      class="btn btn-main"
      :disabled="busy"
      @click="decide({ do: 'retry' }, 'Trying again.')"
    >
      Try again
    </button>
    <template v-else-if="asks">
      <button
        v-if="trouble !== 'date'"
        class="btn btn-main"
        :disabled="busy"
        @click="decide({ do: 'retry' }, 'Yes. It goes on.')"
      >
        Yes
      </button>
      <button
        v-if="canEdit"
        class="btn"
        :class="trouble === 'date' && 'btn-main'"
        :disabled="busy"
        :aria-expanded="editing"
        @click="edit"
      >
        {{ trouble === 'date' ? 'Write when' : 'Change the words' }}
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
      <template v-if="shapeable">
        <button
          class="btn btn-main"
          :disabled="busy"
          @click="decide({ do: 'retry', input: shaped('crop') }, 'Posting it with the picture cropped.')"
        >
          Crop it
        </button>
        <button
          class="btn"
          :disabled="busy"
          @click="decide({ do: 'retry', input: shaped('pad') }, 'Posting it with a margin around the picture.')"
        >
          Give it a margin
        </button>
      </template>
      <button
        v-else-if="trouble !== 'too-long' && trouble !== 'empty'"
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
      <input v-if="titled" ref="title" v-model="heading" class="field w-full font-[650]" aria-label="The title" />
      <input
        v-if="trouble === 'date'"
        ref="area"
        v-model="words"
        class="field w-full"
        placeholder="2026-11-25 18:30"
        aria-label="When it goes on"
        @keydown.escape.stop="editing = false"
      />
      <textarea
        v-else
        ref="area"
        v-model="words"
        rows="6"
        class="field w-full"
        :class="!asWords && 'font-mono text-sm'"
        :aria-label="asWords ? (posts ? 'The words to post' : 'The words') : 'What is sent'"
        @keydown.escape.stop="editing = false"
      ></textarea>
      <p v-if="wrong" role="alert" class="text-sm text-rose">{{ wrong }}</p>
      <p
        v-if="changed"
        role="status"
        class="rounded-(--radius) bg-amber-wash px-2 py-1 text-sm break-words whitespace-pre-line"
      >
        It changed while you wrote, and says now: “{{ text }}”
      </p>
      <div class="flex items-center gap-2">
        <button v-if="gone" type="button" class="btn" @click="copyWords">Copy your words</button>
        <button v-else class="btn btn-main" :disabled="busy || refused !== '' || words.trim() === ''">
          {{
            trouble === 'date'
              ? 'Go on then'
              : asks
                ? 'Yes, with these words'
                : asWords
                  ? posts
                    ? 'Post these words'
                    : 'Send these words'
                  : 'Send this'
          }}
        </button>
        <button type="button" class="btn btn-quiet" @click="editing = false">Cancel</button>
        <span
          v-if="asWords"
          class="ml-auto text-sm"
          :class="refused ? 'font-[650] text-rose' : 'text-ink-3'"
          aria-live="polite"
        >
          <template v-if="refused">{{ refused }}</template><template v-else
            >{{ length }}<template v-if="rules && rules.limit !== null">/{{ rules.limit }}</template></template
          >
        </span>
      </div>
    </form>
  </div>
</template>
