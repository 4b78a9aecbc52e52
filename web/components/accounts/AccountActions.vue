<script setup lang="ts">
import { RefreshCw } from '@lucide/vue';
import { computed, ref } from 'vue';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import type { AccountRow, NetworkRow } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

// Asking a network what there is anew, connecting again, and letting an account go: what stops is said first.
const props = defineProps<{ account: AccountRow; network: NetworkRow | undefined }>();
const emit = defineEmits<{ changed: []; reconnect: [] }>();
const session = useSession();
const notices = useNotices();
const { busy, attempt } = useAttempt(notices.wrong);
const leaving = ref(false);
const stops = computed(() => props.account.workflows.filter((workflow) => workflow.status === 'live'));

async function during(work: () => Promise<unknown>, says: string) {
  await attempt(async () => {
    await work();
    notices.say(says);
  });
  emit('changed');
}
const refresh = () =>
  during(
    () => call('refreshOutlets', { brand: session.brandId, id: props.account.id }),
    `The ${props.network?.outlets ?? 'outlets'} are as the network lists them now.`,
  );
function disconnect() {
  leaving.value = false;
  return during(
    () => call('disconnectAccount', { brand: session.brandId, id: props.account.id }),
    `${props.account.name} is disconnected.`,
  );
}
</script>

<template>
  <div class="text-right">
    <div v-if="leaving" class="text-left text-sm">
      <p v-if="stops.length" class="mb-1">
        These stop: <b>{{ stops.map((workflow) => workflow.name).join(', ') }}</b>.
      </p>
      <p v-else class="mb-1">No live workflow uses it.</p>
      <button class="btn mr-1" @click="disconnect">Disconnect</button
      ><button class="btn btn-quiet" @click="leaving = false">Keep it</button>
    </div>
    <template v-else-if="account.status === 'ok'">
      <button
        class="btn btn-quiet px-2"
        :disabled="busy"
        :aria-label="`Refresh the ${network?.outlets ?? 'outlets'} of ${account.name}`"
        :title="`Refresh ${network?.outlets ?? 'outlets'}`"
        @click="refresh"
      >
        <RefreshCw :size="14" />
      </button>
      <button v-if="account.missing.length" class="btn" @click="emit('reconnect')">Connect again</button>
      <button class="btn btn-quiet px-2" @click="leaving = true">Disconnect …</button>
    </template>
    <button v-else class="btn btn-main" @click="emit('reconnect')">Connect again</button>
  </div>
</template>
