<script setup lang="ts">
import { Film, RefreshCw, Store } from '@lucide/vue';
import { computed, nextTick, onMounted, ref } from 'vue';
import { useRoute } from 'vue-router';
import { api } from '../lib/api.ts';
import { ago, dayAndTime } from '../lib/times.ts';
import type { AccountRow } from '../lib/types.ts';
import { onChanges } from '../stores/changes.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';

const session = useSession();
const notices = useNotices();
const route = useRoute();
const networks = ref<{ kind: AccountRow['kind']; name: string }[]>([]);
const accounts = ref<AccountRow[]>();
const trouble = ref(typeof route.query.trouble === 'string' ? route.query.trouble : '');
const fresh = computed(() => Number(route.query.connected) || 0);
const busy = ref<number>();

const what = {
  video: { icon: Film, does: 'to notice new videos', outlets: 'channels' },
  pages: { icon: Store, does: 'to post on business pages', outlets: 'pages' },
};

async function load() {
  try {
    const answer = await api<{ networks: typeof networks.value; accounts: AccountRow[] }>(
      'GET',
      `${session.at}/accounts`,
    );
    networks.value = answer.networks;
    accounts.value = answer.accounts;
  } catch (error) {
    trouble.value = (error as Error).message;
  }
}
onMounted(async () => {
  await load();
  // A new account is named at once, while it is clear what it is for.
  await nextTick();
  if (fresh.value) document.querySelector<HTMLInputElement>(`#name-${fresh.value}`)?.select();
});
onChanges(['accounts'], load);

async function connect(kind: AccountRow['kind']) {
  try {
    const { url } = await api<{ url: string }>('POST', `${session.at}/accounts/connect`, {
      kind,
      backTo: `/${session.brandId}/accounts`,
    });
    window.location.assign(url);
  } catch (error) {
    notices.wrong(error);
  }
}
async function rename(account: AccountRow, event: Event) {
  const input = event.target as HTMLInputElement;
  const name = input.value.trim();
  if (name === account.name) return;
  if (!name) return void (input.value = account.name);
  try {
    await api('PATCH', `${session.at}/accounts/${account.id}`, { name });
    account.name = name;
    notices.say('Renamed.');
  } catch (error) {
    notices.wrong(error);
  }
}
async function refresh(account: AccountRow) {
  busy.value = account.id;
  try {
    await api('POST', `${session.at}/accounts/${account.id}/refresh`);
    notices.say(`The ${what[account.kind].outlets} are as the network lists them now.`);
  } catch (error) {
    notices.wrong(error);
  } finally {
    busy.value = undefined;
    await load();
  }
}
const leaving = ref<number>();
async function disconnect(account: AccountRow) {
  leaving.value = undefined;
  try {
    await api('POST', `${session.at}/accounts/${account.id}/disconnect`);
    notices.say(`${account.name} is disconnected.`);
    await load();
  } catch (error) {
    notices.wrong(error);
  }
}
</script>

<template>
  <div class="mx-auto max-w-[1280px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <h1 class="mr-auto text-xl">Accounts</h1>
      <button v-for="network in networks" :key="network.kind" class="btn" @click="connect(network.kind)">
        <component :is="what[network.kind].icon" :size="15" /> Connect {{ network.name }}
      </button>
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ trouble }}</p>
    <div v-if="accounts?.length === 0" class="sheet px-4 py-6">
      <h2 class="mb-1 text-lg">No accounts yet</h2>
      <p class="mb-4 max-w-prose text-ink-2">
        An account is a sign-in at a network. Playa sends you there to say yes; your password stays with the network,
        and you can take the yes back at any time.
      </p>
      <div class="flex flex-wrap gap-2">
        <button v-for="network in networks" :key="network.kind" class="btn btn-main" @click="connect(network.kind)">
          <component :is="what[network.kind].icon" :size="15" /> Connect {{ network.name }}
          {{ what[network.kind].does }}
        </button>
      </div>
    </div>
    <div v-else-if="accounts" class="sheet overflow-x-auto">
      <table class="w-full min-w-[900px]">
        <thead class="text-left text-sm text-ink-3">
          <tr class="border-b border-line">
            <th class="px-4 py-1.5 font-normal">account</th>
            <th class="w-64 px-2 py-1.5 font-normal">outlets</th>
            <th class="w-52 px-2 py-1.5 font-normal">health</th>
            <th class="w-52 px-2 py-1.5 font-normal">used by</th>
            <th class="w-64 px-2 py-1.5"></th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="account in accounts"
            :key="account.id"
            class="border-b border-line align-top last:border-0"
            :class="fresh === account.id && 'bg-sea-wash'"
          >
            <td class="px-4 py-2.5">
              <div class="flex items-center gap-2">
                <component :is="what[account.kind].icon" :size="15" class="shrink-0 text-ink-3" aria-hidden="true" />
                <input
                  :id="`name-${account.id}`"
                  :value="account.name"
                  class="w-full rounded border border-transparent bg-transparent px-1 py-0.5 font-[650] hover:border-line focus:border-sea focus:bg-card"
                  :aria-label="`Name of the account of ${account.remoteName}`"
                  maxlength="120"
                  @change="rename(account, $event)"
                  @keydown.enter="($event.target as HTMLInputElement).blur()"
                />
              </div>
              <div class="pl-7 text-sm text-ink-3">
                {{ account.remoteName }} at {{ networks.find((each) => each.kind === account.kind)?.name }} · since
                {{ dayAndTime(account.connectedAt, session.zone) }}
                <span v-if="fresh === account.id" class="text-sea">
                  · Connected. Change the name if another says it better.</span
                >
              </div>
            </td>
            <td class="px-2 py-2.5">
              <div v-for="outlet in account.outlets" :key="outlet.id" :class="outlet.gone && 'text-ink-3 line-through'">
                <a
                  v-if="outlet.address"
                  class="inline-block min-h-6"
                  :href="outlet.address"
                  target="_blank"
                  rel="noreferrer"
                  >{{ outlet.name }}</a><template v-else>{{ outlet.name }}</template>
                <span v-if="outlet.gone"> gone</span>
              </div>
              <span v-if="account.outlets.length === 0" class="text-ink-3">none listed</span>
            </td>
            <td class="px-2 py-2.5">
              <span v-if="account.status === 'ok'" class="pill bg-kelp-wash text-kelp">Works</span>
              <span v-else-if="account.status === 'reconnect'" class="pill bg-rose-wash text-rose">Connect again</span>
              <span v-else class="pill bg-paper text-ink-2">Disconnected</span>
              <div class="mt-0.5 text-sm text-ink-3">
                <template v-if="account.status !== 'ok' && account.trouble">{{ account.trouble }}</template>
                <template v-else-if="account.lastOkAt">last used {{ ago(account.lastOkAt) }}</template>
                <span v-if="account.waiting" class="text-amber">
                  {{ account.waiting === 1 ? '1 post waits' : `${account.waiting} posts wait` }} for it.</span
                >
              </div>
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
            <td class="px-2 py-2 text-right whitespace-nowrap">
              <div v-if="leaving === account.id" class="text-left text-sm whitespace-normal">
                <p v-if="account.workflows.length" class="mb-1">
                  These stop: <b>{{ account.workflows.map((workflow) => workflow.name).join(', ') }}</b>.
                </p>
                <p v-else class="mb-1">No workflow uses it.</p>
                <button class="btn mr-1" @click="disconnect(account)">Disconnect</button
                ><button class="btn btn-quiet" @click="leaving = undefined">Keep it</button>
              </div>
              <template v-else-if="account.status === 'ok'">
                <button class="btn btn-quiet" :disabled="busy === account.id" @click="refresh(account)">
                  <RefreshCw :size="13" /> Refresh {{ what[account.kind].outlets }}
                </button>
                <button class="btn btn-quiet" @click="leaving = account.id">Disconnect …</button>
              </template>
              <button v-else class="btn btn-main" @click="connect(account.kind)">Connect again</button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="!trouble" class="text-ink-3">Loading …</p>
  </div>
</template>
