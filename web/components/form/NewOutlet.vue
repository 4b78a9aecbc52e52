<script setup lang="ts">
import { computed, ref } from 'vue';
import type { ActName } from '@playa/core/model/acts.ts';
import { call } from '../../lib/api.ts';
import { everyPage } from '../../lib/pages.ts';
import type { AccountRow, NetworkRow } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ChooseOne from './ChooseOne.vue';
import AddOutlet from './AddOutlet.vue';

// Choosing an outlet that is not there yet: by its address, or made anew, without leaving the run sheet.
const props = defineProps<{ act: ActName }>();
const emit = defineEmits<{ made: [outlet: number] }>();
const session = useSession();
const editor = useEditor();
const notices = useNotices();
const open = ref(false);
const networks = ref<NetworkRow[]>([]);
const accounts = ref<AccountRow[]>([]);
const account = ref<number>();
const chosen = computed(() => accounts.value.find((each) => each.id === account.value));
const networkOf = (kind?: string) => networks.value.find((each) => each.kind === kind);

async function begin() {
  open.value = true;
  try {
    const [known, pages] = await Promise.all([
      call('listNetworks', { brand: session.brandId }),
      everyPage('listAccounts', { brand: session.brandId }),
    ]);
    networks.value = known.networks;
    const all = pages.flatMap((page) => page.accounts);
    accounts.value = all
      .sort((a, b) => a.name.localeCompare(b.name))
      .filter((each) => {
        const network = networkOf(each.kind);
        return (
          each.status === 'ok' &&
          network?.acts.includes(props.act) &&
          (network.opens !== null || network.creations.length > 0)
        );
      });
    account.value = accounts.value.length === 1 ? accounts.value[0]!.id : undefined;
  } catch (error) {
    open.value = false;
    notices.wrong(error);
  }
}
async function added(outlet: number) {
  open.value = false;
  await editor.refreshWorld();
  emit('made', outlet);
}
</script>

<template>
  <button v-if="!open" type="button" class="btn btn-quiet px-1" @click="begin">Somewhere that is not listed …</button>
  <div v-else class="grid gap-1.5">
    <p v-if="accounts.length === 0" class="text-ink-2">
      The connected accounts list all they have.
      <RouterLink class="link" :to="{ name: 'accounts', params: { brand: session.brandId } }"
        >Connect another</RouterLink
      >
    </p>
    <ChooseOne
      v-else-if="accounts.length > 1"
      class="max-w-96"
      label="At which account"
      prompt="choose the account"
      :options="accounts.map(({ id, name }) => ({ value: id, name }))"
      :value="account"
      @change="account = Number($event)"
    />
    <AddOutlet
      v-if="chosen && networkOf(chosen.kind)"
      :key="chosen.id"
      :account-id="chosen.id"
      :network="networkOf(chosen.kind)!"
      @added="added"
      @close="open = false"
    />
  </div>
</template>
