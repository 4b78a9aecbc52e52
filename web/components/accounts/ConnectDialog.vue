<script setup lang="ts">
import { computed, nextTick, ref } from 'vue';
import type { NetworkKind } from '@playa/core/outlets/networks.ts';
import { call } from '../../lib/api.ts';
import { NETWORK_ICONS } from '../../lib/networks.ts';
import type { NetworkRow } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import ModalDialog from '../form/ModalDialog.vue';

// Connecting an account: choose the kind, then either say yes on a page of the network's, or hand over a key here.
const props = defineProps<{ networks: NetworkRow[]; kind?: NetworkKind | undefined }>();
const emit = defineEmits<{ close: []; connected: [id: number] }>();
const session = useSession();
const chosen = ref<NetworkRow | undefined>(props.networks.find((each) => each.kind === props.kind));
const values = ref<Record<string, string>>({});
const busy = ref(false);
const wrong = ref('');
const form = computed(() => (chosen.value?.signIn.by === 'form' ? chosen.value.signIn : undefined));

async function choose(network: NetworkRow) {
  chosen.value = network;
  wrong.value = '';
  values.value = {};
  if (network.signIn.by === 'consent') return leave(network);
  await nextTick();
  document.querySelector<HTMLInputElement>('#connect-form input')?.focus();
}
async function leave(network: NetworkRow) {
  busy.value = true;
  try {
    const { url } = await call(
      'beginConnect',
      { brand: session.brandId },
      {
        body: {
          kind: network.kind,
          backTo: `/${session.brandId}/accounts`,
        },
      },
    );
    window.location.assign(url);
  } catch (error) {
    wrong.value = (error as Error).message;
    busy.value = false;
  }
}
async function send() {
  if (!chosen.value) return;
  busy.value = true;
  wrong.value = '';
  try {
    const { id } = await call(
      'connectByForm',
      { brand: session.brandId },
      {
        body: {
          kind: chosen.value.kind,
          values: values.value,
        },
      },
    );
    emit('connected', id);
  } catch (error) {
    // What was typed stays.
    wrong.value = (error as Error).message;
  } finally {
    busy.value = false;
  }
}
if (chosen.value?.signIn.by === 'consent') void leave(chosen.value);
</script>

<template>
  <ModalDialog
    :title="form && chosen ? `Connect ${chosen.name}` : 'Connect an account'"
    width="large"
    :busy="busy"
    @close="emit('close')"
  >
    <template v-if="form && chosen" #icon>
      <component :is="NETWORK_ICONS[chosen.kind]" :size="18" aria-hidden="true" />
    </template>
    <template v-if="form && chosen">
      <p class="mb-3 max-w-prose text-ink-2">{{ form.help }}</p>
      <form id="connect-form" class="grid max-w-lg gap-2.5" @submit.prevent="send">
        <label v-for="field in form.fields" :key="field.name" class="grid gap-0.5">
          <span>{{ field.label }}<span v-if="field.optional" class="text-ink-3"> (may be left empty)</span></span>
          <input
            v-model="values[field.name]"
            class="field w-full"
            :type="field.secret ? 'password' : 'text'"
            :placeholder="field.hint"
            :required="!field.optional"
            autocomplete="off"
            spellcheck="false"
          />
        </label>
        <p v-if="wrong" role="alert" class="rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
        <p class="text-sm text-ink-3">What you fill in is kept sealed, and never shown again.</p>
      </form>
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
