<script setup lang="ts">
import { Plus } from '@lucide/vue';
import { until } from '@vueuse/core';
import { computed, nextTick, onMounted, ref } from 'vue';
import { useRoute } from 'vue-router';
import type { NetworkKind } from '@playa/core/outlets/networks.ts';
import AccountActions from '../components/accounts/AccountActions.vue';
import AccountAllowance from '../components/accounts/AccountAllowance.vue';
import AccountHealth from '../components/accounts/AccountHealth.vue';
import AccountName from '../components/accounts/AccountName.vue';
import AccountOutlets from '../components/accounts/AccountOutlets.vue';
import ConnectDialog from '../components/accounts/ConnectDialog.vue';
import type { Column } from '../components/table/columns.ts';
import DataTable from '../components/table/DataTable.vue';
import { call } from '../lib/api.ts';
import type { AccountRow, NetworkRow } from '../lib/types.ts';
import { useSession } from '../stores/session.ts';
import { useResource, useWholeList } from '../stores/resource.ts';

const session = useSession();
const route = useRoute();
const brand = () => ({ brand: session.brandId });
const { data: known, trouble: unknown } = useResource('listNetworks', brand);
const { data: pages, trouble: unread, load } = useWholeList('listAccounts', brand, { topics: ['accounts'] });
const networks = computed<NetworkRow[]>(() => known.value?.networks ?? []);
const accounts = computed(() => known.value && pages.value?.flatMap((page) => page.accounts));
/** What a network answered to a sign-in. */
const refused = ref('');
const trouble = computed(() => refused.value || unread.value || unknown.value);
const fresh = ref(Number(route.query.connected) || 0);
const connecting = ref<{ kind?: NetworkKind } | null>(null);

/** A new account is named at once, while it is clear what it is for. */
async function name(id: number) {
  fresh.value = id;
  await nextTick();
  const field = document.querySelector<HTMLInputElement>(`#name-${id}`);
  field?.focus();
  field?.select();
}
onMounted(async () => {
  // Only in words that the server itself put there.
  if (typeof route.query.trouble === 'string')
    refused.value = await call('readTrouble', { token: route.query.trouble }).then(
      ({ says }) => says,
      () => '',
    );
});
// Once it is known what there is, also when it was known before: what somebody came for.
onMounted(async () => {
  await until(() => accounts.value !== undefined).toBe(true);
  if (fresh.value) await name(fresh.value);
  const wanted = networks.value.find((network) => network.kind === route.query.connect);
  if (wanted) connecting.value = { kind: wanted.kind };
});
async function connected(id: number) {
  connecting.value = null;
  await load();
  await name(id);
}

/** As their networks are listed; the one that is being named comes first. */
const rows = computed(() => {
  const place = (account: AccountRow) =>
    account.id === fresh.value ? -1 : networks.value.findIndex((network) => network.kind === account.kind);
  return [...(accounts.value ?? [])].sort((x, y) => place(x) - place(y) || x.name.localeCompare(y.name));
});
const networkOf = (account: AccountRow) => networks.value.find((each) => each.kind === account.kind);
const HEALTH = { ok: 'works', reconnect: 'connect again', disconnected: 'disconnected' };
const columns: Column<AccountRow>[] = [
  {
    id: 'account',
    title: 'account',
    value: (account) => [account.name, account.remoteName, networkOf(account)?.name].join(' '),
  },
  {
    id: 'outlets',
    title: 'outlets',
    width: 'w-56',
    value: ({ outlets }) => outlets.map((outlet) => outlet.name).join(' '),
  },
  { id: 'health', title: 'health', width: 'w-40', value: ({ status }) => HEALTH[status] },
  {
    id: 'allowance',
    title: 'allowance',
    width: 'w-36',
    value: ({ allowance }) => (allowance ? allowance.used / allowance.calls : null),
    optional: true,
  },
  {
    id: 'uses',
    title: 'used by',
    width: 'w-48',
    value: ({ workflows }) => workflows.map((workflow) => workflow.name).join(' '),
    optional: true,
  },
  { id: 'actions', title: 'actions', width: 'w-40', quiet: true },
];
const ailing = computed(() => (accounts.value ?? []).filter((account) => account.status === 'reconnect').length);
</script>

<template>
  <div class="mx-auto max-w-[1280px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <h1 class="text-xl">Accounts</h1>
      <span v-if="ailing" class="pill bg-rose-wash text-rose">{{ ailing }} to connect again</span>
      <button class="btn btn-main ml-auto" @click="connecting = {}"><Plus :size="15" /> Connect an account</button>
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ trouble }}</p>
    <div v-if="accounts?.length === 0" class="sheet px-4 py-6">
      <h2 class="mb-1 text-lg">No accounts yet</h2>
      <p class="mb-4 max-w-prose text-ink-2">
        An account is a sign-in at a network: the place where you post, or where something appears. Most networks ask
        you on a page of their own, so that your password stays there; some give you a key to hand over. You can take
        either back at any time.
      </p>
      <button class="btn btn-main" @click="connecting = {}"><Plus :size="15" /> Connect the first one</button>
    </div>
    <DataTable
      v-else-if="accounts"
      name="accounts"
      label="Accounts"
      :rows="rows"
      :columns="columns"
      :key-of="(account) => account.id"
      :marked="(account) => account.id === fresh"
      fixed
    >
      <template #cell-account="{ row: account }">
        <AccountName :account="account" :network="networkOf(account)" :fresh="fresh === account.id" @changed="load" />
      </template>
      <template #cell-outlets="{ row: account }">
        <AccountOutlets :account="account" :network="networkOf(account)" @changed="load" />
      </template>
      <template #cell-health="{ row: account }">
        <AccountHealth :account="account" :network="networkOf(account)" />
      </template>
      <template #cell-allowance="{ row: account }"><AccountAllowance :allowance="account.allowance" /></template>
      <template #cell-uses="{ row: account }">
        <RouterLink
          v-for="workflow in account.workflows"
          :key="workflow.id"
          class="block min-h-6"
          :to="{ name: 'run-sheet', params: { brand: session.brandId, id: workflow.id } }"
          >{{ workflow.name }}</RouterLink
        >
        <span v-if="account.workflows.length === 0" class="text-ink-3">no workflow yet</span>
      </template>
      <template #cell-actions="{ row: account }">
        <AccountActions
          :account="account"
          :network="networkOf(account)"
          @changed="load"
          @reconnect="connecting = { kind: account.kind }"
        />
      </template>
    </DataTable>
    <p v-else-if="!trouble" class="text-ink-3">Loading …</p>
    <ConnectDialog
      v-if="connecting"
      :networks="networks"
      :kind="connecting.kind"
      @close="connecting = null"
      @connected="connected"
    />
  </div>
</template>
