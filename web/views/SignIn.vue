<script setup lang="ts">
import { useRoute, useRouter } from 'vue-router';
import SignInForm from '../components/SignInForm.vue';

const route = useRoute();
const router = useRouter();
function go() {
  const next = String(route.query.next ?? '/');
  // Only places inside Playa.
  void router.replace(/^\/(?![/\\])/.test(next) ? next : '/');
}
</script>

<template>
  <div class="grid min-h-full place-items-center p-6">
    <div class="grid w-full max-w-3xl items-center gap-10 md:grid-cols-[1fr_22rem]">
      <div>
        <h1 class="mb-4 text-4xl">playa</h1>
        <p class="mb-3 text-lg text-ink-2">
          Notices what is new, and publishes it where it belongs, in words that fit each place.
        </p>
        <ul class="grid gap-2 text-ink-2">
          <li>
            <b class="text-ink">You see it before it happens.</b> Every caption, on your own real items, before anything
            is sent.
          </li>
          <li><b class="text-ink">Nothing twice, nothing lost.</b> A post goes out once, whatever the network does.</li>
          <li><b class="text-ink">Words that fit.</b> One caption, for each place by its own rules.</li>
        </ul>
      </div>
      <div class="sheet p-6"><SignInForm @done="go" /></div>
    </div>
  </div>
</template>
