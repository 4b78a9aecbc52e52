<script setup lang="ts">
import { ref, watch } from 'vue';
import { api } from '../lib/api.ts';
import { onChanges } from '../stores/changes.ts';
import { useEditor } from '../stores/editor.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';

// What of the past a workflow has still to work through, and a way to stop that.
const editor = useEditor();
const session = useSession();
const notices = useNotices();
const left = ref(0);
const asking = ref(false);
const at = () => `${session.at}/workflows/${editor.workflow!.id}`;

async function load() {
  if (!editor.workflow?.liveVersion) return void (left.value = 0);
  left.value = (await api<{ backfill: number }>('GET', `${at()}/open`)).backfill;
}
watch([() => editor.workflow?.id, () => editor.workflow?.liveVersion], () => void load().catch(() => undefined), {
  immediate: true,
});
onChanges(['runs'], load);

async function stop() {
  asking.value = false;
  try {
    const { dropped } = await api<{ dropped: number }>('DELETE', `${at()}/backfill`);
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
