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
        <p class="break-words whitespace-pre-line">
          <template v-for="(piece, index) in pieces" :key="index"
            ><span v-if="index % 2" class="text-sea underline">{{ piece }}</span
            ><template v-else>{{ piece }}</template></template
          >
        </p>
        <p v-if="post.text === ''" class="text-amber">No words</p>
      </div>
      <template v-if="post.card">
        <img v-if="isItem && picture" :src="picture" alt="" class="aspect-[2/1] w-full object-cover" />
        <div class="border-t border-line bg-paper px-3 py-1.5">
          <span class="text-sm text-ink-3">{{ host }}</span><b v-if="isItem" class="block truncate">{{ title }}</b>
        </div>
      </template>
    </div>
    <p v-else-if="!editor.chosenItem" class="text-ink-3">The post shows here.</p>
    <p v-else class="text-ink-3">This item does not get as far as a post.</p>
    <p v-if="post?.trouble" class="mt-1.5 text-sm text-amber">It would not go out like this: {{ post.says }}</p>
  </div>
</template>
