<script setup lang="ts">
import { computed, ref } from 'vue';
import { z } from 'zod';
import { call } from '../../lib/api.ts';
import { useSendForm } from '../../lib/form.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';
import ChooseOne from './ChooseOne.vue';
import FormField from './FormField.vue';

// A secret of the vault by its name, or a new one. Nobody is shown a secret again.
defineProps<{ secret: string }>();
const emit = defineEmits<{ change: [name: string] }>();
const editor = useEditor();
const session = useSession();
const making = ref(false);
const form = useSendForm({
  schema: z.object({
    name: z.string().trim().min(1, 'Give it a name.').max(80, 'At most 80 characters.'),
    value: z.string().min(1, 'The secret is missing.'),
  }),
  values: { name: '', value: '' },
  send: async ({ name, value }) => {
    await call('keepSecret', { brand: session.brandId, name }, { body: { value } });
    await editor.refreshWorld();
    emit('change', name);
    making.value = false;
    form.reset({ name: '', value: '' });
  },
});
const { busy, trouble } = form;
const NEW = 'a new secret …';
const choices = computed(() => [
  ...(editor.world.secrets ?? []).map((name) => ({ value: name, name })),
  { value: NEW, name: NEW },
]);
const choose = (name: string) => (name === NEW ? (making.value = true) : emit('change', name));
</script>

<template>
  <div class="flex flex-1 flex-wrap items-center gap-1.5">
    <ChooseOne
      v-if="!making"
      label="Secret"
      prompt="choose a secret"
      :value="secret"
      :options="choices"
      @change="choose"
    />
    <form v-else class="grid flex-1 gap-1.5" novalidate @submit.prevent="form.submit()">
      <FormField :form="form" name="name" label="Name of the secret" :maxlength="80" />
      <FormField
        :form="form"
        name="value"
        label="The secret"
        type="password"
        placeholder="as it is sent, such as Bearer …"
      />
      <p v-if="trouble" role="alert" class="text-sm text-rose">{{ trouble }}</p>
      <div class="flex gap-1.5">
        <button class="btn" :disabled="busy">Keep</button>
        <button type="button" class="btn btn-quiet" @click="making = false">Cancel</button>
      </div>
    </form>
  </div>
</template>
