<script setup lang="ts">
import { computed, ref } from 'vue';
import { call } from '../../lib/api.ts';
import type { NetworkRow } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import FieldsForm from './FieldsForm.vue';

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
const fields = computed(
  () =>
    creation.value?.fields ?? [
      { name: 'address', label: 'Address, in any form', hint: props.network.opens ?? undefined },
    ],
);
/** Grows with each that was added, so that the next begins with empty fields. */
const added = ref(0);

async function add(values: Record<string, string>) {
  const at = { brand: session.brandId, id: props.accountId };
  const { id } = creation.value
    ? await call('createOutlet', at, { body: { what: creation.value.what, values } })
    : await call('openOutlet', at, { body: { address: values.address! } });
  emit('added', id);
  added.value++;
}
</script>

<template>
  <div class="mt-1 grid gap-1.5 rounded-(--radius) border border-line bg-paper p-2">
    <div v-if="ways.length > 1" class="flex gap-3" role="radiogroup" aria-label="How it is added">
      <label v-for="each in ways" :key="each.key" class="flex items-center gap-1.5"
        ><input v-model="way" type="radio" :value="each.key" class="accent-(--sea)" /> {{ each.label }}</label
      >
    </div>
    <FieldsForm v-slot="{ busy }" :key="`${way} ${added}`" :fields="fields" :send="add">
      <div class="flex gap-1.5">
        <button class="btn btn-main px-2 py-0.5" :disabled="busy">
          {{ busy ? 'Asking …' : creation ? `Make the ${creation.what}` : 'Add' }}
        </button>
        <button type="button" class="btn btn-quiet px-2 py-0.5" @click="emit('close')">Not now</button>
      </div>
    </FieldsForm>
  </div>
</template>
