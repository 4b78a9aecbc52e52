<script setup lang="ts">
import type { PostStep } from '@playa/core/steps/post.ts';
import { useSession } from '../../../stores/session.ts';

// The step that sends what was written by hand has nothing to set: each post says for itself.
defineProps<{ step: PostStep }>();
const session = useSession();
</script>

<template>
  <p class="text-ink-2">
    Playa keeps this workflow for posts that are written by hand. What each says, where it goes and when, is in the
    <RouterLink class="link" :to="{ name: 'calendar', params: { brand: session.brandId } }">calendar</RouterLink>.
  </p>
</template>
