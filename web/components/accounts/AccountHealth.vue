<script setup lang="ts">
import { ago, shortMoment } from '../../lib/times.ts';
import type { AccountRow, NetworkRow } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';

// Whether an account works, and what it lacks or waits for.
defineProps<{ account: AccountRow; network: NetworkRow | undefined }>();
const session = useSession();
</script>

<template>
  <div>
    <span v-if="account.status === 'ok'" class="pill bg-kelp-wash text-kelp">Works</span>
    <span v-else-if="account.status === 'reconnect'" class="pill bg-rose-wash text-rose">Connect again</span>
    <span v-else class="pill bg-paper text-ink-2">Disconnected</span>
    <div class="mt-0.5 text-sm text-ink-3">
      <template v-if="account.status !== 'ok' && account.trouble">{{ account.trouble }}</template>
      <template v-else-if="account.lastOkAt">last used {{ ago(account.lastOkAt) }}</template>
      <span v-if="account.status === 'ok' && account.tokenExpiresAt" class="block">renewed by itself</span>
      <span v-if="account.missing.length" class="block text-amber">
        Was not allowed to {{ account.missing.join(', ') }}. Connect again and allow it.
      </span>
      <span v-if="account.slowUntil" class="block text-amber">
        {{ network?.name ?? 'The network' }} asks to go slower. Goes on at
        {{ shortMoment(account.slowUntil, session.zone) }}.
      </span>
      <span v-if="account.waiting" class="block text-amber">
        {{ account.waiting === 1 ? '1 post waits' : `${account.waiting} posts wait` }} for it.</span
      >
    </div>
  </div>
</template>
