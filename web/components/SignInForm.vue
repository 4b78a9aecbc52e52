<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { call } from '../lib/api.ts';
import { useSession } from '../stores/session.ts';

const emit = defineEmits<{ done: [] }>();
const session = useSession();
const email = ref('');
const password = ref('');
const wrong = ref('');
const busy = ref(false);
const demo = ref(false);

onMounted(async () => {
  demo.value = await call('listSignInWays', {}).then(
    (ways) => ways.demo,
    () => false,
  );
});

async function enter(way: 'demo' | 'password') {
  busy.value = true;
  wrong.value = '';
  try {
    await session.signIn(way === 'demo' ? 'demo' : { email: email.value, password: password.value });
    emit('done');
  } catch (error) {
    wrong.value = (error as Error).message;
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <form class="grid gap-3" @submit.prevent="enter('password')">
    <label class="grid gap-1 font-[550]"
      >Email <input v-model="email" class="field py-2" type="email" autocomplete="username" required
    /></label>
    <label class="grid gap-1 font-[550]">
      Password <input v-model="password" class="field py-2" type="password" autocomplete="current-password" required />
    </label>
    <p v-if="wrong" role="alert" class="rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ wrong }}</p>
    <button class="btn btn-main justify-center py-2" :disabled="busy">Sign in</button>
    <template v-if="demo">
      <p class="text-center text-sm text-ink-3">or look around first, with made-up brands</p>
      <button type="button" class="btn justify-center py-2" :disabled="busy" @click="enter('demo')">
        Enter the demonstration as Mo
      </button>
    </template>
  </form>
</template>
