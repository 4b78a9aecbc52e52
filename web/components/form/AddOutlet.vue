<script setup lang="ts">
import { computed, ref } from 'vue';
import { call } from '../../lib/api.ts';
import type { NetworkRow } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';

// Another outlet for an account: by its address, or made anew at the network.
const props = defineProps<{ accountId: number; network: NetworkRow }>();
const emit = defineEmits<{ added: [id: number]; close: [] }>();
const session = useSession();
const ways = computed(() => [
  ...(props.network.opens ? [{ key: 'address', label: 'by its address' }] : []),
  ...props.network.creations.map(({ what }) => ({ key: what, label: `a new ${what}` })),
]);
const way = ref(ways.value[0]?.key ?? '');
const creation = computed(() => props.network.creations.find((each) => each.what === way.value));
const address = ref('');
const values = ref<Record<string, string>>({});
const busy = ref(false);
const wrong = ref('');

async function add() {
  busy.value = true;
  wrong.value = '';
  try {
    const { id } = creation.value
      ? await call(
          'createOutlet',
          { brand: session.brandId, id: props.accountId },
          { body: { what: creation.value.what, values: values.value } },
        )
      : await call('openOutlet', { brand: session.brandId, id: props.accountId }, { body: { address: address.value } });
    emit('added', id);
    address.value = '';
    values.value = {};
  } catch (error) {
    wrong.value = (error as Error).message;
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <form class="mt-1 grid gap-1.5 rounded-(--radius) border border-line bg-paper p-2" @submit.prevent="add">
    <div v-if="ways.length > 1" class="flex gap-3" role="radiogroup" aria-label="How it is added">
      <label v-for="each in ways" :key="each.key" class="flex items-center gap-1.5"
        ><input v-model="way" type="radio" :value="each.key" class="accent-(--sea)" /> {{ each.label }}</label
      >
    </div>
    <template v-if="creation">
      <label v-for="field in creation.fields" :key="field.name" class="grid gap-0.5">
        <span class="text-sm text-ink-2">{{ field.label }}</span>
        <input
          v-model="values[field.name]"
          class="field w-full"
          :placeholder="field.hint"
          :required="!field.optional"
          maxlength="500"
        />
      </label>
    </template>
    <label v-else class="grid gap-0.5">
      <span class="text-sm text-ink-2">Address, in any form</span>
      <input v-model="address" class="field w-full" :placeholder="network.opens ?? ''" required maxlength="2000" />
    </label>
    <p v-if="wrong" role="alert" class="text-sm text-rose">{{ wrong }}</p>
    <div class="flex gap-1.5">
      <button class="btn btn-main px-2 py-0.5" :disabled="busy">
        {{ busy ? 'Asking …' : creation ? `Make the ${creation.what}` : 'Add' }}
      </button>
      <button type="button" class="btn btn-quiet px-2 py-0.5" @click="emit('close')">Not now</button>
    </div>
  </form>
</template>
