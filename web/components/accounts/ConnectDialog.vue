<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import type { NetworkKind } from '@playa/core/outlets/networks.ts';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import { NETWORK_ICONS } from '../../lib/networks.ts';
import type { NetworkRow } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import FieldsForm from '../form/FieldsForm.vue';
import ModalDialog from '../form/ModalDialog.vue';

// Connecting an account: choose the kind, then either say yes on a page of the network's, or hand over a key here.
const props = defineProps<{ networks: NetworkRow[]; kind?: NetworkKind | undefined }>();
const emit = defineEmits<{ close: []; connected: [id: number] }>();
const session = useSession();
const chosen = ref<NetworkRow | undefined>(props.networks.find((each) => each.kind === props.kind));
const { busy: leaving, trouble: wrong, attempt } = useAttempt();
const sending = ref(false);
const busy = computed(() => leaving.value || sending.value);
const fields = useTemplateRef<{ changed: boolean }>('fields');
const form = computed(() => (chosen.value?.signIn.by === 'form' ? chosen.value.signIn : undefined));

async function choose(network: NetworkRow) {
  chosen.value = network;
  wrong.value = '';
  if (network.signIn.by === 'consent') return leave(network);
  await nextTick();
  document.querySelector<HTMLInputElement>('#connect-form input')?.focus();
}
async function leave(network: NetworkRow) {
  const url = await attempt(async () => {
    const body = { kind: network.kind, backTo: `/${session.brandId}/accounts` };
    return (await call('beginConnect', { brand: session.brandId }, { body })).url;
  });
  if (url === undefined) return;
  // Nothing can be pressed until the page is left.
  sending.value = true;
  window.location.assign(url);
}
async function send(values: Record<string, string>) {
  const { kind } = chosen.value!;
  emit('connected', (await call('connectByForm', { brand: session.brandId }, { body: { kind, values } })).id);
}
if (chosen.value?.signIn.by === 'consent') void leave(chosen.value);
</script>

<template>
  <ModalDialog
    :title="form && chosen ? `Connect ${chosen.name}` : 'Connect an account'"
    width="large"
    :busy="busy"
    :unsaved="fields?.changed"
    @close="emit('close')"
  >
    <template v-if="form && chosen" #icon>
      <component :is="NETWORK_ICONS[chosen.kind]" :size="18" aria-hidden="true" />
    </template>
    <template v-if="form && chosen">
      <p class="mb-3 max-w-prose text-ink-2">{{ form.help }}</p>
      <FieldsForm
        id="connect-form"
        ref="fields"
        :key="chosen.kind"
        class="max-w-lg"
        :fields="form.fields"
        :send="send"
        @busy="sending = $event"
      >
        <p class="text-sm text-ink-3">What you fill in is kept sealed, and never shown again.</p>
      </FieldsForm>
    </template>
    <template v-else>
      <p class="mb-3 text-ink-2">Where does it belong?</p>
      <ul class="grid grid-cols-2 gap-2 sm:grid-cols-3">
        <li v-for="network in networks" :key="network.kind">
          <button
            class="flex h-full w-full items-start gap-2.5 rounded-(--radius) border border-line px-3 py-2 text-left hover:border-sea hover:bg-sea-wash"
            :disabled="busy"
            @click="choose(network)"
          >
            <component
              :is="NETWORK_ICONS[network.kind]"
              :size="17"
              class="mt-0.5 shrink-0 text-sea"
              aria-hidden="true"
            />
            <span>
              <b class="block">{{ network.name }}</b>
              <span class="block text-sm text-ink-2">to {{ network.does }}</span>
              <span class="block text-sm text-ink-3">{{
                network.signIn.by === 'form' ? 'with a key' : 'you say yes there'
              }}</span>
            </span>
          </button>
        </li>
      </ul>
      <p v-if="wrong" role="alert" class="mt-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
    </template>
    <template #actions>
      <button v-if="form && chosen && !kind" type="button" class="btn btn-quiet mr-auto" @click="chosen = undefined">
        Another kind
      </button>
      <button type="button" class="btn" @click="emit('close')">Not now</button>
      <button v-if="form && chosen" form="connect-form" class="btn btn-main" :disabled="busy">
        {{ busy ? 'Asking …' : 'Connect' }}
      </button>
    </template>
  </ModalDialog>
</template>
