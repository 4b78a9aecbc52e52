<script setup lang="ts">
import { computed, ref } from 'vue';
import type { AccountRow, NetworkRow } from '../../lib/types.ts';
import AddOutlet from '../form/AddOutlet.vue';
import OutletLine from './OutletLine.vue';

// Where an account posts to and what it can watch, and adding one that its network does not list.
const props = defineProps<{ account: AccountRow; network: NetworkRow | undefined }>();
const emit = defineEmits<{ changed: [] }>();
const adding = ref(false);
const all = ref(false);
/** Many outlets would push the next account out of sight. */
const FEW = 4;
const shown = computed(() => (all.value ? props.account.outlets : props.account.outlets.slice(0, FEW)));

function added() {
  adding.value = false;
  all.value = true;
  emit('changed');
}
</script>

<template>
  <div>
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
  </div>
</template>
