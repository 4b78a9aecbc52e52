<script setup lang="ts">
import { ref } from 'vue';
import { call } from '../../lib/api.ts';
import type { LogbookEntry } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ModalDialog from '../form/ModalDialog.vue';

// Several posts are deleted at their networks, one after the other; what could not be says why and stays.
const props = defineProps<{ entries: readonly LogbookEntry[] }>();
const emit = defineEmits<{ close: []; done: [] }>();
const session = useSession();
const notices = useNotices();
const busy = ref(false);
const failed = ref<{ entry: LogbookEntry; says: string }[]>([]);
const gone = ref(0);

async function remove() {
  busy.value = true;
  const entries = [...props.entries];
  for (const entry of entries) {
    try {
      await call('deletePost', { brand: session.brandId, key: entry.key });
      gone.value++;
    } catch (error) {
      failed.value.push({ entry, says: (error as Error).message });
    }
  }
  busy.value = false;
  if (failed.value.length > 0) return;
  notices.say(`${gone.value} ${gone.value === 1 ? 'post is' : 'posts are'} deleted.`);
  emit('done');
}
</script>

<template>
  <ModalDialog
    :title="`Delete ${entries.length} ${entries.length === 1 ? 'post' : 'posts'} at their networks?`"
    :busy="busy"
    @close="emit('close')"
  >
    <p class="text-ink-2">Nobody sees them there any more. What they said stays here, and nothing is posted again.</p>
    <ul class="mt-3 max-h-60 overflow-auto">
      <li v-for="entry in entries" :key="entry.key" class="border-b border-line py-1 last:border-0">
        <span class="line-clamp-1">{{ entry.text || 'Without words' }}</span>
        <span class="text-sm text-ink-3">{{ entry.outlet }}</span>
      </li>
    </ul>
    <ul v-if="failed.length" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose" role="alert">
      <li v-for="{ entry, says } in failed" :key="entry.key">{{ entry.outlet }}: {{ says }}</li>
    </ul>
    <p v-if="busy" role="status" class="mt-2 text-ink-2">{{ gone }} of {{ entries.length }} …</p>
    <template #actions>
      <button v-if="failed.length" class="btn" @click="emit('done')">Close</button>
      <template v-else>
        <button class="btn" :disabled="busy" @click="emit('close')">Leave them</button>
        <button class="btn btn-main" :disabled="busy" @click="remove">Delete {{ entries.length }} there</button>
      </template>
    </template>
  </ModalDialog>
</template>
