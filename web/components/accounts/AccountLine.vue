<script setup lang="ts">
import { RefreshCw } from '@lucide/vue';
import { computed, ref } from 'vue';
import { api } from '../../lib/api.ts';
import { NETWORK_ICONS } from '../../lib/networks.ts';
import { ago, dayAndTime, shortMoment } from '../../lib/times.ts';
import type { AccountRow, NetworkRow } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import AddOutlet from '../form/AddOutlet.vue';
import OutletLine from './OutletLine.vue';
import KeptInput from '../form/KeptInput.vue';

// A row of the table of accounts.
const props = defineProps<{ account: AccountRow; network: NetworkRow | undefined; fresh: boolean }>();
const emit = defineEmits<{ changed: []; reconnect: [] }>();
const session = useSession();
const notices = useNotices();
const busy = ref(false);
const leaving = ref(false);
const adding = ref(false);
const all = ref(false);
/** Many outlets would push the next account out of sight. */
const FEW = 4;
const shown = computed(() => (all.value ? props.account.outlets : props.account.outlets.slice(0, FEW)));
const stops = computed(() => props.account.workflows.filter((workflow) => workflow.status === 'live'));

async function rename(event: Event) {
  const input = event.target as HTMLInputElement;
  const name = input.value.trim();
  if (name === props.account.name) return;
  if (!name) return void (input.value = props.account.name);
  try {
    await api('PATCH', `${session.at}/accounts/${props.account.id}`, { name });
    notices.say('Renamed.');
    emit('changed');
  } catch (error) {
    notices.wrong(error);
  }
}
async function during(work: () => Promise<unknown>, says: string) {
  busy.value = true;
  try {
    await work();
    notices.say(says);
  } catch (error) {
    notices.wrong(error);
  } finally {
    busy.value = false;
    emit('changed');
  }
}
const refresh = () =>
  during(
    () => api('POST', `${session.at}/accounts/${props.account.id}/refresh`),
    `The ${props.network?.outlets ?? 'outlets'} are as the network lists them now.`,
  );
function disconnect() {
  leaving.value = false;
  return during(
    () => api('POST', `${session.at}/accounts/${props.account.id}/disconnect`),
    `${props.account.name} is disconnected.`,
  );
}
function added() {
  adding.value = false;
  all.value = true;
  emit('changed');
}
const share = computed(() => {
  const { allowance } = props.account;
  return allowance ? Math.min(100, Math.round((100 * allowance.used) / allowance.calls)) : 0;
});
</script>

<template>
  <tr class="border-b border-line align-top last:border-0" :class="fresh && 'bg-sea-wash'">
    <td class="px-4 py-2.5">
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
    </td>
    <td class="px-2 py-2.5">
      <OutletLine
        v-for="outlet in shown"
        :key="outlet.id"
        :outlet="outlet"
        :works="account.status === 'ok'"
        @changed="emit('changed')"
      />
      <button v-if="account.outlets.length > FEW" class="link mr-3 min-h-6 text-sm" @click="all = !all">
        {{ all ? 'fewer' : `and ${account.outlets.length - FEW} more` }}
      </button>
      <span v-if="account.outlets.length === 0 && !adding" class="text-ink-3">none yet</span>
      <template v-if="account.status === 'ok' && network && (network.opens || network.creations.length)">
        <AddOutlet v-if="adding" :account-id="account.id" :network="network" @added="added" @close="adding = false" />
        <button v-else class="btn btn-quiet -ml-2 min-h-7 px-2 py-0.5 text-sm" @click="adding = true">Add one …</button>
      </template>
    </td>
    <td class="px-2 py-2.5">
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
    </td>
    <td class="px-2 py-2.5">
      <template v-if="account.allowance">
        <div
          class="mt-1.5 h-1.5 w-full overflow-hidden rounded bg-paper"
          role="meter"
          :aria-valuenow="share"
          aria-valuemin="0"
          aria-valuemax="100"
          aria-label="Share of the allowance that is used"
        >
          <div
            class="h-full"
            :class="share > 80 ? 'bg-rose' : share > 50 ? 'bg-amber' : 'bg-kelp'"
            :style="{ width: `${Math.max(share, account.allowance.used ? 2 : 0)}%` }"
          ></div>
        </div>
        <div class="mt-0.5 text-sm text-ink-3">
          {{ account.allowance.used }} of {{ account.allowance.calls.toLocaleString('en') }} calls this
          {{ account.allowance.per }}; about {{ account.allowance.forecast }} expected
        </div>
      </template>
      <span v-else class="text-sm text-ink-3">no limit known</span>
    </td>
    <td class="px-2 py-2.5">
      <RouterLink
        v-for="workflow in account.workflows"
        :key="workflow.id"
        class="block min-h-6"
        :to="{ name: 'run-sheet', params: { brand: session.brandId, id: workflow.id } }"
        >{{ workflow.name }}</RouterLink
      >
      <span v-if="account.workflows.length === 0" class="text-ink-3">no workflow yet</span>
    </td>
    <td class="px-2 py-2 text-right">
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
    </td>
  </tr>
</template>
