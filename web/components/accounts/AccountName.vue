<script setup lang="ts">
import { call } from '../../lib/api.ts';
import { NETWORK_ICONS } from '../../lib/networks.ts';
import { dayAndTime } from '../../lib/times.ts';
import type { AccountRow, NetworkRow } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import KeptInput from '../form/KeptInput.vue';

// What an account is called here, to be changed in its place, and whose it is there.
const props = defineProps<{
  account: AccountRow;
  network: NetworkRow | undefined;
  /** It was connected just now. */
  fresh: boolean;
}>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const notices = useNotices();

async function rename(event: Event) {
  const input = event.target as HTMLInputElement;
  const name = input.value.trim();
  if (name === props.account.name) return;
  if (!name) return void (input.value = props.account.name);
  try {
    await call('renameAccount', { brand: session.brandId, id: props.account.id }, { body: { name } });
    notices.say('Renamed.');
    emit('changed');
  } catch (error) {
    notices.wrong(error);
  }
}
</script>

<template>
  <div>
    <div class="flex items-center gap-2">
      <component :is="NETWORK_ICONS[account.kind]" :size="15" class="shrink-0 text-ink-3" aria-hidden="true" />
      <KeptInput
        :id="`name-${account.id}`"
        :value="account.name"
        class="w-full rounded border border-transparent bg-transparent px-1 py-0.5 font-[650] hover:border-line focus:border-sea focus:bg-card"
        :aria-label="`Name of the account of ${account.remoteName}`"
        :title="account.name"
        maxlength="120"
        @change="rename"
        @keydown.enter="($event.target as HTMLInputElement).blur()"
      />
    </div>
    <div class="pl-7 text-sm text-ink-3">
      {{ account.remoteName }} at {{ network?.name ?? account.kind }} · since
      {{ dayAndTime(account.connectedAt, session.zone) }}
      <span v-if="fresh" class="text-sea"> · Connected. Change the name if another says it better.</span>
    </div>
  </div>
</template>
