<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import type { PostCell } from '@playa/core/engine/cells.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { momentOf } from '@playa/core/rehearsal/rehearse.ts';
import { shortMoment } from '../../lib/times.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';

// The post as the page will show it. The card's picture and title are the item's own when the card leads to it.
const editor = useEditor();
const session = useSession();
const chosen = ref(0);

const posts = computed<PostCell[]>(() => {
  const item = editor.chosenItem;
  if (!item) return [];
  const trace = editor.chosenRun?.trace ?? editor.outcomes(item).trace;
  return Object.values(trace).flatMap((cell) => (cell.kind === 'posts' ? cell.posts : []));
});
const post = computed(() => posts.value.find((each) => each.outlet === chosen.value) ?? posts.value[0]);
watch(posts, (all) => {
  if (!all.some((each) => each.outlet === chosen.value)) chosen.value = all[0]?.outlet ?? 0;
});
const name = (id: number) => editor.world.outlets.get(id)?.name ?? 'gone';
const isItem = computed(() => post.value?.card === fieldText(readField(editor.chosenItem?.fields ?? {}, 'link')));
const picture = computed(() => fieldText(readField(editor.chosenItem?.fields ?? {}, 'thumbnail.url')));
const title = computed(() => fieldText(readField(editor.chosenItem?.fields ?? {}, 'title')));
const host = computed(() => {
  try {
    return new URL(post.value?.card ?? '').host;
  } catch {
    return '';
  }
});
const kind = computed(() => editor.world.outlets.get(post.value?.outlet ?? 0)?.kind ?? 'page');
const media = computed(() => post.value?.more?.media?.find(({ type }) => type === 'picture'));
/** A picture that is only found when the workflow runs has no address yet. */
const pictureUrl = computed(() => (/^https?:/.test(media.value?.url ?? '') ? media.value!.url : ''));
/** A room shows a card beside or instead of the words. */
const asCard = computed(() => kind.value === 'room' && (post.value?.more?.show ?? 'text') !== 'text');
const role = computed(() => {
  const { details } = editor.world.outlets.get(post.value?.outlet ?? 0) ?? {};
  return details?.roles?.find((each) => each.id === post.value?.more?.mention)?.name;
});
const cardOnly = computed(() => asCard.value && post.value?.more?.show === 'card');
/** What the outlet gets when the caption was made to fit it. */
const shortened = computed(() => {
  const item = editor.chosenItem;
  if (!post.value || !item) return false;
  const trace = editor.chosenRun?.trace ?? editor.outcomes(item).trace;
  const texts = Object.values(trace).flatMap((cell) => (cell.kind === 'text' ? [cell.text] : []));
  return post.value.text !== '' && !texts.includes(post.value.text) && texts.some((text) => text.length > 0);
});
const pieces = computed(() => (post.value?.text ?? '').split(/(https?:\/\/[^\s<>"]*[^\s<>".,;:!?)])/));
</script>

<template>
  <div>
    <div class="mb-1.5 flex items-center gap-2">
      <h3 class="shrink-0">As it will look</h3>
      <select
        v-if="posts.length > 1"
        v-model="chosen"
        class="field ml-auto py-0.5 text-sm"
        aria-label="On which outlet"
      >
        <option v-for="each in posts" :key="each.outlet" :value="each.outlet">{{ name(each.outlet) }}</option>
      </select>
    </div>
    <div v-if="post" class="overflow-hidden rounded-(--radius) border border-line bg-card">
      <div class="px-3 pt-2 pb-2">
        <b>{{ name(post.outlet) }}</b>
        <span class="text-sm text-ink-3">{{ shortMoment(post.at || momentOf(editor.chosenItem!), session.zone) }}</span>
        <b v-if="role" class="mr-1 rounded bg-sea-wash px-1 text-sea">@{{ role }}</b>
        <b v-if="post.more?.title && !asCard" class="block">{{ post.more.title }}</b>
        <div
          v-if="asCard"
          class="my-1 border-l-4 bg-paper px-2 py-1"
          :style="{ borderColor: post.more?.colour ?? 'var(--line)' }"
        >
          <b class="block">{{ post.more?.title || post.text.split('\n')[0] }}</b>
          <span class="break-words whitespace-pre-line">{{
            post.more?.title ? post.text : post.text.split('\n').slice(1).join('\n')
          }}</span>
          <img v-if="pictureUrl" :src="pictureUrl" :alt="media?.alt" class="mt-1 max-h-40 w-full object-cover" />
        </div>
        <p v-if="!cardOnly" class="break-words whitespace-pre-line">
          <template v-for="(piece, index) in pieces" :key="index"
            ><span v-if="index % 2" class="text-sea underline">{{ piece }}</span
            ><template v-else>{{ piece }}</template></template
          >
        </p>
        <p v-if="post.text === '' && !media" class="text-amber">No words</p>
        <p v-if="post.more?.silent" class="text-sm text-ink-3">without a sound</p>
      </div>
      <img v-if="pictureUrl && !asCard" :src="pictureUrl" :alt="media?.alt" class="aspect-[2/1] w-full object-cover" />
      <p v-else-if="media && !asCard" class="bg-paper px-3 py-4 text-center text-sm text-ink-3">{{ media.url }}</p>
      <div v-if="post.card && (media || asCard)" class="truncate border-t border-line bg-paper px-3 py-1 text-sm">
        leads to {{ post.card }}
      </div>
      <template v-else-if="post.card">
        <img v-if="isItem && picture" :src="picture" alt="" class="aspect-[2/1] w-full object-cover" />
        <div class="border-t border-line bg-paper px-3 py-1.5">
          <span class="text-sm text-ink-3">{{ host }}</span><b v-if="isItem" class="block truncate">{{ title }}</b>
        </div>
      </template>
    </div>
    <p v-else-if="!editor.chosenItem" class="text-ink-3">The post shows here.</p>
    <p v-else class="text-ink-3">This item does not get as far as a post.</p>
    <p v-if="shortened && !post?.trouble" class="mt-1.5 text-sm text-ink-3">
      Shortened to fit: {{ post?.length }} of {{ post?.limit }}.
    </p>
    <p v-if="post?.trouble" class="mt-1.5 text-sm text-amber">It would not go out like this: {{ post.says }}</p>
  </div>
</template>
