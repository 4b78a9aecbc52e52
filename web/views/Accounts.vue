<script setup lang="ts">
import { Plus } from '@lucide/vue';
import { computed, nextTick, onMounted, ref } from 'vue';
import { useRoute } from 'vue-router';
import type { NetworkKind } from '@playa/core/outlets/networks.ts';
import AccountLine from '../components/accounts/AccountLine.vue';
import ConnectDialog from '../components/accounts/ConnectDialog.vue';
import { api } from '../lib/api.ts';
import { everyPage } from '../lib/pages.ts';
import type { AccountRow, Answer, NetworkRow } from '../lib/types.ts';
import { onChanges } from '../stores/changes.ts';
import { useSession } from '../stores/session.ts';

const session = useSession();
const route = useRoute();
const networks = ref<NetworkRow[]>([]);
const accounts = ref<AccountRow[]>();
const trouble = ref('');
const fresh = ref(Number(route.query.connected) || 0);
const connecting = ref<{ kind?: NetworkKind } | null>(null);
const search = ref('');

async function load() {
  try {
    const [known, pages] = await Promise.all([
      api<Answer<'listNetworks'>>('GET', `${session.at}/networks`),
      everyPage<Answer<'listAccounts'>>(`${session.at}/accounts`),
    ]);
    networks.value = known.networks;
    accounts.value = pages.flatMap((page) => page.accounts);
  } catch (error) {
    trouble.value = (error as Error).message;
  }
}
/** A new account is named at once, while it is clear what it is for. */
async function name(id: number) {
  fresh.value = id;
  await nextTick();
  document.querySelector<HTMLInputElement>(`#name-${id}`)?.select();
}
onMounted(async () => {
  await load();
  // What a network answered to a sign-in: only in words that the server itself put there.
  if (typeof route.query.trouble === 'string')
    trouble.value = await api<{ says: string }>(
      'GET',
      `/oauth/trouble/${encodeURIComponent(route.query.trouble)}`,
    ).then(
      ({ says }) => says,
      () => '',
    );
  if (fresh.value) await name(fresh.value);
  const wanted = networks.value.find((network) => network.kind === route.query.connect);
  if (wanted) connecting.value = { kind: wanted.kind };
});
onChanges(['accounts'], load);
async function connected(id: number) {
  connecting.value = null;
  await load();
  await name(id);
}

const shown = computed(() => {
  const wanted = search.value.trim().toLowerCase();
  const order = networks.value.map((network) => network.kind);
  return (accounts.value ?? [])
    .filter(
      (account) =>
        wanted === '' ||
        [account.name, account.remoteName, networkOf(account)?.name, ...account.outlets.map((outlet) => outlet.name)]
          .join(' ')
          .toLowerCase()
          .includes(wanted),
    )
    .sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind) || a.name.localeCompare(b.name));
});
const networkOf = (account: AccountRow) => networks.value.find((each) => each.kind === account.kind);
const ailing = computed(() => (accounts.value ?? []).filter((account) => account.status === 'reconnect').length);
</script>

<template>
  <div class="mx-auto max-w-[1280px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <h1 class="text-xl">Accounts</h1>
      <span v-if="ailing" class="pill bg-rose-wash text-rose">{{ ailing }} to connect again</span>
      <input
        v-if="(accounts?.length ?? 0) > 3"
        v-model="search"
        type="search"
        class="field ml-auto w-60"
        placeholder="Find an account or outlet"
        aria-label="Find an account or outlet"
      />
      <button class="btn btn-main" :class="(accounts?.length ?? 0) > 3 ? '' : 'ml-auto'" @click="connecting = {}">
        <Plus :size="15" /> Connect an account
      </button>
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
    <div v-else-if="accounts" class="sheet overflow-x-auto">
      <table class="w-full min-w-[1100px] table-fixed">
        <thead class="text-left text-sm text-ink-3">
          <tr class="border-b border-line">
            <th class="px-4 py-1.5 font-normal">account</th>
            <th class="w-56 px-2 py-1.5 font-normal">outlets</th>
            <th class="w-40 px-2 py-1.5 font-normal">health</th>
            <th class="w-36 px-2 py-1.5 font-normal">allowance</th>
            <th class="w-48 px-2 py-1.5 font-normal">used by</th>
            <th class="w-40 px-2 py-1.5"><span class="sr-only">actions</span></th>
          </tr>
        </thead>
        <tbody>
          <AccountLine
            v-for="account in shown"
            :key="account.id"
            :account="account"
            :network="networkOf(account)"
            :fresh="fresh === account.id"
            @changed="load"
            @reconnect="connecting = { kind: account.kind }"
          />
        </tbody>
      </table>
      <p v-if="shown.length === 0" class="px-4 py-4 text-ink-3">No account or outlet is called that.</p>
    </div>
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
