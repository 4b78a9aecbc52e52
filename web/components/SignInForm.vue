<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { z } from 'zod';
import { call } from '../lib/api.ts';
import { useSendForm } from '../lib/form.ts';
import { useSession } from '../stores/session.ts';
import FormField from './form/FormField.vue';

const emit = defineEmits<{ done: [] }>();
const session = useSession();
const demo = ref(false);
const form = useSendForm({
  schema: z.object({
    email: z.string().trim().min(1, 'Say who you are: the address you sign in with.'),
    password: z.string().min(1, 'Your password is missing.'),
  }),
  values: { email: '', password: '' },
  send: async (read) => {
    await session.signIn(read);
    emit('done');
  },
});
const { busy, trouble } = form;

onMounted(async () => {
  demo.value = await call('listSignInWays', {}).then(
    (ways) => ways.demo,
    () => false,
  );
});
const enterDemo = () =>
  form.attempt(async () => {
    await session.signIn('demo');
    emit('done');
  });
</script>

<template>
  <form class="grid gap-3" novalidate @submit.prevent="form.submit()">
    <FormField :form="form" name="email" label="Email" type="email" autocomplete="username" />
    <FormField :form="form" name="password" label="Password" type="password" autocomplete="current-password" />
    <p v-if="trouble" role="alert" class="rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ trouble }}</p>
    <button class="btn btn-main justify-center py-2" :disabled="busy">Sign in</button>
    <template v-if="demo">
      <p class="text-center text-sm text-ink-3">or look around first, with made-up brands</p>
      <button type="button" class="btn justify-center py-2" :disabled="busy" @click="enterDemo">
        Enter the demonstration as Mo
      </button>
    </template>
  </form>
</template>
