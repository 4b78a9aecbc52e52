<script setup lang="ts">
import type { LikelyPost } from '../../lib/types.ts';
import { sayLikely, whyLikely } from './likely.ts';

// One line of what is likely: faint, since nobody has planned it.
defineProps<{ post: LikelyPost; zone: string; /** Where, where it is not plain. */ outlet?: string | undefined }>();
</script>

<template>
  <p class="line-clamp-2 px-2 text-sm text-ink-3 italic" data-likely :title="whyLikely(post)">
    {{ sayLikely(post, zone) }}<template v-if="outlet"> at {{ outlet }}</template>
  </p>
</template>
