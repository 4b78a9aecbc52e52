<script setup lang="ts">
import { computed, ref } from 'vue';
import { call } from '../lib/api.ts';
import { useEditor } from '../stores/editor.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import { useResource } from '../stores/resource.ts';

// What of the past a workflow has still to work through, and a way to stop that.
const editor = useEditor();
const session = useSession();
const notices = useNotices();
const asking = ref(false);

const { data: open, load } = useResource(
  'countOpenRuns',
  () => (editor.workflow?.liveVersion ? { brand: session.brandId, id: editor.workflow.id } : null),
  { topics: ['runs'] },
);
const left = computed(() => (editor.workflow?.liveVersion && open.value?.backfill) || 0);

async function stop() {
  asking.value = false;
  try {
    const { dropped } = await call('dropBackfill', { brand: session.brandId, id: editor.workflow!.id });
    notices.say(`${dropped} of the past will not be worked through. What is new goes on.`);
    await load();
  } catch (error) {
    notices.wrong(error);
  }
}
</script>

<template>
  <p v-if="left" class="flex flex-wrap items-center gap-2 text-sm text-ink-2" role="status">
    {{ left === 1 ? '1 item of the past is' : `${left} items of the past are` }} still to be worked through.
    <template v-if="asking">
      <button class="btn px-2 py-0.5" @click="stop">Leave {{ left === 1 ? 'it' : 'them' }} out</button>
      <button class="btn btn-quiet px-2 py-0.5" @click="asking = false">Go on</button>
    </template>
    <button v-else class="btn btn-quiet px-2 py-0.5" @click="asking = true">Stop …</button>
  </p>
</template>
