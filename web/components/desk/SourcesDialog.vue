<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue';
import { onMounted, ref } from 'vue';
import { api } from '../../lib/api.ts';
import { everyPage } from '../../lib/pages.ts';
import type { Answer, DeskSource } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

// Where the desk listens.
const emit = defineEmits<{ close: [] }>();
const session = useSession();
const notices = useNotices();
const sources = ref<DeskSource[]>();
const trouble = ref('');
const busy = ref(false);

async function load() {
  try {
    const pages = await everyPage<Answer<'listDeskSources'>>(`${session.at}/desk/sources`);
    sources.value = pages.flatMap((page) => page.sources);
    trouble.value = '';
  } catch (error) {
    trouble.value = (error as Error).message;
  }
}
onMounted(load);
async function listen(chosen: readonly DeskSource[], listens: boolean) {
  busy.value = true;
  try {
    for (const { outletId, what } of chosen)
      await api('PUT', `${session.at}/desk/sources`, { outletId, what, listens });
  } catch (error) {
    notices.wrong(error);
  } finally {
    busy.value = false;
    await load();
  }
}
</script>

<template>
  <Dialog :open="true" class="fixed inset-0 z-40 grid place-items-center bg-ink/40 p-4" @close="emit('close')">
    <DialogPanel class="sheet flex max-h-[86vh] w-full max-w-xl flex-col p-5 shadow-xl">
      <DialogTitle class="text-lg font-[650]">Where the desk listens</DialogTitle>
      <p class="mt-1 text-ink-2">What people write there comes to the desk, whether or not a workflow answers it.</p>
      <p v-if="trouble" role="alert" class="mt-2 text-rose">{{ trouble }}</p>
      <p v-if="sources?.length === 0" class="mt-3">
        No account of this brand has a place where people write.
        <RouterLink class="link" :to="{ name: 'accounts', params: { brand: session.brandId } }">Connect one</RouterLink
        >, of reviews, photos, pages or films.
      </p>
      <ul v-else class="mt-3 min-h-0 overflow-auto rounded-(--radius) border border-line">
        <li
          v-for="source in sources"
          :key="`${source.outletId}.${source.what}`"
          class="border-b border-line last:border-0"
        >
          <label class="flex items-start gap-2.5 px-3 py-2">
            <input
              type="checkbox"
              class="mt-1 accent-(--sea)"
              :checked="source.listens || source.used"
              :disabled="busy || source.used"
              @change="listen([source], ($event.target as HTMLInputElement).checked)"
            />
            <span class="min-w-0">
              <b>{{ source.outlet }}</b>: {{ source.what }}
              <span class="block text-sm text-ink-3"
                >{{ source.account }}<template v-if="source.used"> · a workflow listens here already</template></span
              >
            </span>
          </label>
        </li>
      </ul>
      <div class="mt-4 flex flex-wrap justify-end gap-2">
        <button
          v-if="sources?.some((source) => !source.listens && !source.used)"
          class="btn"
          :disabled="busy"
          @click="
            listen(
              (sources ?? []).filter((source) => !source.listens && !source.used),
              true,
            )
          "
        >
          Listen everywhere
        </button>
        <button class="btn btn-main" @click="emit('close')">Done</button>
      </div>
    </DialogPanel>
  </Dialog>
</template>
