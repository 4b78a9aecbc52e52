<script setup lang="ts">
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import NoticeList from './components/NoticeList.vue';
import SignInForm from './components/SignInForm.vue';
import TopBar from './components/TopBar.vue';
import { useSession } from './stores/session.ts';

const session = useSession();
const route = useRoute();
/** Another brand is another view of the same sort, and so is another sheet, or another post. */
const shown = computed(() =>
  route.name === 'sheet' || route.name === 'post' ? `${session.brandId}.${String(route.params.id)}` : session.brandId,
);
const bare = computed(() => route.name === 'sign-in' || route.name === undefined);
</script>

<template>
  <a href="#main" class="sr-only focus:not-sr-only">Skip to the content</a>
  <div class="flex h-dvh flex-col">
    <TopBar v-if="!bare" />
    <main id="main" class="min-h-0 flex-1 overflow-auto"><RouterView :key="bare ? '' : shown" /></main>
  </div>
  <NoticeList />
  <div
    v-if="session.lapsed"
    class="fixed inset-0 z-50 grid place-items-center bg-ink/50"
    role="dialog"
    aria-modal="true"
    aria-label="Sign in again"
  >
    <div class="sheet w-96 p-6">
      <h2 class="mb-1 text-lg">You were signed out</h2>
      <p class="mb-4 text-ink-2">Sign in to go on. Nothing you typed is lost.</p>
      <SignInForm />
    </div>
  </div>
</template>
