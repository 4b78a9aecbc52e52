<script setup lang="ts">
import { ref } from 'vue';
import { call } from '../../lib/api.ts';
import { useEditor } from '../../stores/editor.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

// A secret of the vault by its name, or a new one. Nobody is shown a secret again.
defineProps<{ secret: string }>();
const emit = defineEmits<{ change: [name: string] }>();
const editor = useEditor();
const session = useSession();
const notices = useNotices();
const making = ref(false);
const name = ref('');
const value = ref('');

async function keep() {
  try {
    await call('keepSecret', { brand: session.brandId, name: name.value.trim() }, { body: { value: value.value } });
    await editor.refreshWorld();
    emit('change', name.value.trim());
    making.value = false;
    value.value = name.value = '';
  } catch (error) {
    notices.wrong(error);
  }
}
</script>

<template>
  <div class="flex flex-1 flex-wrap items-center gap-1.5">
    <select
      v-if="!making"
      class="field"
      aria-label="Secret"
      :value="secret"
      @change="
        ($event.target as HTMLSelectElement).value === '+'
          ? (making = true)
          : emit('change', ($event.target as HTMLSelectElement).value)
      "
    >
      <option v-if="!editor.world.secrets?.includes(secret)" :value="secret">{{ secret || 'choose a secret' }}</option>
      <option v-for="each in editor.world.secrets" :key="each" :value="each">{{ each }}</option>
      <option value="+">a new secret …</option>
    </select>
    <form v-else class="flex flex-1 flex-wrap gap-1.5" @submit.prevent="keep">
      <input v-model="name" class="field w-28" placeholder="its name" aria-label="Name of the secret" maxlength="80" />
      <input
        v-model="value"
        type="password"
        class="field min-w-24 flex-1"
        placeholder="as it is sent, such as Bearer …"
        aria-label="The secret"
        autocomplete="off"
      />
      <button class="btn" :disabled="!name.trim() || !value">Keep</button>
      <button type="button" class="btn btn-quiet" @click="making = false">Cancel</button>
    </form>
  </div>
</template>
