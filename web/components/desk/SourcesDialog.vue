<script setup lang="ts">
import { computed } from 'vue';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import type { DeskSource } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { useWholeList } from '../../stores/resource.ts';
import ModalDialog from '../form/ModalDialog.vue';

// Where the desk listens.
const emit = defineEmits<{ close: [] }>();
const session = useSession();
const notices = useNotices();
const { data: pages, trouble, load } = useWholeList('listDeskSources', () => ({ brand: session.brandId }));
const sources = computed(() => pages.value?.flatMap((page) => page.sources));
const { busy, attempt } = useAttempt(notices.wrong);

async function listen(chosen: readonly DeskSource[], listens: boolean) {
  await attempt(async () => {
    for (const { outletId, what } of chosen)
      await call('setDeskSource', { brand: session.brandId }, { body: { outletId, what, listens } });
  });
  await load();
}
</script>

<template>
  <ModalDialog title="Where the desk listens" @close="emit('close')">
    <p class="mt-1 text-ink-2">What people write there comes to the desk, whether or not a workflow answers it.</p>
    <p v-if="trouble" role="alert" class="mt-2 text-rose">{{ trouble }}</p>
    <p v-if="sources?.length === 0" class="mt-3">
      No account of this brand has a place where people write.
      <RouterLink class="link" :to="{ name: 'accounts', params: { brand: session.brandId } }">Connect one</RouterLink>,
      of reviews, photos, pages or films.
    </p>
    <ul v-else class="mt-3 rounded-(--radius) border border-line">
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
    <template #actions>
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
    </template>
  </ModalDialog>
</template>
