<script setup lang="ts">
import { storeToRefs } from 'pinia';
import { computed, ref, watch } from 'vue';
import type { ActCell, PostCell } from '@playa/core/model/cells.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { sayTrimmedParts } from '@playa/core/captions/say-trimmed.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { countGraphemes } from '@playa/core/text/graphemes.ts';
import { shortMoment } from '../../lib/times.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';
import ChooseOne from '../form/ChooseOne.vue';
import FormattedText from './FormattedText.vue';
import LinkCard from './LinkCard.vue';
import PostEdits from './PostEdits.vue';
import { momentOf } from '@playa/core/rehearsal/virtual-run.ts';

// The post as its outlet will show it: its formatting, where it folds, and the page it links to.
withDefaults(defineProps<{ /** What stands where there is no post. */ nothing?: string }>(), {
  nothing: 'This item does not get as far as a post.',
});
const editor = useEditor();
const session = useSession();
const { outlet: chosen } = storeToRefs(editor);

const posts = computed<PostCell[]>(() => {
  const item = editor.chosenItem;
  if (!item) return [];
  const trace = editor.chosenRun?.trace ?? editor.outcomes(item).trace;
  return Object.values(trace).flatMap((cell) => (cell.kind === 'posts' ? cell.posts : []));
});
/** Replies and messages, where there is no post. */
const answers = computed<ActCell[]>(() => {
  const item = editor.chosenItem;
  if (!item) return [];
  const trace = editor.chosenRun?.trace ?? editor.outcomes(item).trace;
  return Object.values(trace).flatMap((cell) =>
    cell.kind === 'acts'
      ? cell.acts.filter((act) => (act.action === 'reply' || act.action === 'message') && act.text)
      : [],
  );
});
/** What is answered: who wrote, and what. */
const asked = computed(() => {
  const fields = editor.chosenItem?.fields ?? {};
  const said = (path: string) => fieldText(readField(fields, path));
  const stars = Number(said('stars'));
  return {
    by: said('person.name') || said('author.name'),
    text: said('text'),
    stars: stars >= 1 && stars <= 5 ? Math.round(stars) : 0,
  };
});
const post = computed(() => posts.value.find((each) => each.outlet === chosen.value) ?? posts.value[0]);
watch(posts, (all) => {
  // Zero stands for the first; an outlet that is not posted to is not looked at.
  if (all.length > 0 && !all.some((each) => each.outlet === chosen.value)) chosen.value = 0;
});
const name = (id: number) => editor.world.outlets.get(id)?.name ?? 'gone';
const kind = computed(() => editor.world.outlets.get(post.value?.outlet ?? 0)?.kind ?? 'page');
const media = computed(() => post.value?.more?.media?.find(({ type }) => type === 'picture'));
const film = computed(() => (media.value ? undefined : post.value?.more?.media?.find(({ type }) => type === 'video')));
const others = computed(() => Math.max(0, (post.value?.more?.media?.length ?? 0) - 1));
/** Films are shown where they are the brand's own; nothing else is played from outside. */
const ownFilm = computed(() => film.value?.url.startsWith('/files/'));
/** A picture that is only found when the workflow runs has no address yet. */
const pictureUrl = computed(() => (/^(?:https?:|\/files\/)/.test(media.value?.url ?? '') ? media.value!.url : ''));
/** A room shows a card beside or instead of the words. */
const asCard = computed(() => kind.value === 'room' && (post.value?.more?.show ?? 'text') !== 'text');
const group = computed(() => {
  const { details } = editor.world.outlets.get(post.value?.outlet ?? 0) ?? {};
  return details?.groups?.find((each) => each.id === post.value?.more?.mention)?.name;
});
const cardOnly = computed(() => asCard.value && post.value?.more?.show === 'card');
const trimmed = computed(() => sayTrimmedParts(post.value?.trimmed));
const rules = computed(() => KIND_RULES[kind.value]);
/** Unfolded by the reader; folded again for another post, but not when the same one is only looked at anew. */
const unfolded = ref(false);
watch([() => post.value?.outlet, () => editor.chosenItem?.id], () => (unfolded.value = false));
const folds = computed(() => {
  const { folds: at } = rules.value.text;
  return at !== null && post.value && countGraphemes(post.value.text) > at ? at : null;
});
/** Where pictures come first, words stand below them. */
const pictureFirst = computed(() => kind.value === 'photos' || kind.value === 'board');
const outlet = computed(() => editor.world.outlets.get(post.value?.outlet ?? 0));
const canEdit = computed(
  () =>
    editor.chosenRun &&
    post.value?.status === 'posted' &&
    !post.value.deleted &&
    post.value.key &&
    (outlet.value?.revisions?.length ?? 0) > 0,
);
</script>

<template>
  <div>
    <div class="mb-1.5 flex items-center gap-2">
      <h3 class="shrink-0">As it will look</h3>
      <ChooseOne
        v-if="posts.length > 1"
        class="ml-auto text-sm"
        label="On which outlet"
        :value="post?.outlet"
        :options="posts.map(({ outlet }) => ({ value: outlet, name: name(outlet) }))"
        @change="chosen = Number($event)"
      />
    </div>
    <div
      v-if="post"
      class="flex flex-col overflow-hidden rounded-(--radius) border border-line bg-card"
      :class="kind === 'broadcast' && 'rounded-bl-none bg-sea-wash'"
      role="group"
      :aria-label="`The post on ${name(post.outlet)}`"
    >
      <div class="px-3 pt-2 pb-2" :class="pictureFirst && 'order-2'">
        <b>{{ name(post.outlet) }}</b>
        <span v-if="kind === 'room'" class="mx-1 rounded bg-paper px-1 text-[11px] text-ink-2">bot</span>
        <span class="text-sm text-ink-3">{{
          ' ' + shortMoment(post.at || momentOf(editor.chosenItem!), session.zone)
        }}</span>
        <span v-if="post.deleted" class="text-sm text-amber">, deleted since</span>
        <span v-else-if="post.edited" class="text-sm text-ink-3">, edited since</span>
        <b v-if="group" class="ml-1 rounded bg-sea-wash px-1 text-sea">@{{ group }}</b>
        <b v-if="post.more?.title && !asCard" class="block">{{ post.more.title }}</b>
        <div v-if="asCard" class="my-1 rounded-(--radius) border border-line bg-paper px-2 py-1">
          <b class="flex items-center gap-2"
            ><span
              v-if="post.more?.colour"
              class="size-3 shrink-0 rounded-full"
              :style="{ background: post.more.colour }"
              role="img"
              :aria-label="`in the colour ${post.more.colour}`"
            ></span
            >{{ post.more?.title || post.text.split('\n')[0] }}</b
          >
          <span class="break-words whitespace-pre-line">{{
            post.more?.title ? post.text : post.text.split('\n').slice(1).join('\n')
          }}</span>
          <img v-if="pictureUrl" :src="pictureUrl" :alt="media?.alt" class="mt-1 max-h-40 w-full object-cover" />
        </div>
        <p v-if="!cardOnly" class="break-words whitespace-pre-line">
          <FormattedText
            :text="post.text"
            :markup="post.more?.markup"
            :format="rules.text.format"
            :links="rules.text.links"
            :shown="unfolded ? null : folds"
          /><button v-if="folds !== null" class="ml-1 text-ink-3 underline" @click="unfolded = !unfolded">
            {{ unfolded ? 'less' : 'more' }}
          </button>
        </p>
        <p v-if="post.text === '' && !post.more?.media?.length" class="text-amber">No words</p>
        <p v-if="post.more?.silent" class="text-sm text-ink-3">without a sound</p>
      </div>
      <img
        v-if="pictureUrl && !asCard"
        :src="pictureUrl"
        :alt="media?.alt"
        class="w-full object-cover"
        :class="kind === 'board' ? 'aspect-[4/5] max-h-56' : 'aspect-[2/1]'"
      />
      <video
        v-else-if="film && ownFilm"
        :src="film.url"
        controls
        preload="metadata"
        class="aspect-[2/1] w-full bg-black"
      ></video>
      <p v-else-if="(media || film) && !asCard" class="bg-paper px-3 py-4 text-center text-sm break-all text-ink-3">
        {{ (media ?? film)!.url }}
      </p>
      <p v-if="others && !asCard" class="px-3 py-1 text-sm text-ink-3">and {{ others }} more</p>
      <div
        v-if="post.card && rules.linkCard !== 'card' && (media || asCard)"
        class="truncate border-t border-line bg-paper px-3 py-1 text-sm"
        :class="pictureFirst && 'order-3'"
      >
        leads to {{ post.card }}
      </div>
      <LinkCard v-else-if="post.card" :url="post.card" />
    </div>
    <div v-else-if="answers.length" class="grid gap-2">
      <div class="overflow-hidden rounded-(--radius) border border-line bg-card px-3 pt-2 pb-2.5">
        <b>{{ asked.by || 'Somebody' }}</b>
        <span v-if="asked.stars" class="ml-1.5 text-amber" :aria-label="`${asked.stars} of 5 stars`">{{
          '★'.repeat(asked.stars) + '☆'.repeat(5 - asked.stars)
        }}</span>
        <p v-if="asked.text" class="line-clamp-4 break-words whitespace-pre-line">{{ asked.text }}</p>
        <p v-else class="text-ink-3">wrote no words</p>
        <div
          v-for="(answer, index) in answers"
          :key="index"
          class="mt-2 rounded-(--radius) border-l-2 border-sea bg-sea-wash px-3 py-1.5"
          role="group"
          :aria-label="answer.action === 'reply' ? 'The answer' : 'The message'"
        >
          <span class="text-sm text-ink-3">
            {{ answer.action === 'reply' ? 'answered' : 'written to them' }} by
            <b class="text-ink-2">{{ answer.outlet === null ? 'the brand' : name(answer.outlet) }}</b>
          </span>
          <p class="break-words whitespace-pre-line">{{ answer.text }}</p>
          <p v-if="answer.trouble" class="text-sm text-amber">It would not go out like this: {{ answer.says }}</p>
          <p v-else-if="answer.trimmed" class="text-sm text-ink-3">
            Made to fit: {{ sayTrimmedParts(answer.trimmed) }}.
          </p>
        </div>
      </div>
    </div>
    <p v-else-if="!editor.chosenItem" class="text-ink-3">The post shows here.</p>
    <p v-else class="text-ink-3">{{ nothing }}</p>
    <p v-if="folds !== null && post" class="mt-1.5 text-sm text-ink-3">
      Readers see the first {{ folds }} characters until they ask for more.
    </p>
    <p v-if="trimmed && !post?.trouble" class="mt-1.5 text-sm text-ink-3">
      Made to fit: {{ trimmed
      }}<template v-if="post?.trimmed?.text"
        >, {{ post.trimmed.text.from }} → {{ post.length }} of {{ post.limit }}</template
      >.
    </p>
    <PostEdits v-if="canEdit && post && outlet" :post="post" :outlet="outlet" />
    <p v-if="post?.trouble" class="mt-1.5 text-sm text-amber">It would not go out like this: {{ post.says }}</p>
  </div>
</template>
