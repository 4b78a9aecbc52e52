<script setup lang="ts">
import { UserRoundPlus, X } from '@lucide/vue';
import { useDebounceFn } from '@vueuse/core';
import { ref, watch } from 'vue';
import { NETWORK_WORDS, type NetworkKind } from '@playa/core/outlets/networks.ts';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import type { ListedContacts, Contact } from '../../lib/types.ts';
import { useBrandHere } from '../../stores/brand-here.ts';
import { useNotices } from '../../stores/notices.ts';

// Somebody who is known more than once: here and at another network, or twice at one.
const props = defineProps<{ contact: Contact }>();
const emit = defineEmits<{ changed: [person: Contact] }>();
const { id: brand } = useBrandHere();
const notices = useNotices();
const asking = ref(false);
const words = ref('');
const found = ref<ListedContacts['contacts']>();
const { busy, attempt } = useAttempt(notices.wrong);
const networkOf = (network: string) => NETWORK_WORDS[network as NetworkKind]?.name ?? network;

watch(
  () => props.contact.id,
  () => (asking.value = false),
);
function ask() {
  asking.value = true;
  // Most are called alike.
  words.value = props.contact.name;
  void find();
}
let turn = 0;
async function find() {
  const mine = ++turn;
  try {
    const { contacts } = await call('listContacts', { brand: brand.value }, { query: { words: words.value } });
    if (mine === turn) found.value = contacts.filter(({ id }) => id !== props.contact.id).slice(0, 8);
  } catch (error) {
    notices.wrong(error);
  }
}
const findSoon = useDebounceFn(find, 250);

async function merge(other: { id: number; name: string }) {
  await attempt(async () => {
    emit(
      'changed',
      await call('mergeContacts', { brand: brand.value, contact: props.contact.id }, { body: { other: other.id } }),
    );
    asking.value = false;
    notices.say(`${other.name} and ${props.contact.name} are one from now on.`, () => void separate(other));
  });
}
async function separate(other: { id: number; name: string }) {
  try {
    emit('changed', await call('separateContacts', { brand: brand.value, contact: props.contact.id, other: other.id }));
    notices.say(`${other.name} is somebody else again.`);
  } catch (error) {
    notices.wrong(error);
  }
}
</script>

<template>
  <div>
    <p v-for="each in contact.also" :key="each.id" class="flex items-center gap-1 text-sm text-ink-2">
      <span class="min-w-0 flex-1 truncate">also {{ each.name }}, {{ networkOf(each.network) }}</span>
      <button class="link shrink-0" @click="separate(each)">not the same</button>
    </p>
    <button v-if="!asking" class="btn btn-quiet px-0" @click="ask">
      <UserRoundPlus :size="14" /> The same person as …
    </button>
    <div v-else class="rounded-(--radius) bg-paper p-2">
      <div class="flex gap-1">
        <input
          v-model="words"
          type="search"
          class="field min-w-0 flex-1"
          aria-label="Who is the same person"
          placeholder="a name"
          @input="findSoon"
        />
        <button class="btn btn-quiet px-1" aria-label="They are not known otherwise" @click="asking = false">
          <X :size="14" />
        </button>
      </div>
      <ul class="mt-1" aria-label="People like that">
        <li v-for="each in found" :key="each.id">
          <button
            class="w-full rounded-(--radius) px-2 py-1 text-left hover:bg-sea-wash"
            :disabled="busy"
            @click="merge(each)"
          >
            <b>{{ each.name }}</b> <span class="text-ink-3">{{ networkOf(each.network) }}</span>
            <span v-if="each.lastText" class="block truncate text-sm text-ink-3">{{ each.lastText }}</span>
          </button>
        </li>
      </ul>
      <p v-if="found?.length === 0" class="mt-1 text-sm text-ink-3">Nobody else is called like that.</p>
    </div>
  </div>
</template>
