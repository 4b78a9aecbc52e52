<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import type { Answer } from '../../lib/types.ts';
import { call } from '../../lib/api.ts';
import { useSession } from '../../stores/session.ts';

// A link as networks show it: by what its page says of itself.
const props = defineProps<{ url: string }>();
const session = useSession();
const preview = ref<Answer<'previewLink'>['preview']>(null);
const state = ref<'asking' | 'known'>('asking');
const host = computed(() => (URL.canParse(props.url) ? new URL(props.url).host : ''));
let timer: ReturnType<typeof setTimeout> | undefined;
watch(
  () => props.url,
  (url) => {
    clearTimeout(timer);
    state.value = 'asking';
    preview.value = null;
    if (!URL.canParse(url)) return void (state.value = 'known');
    // Looking along a row passes many links; only the one that is stayed at is asked for.
    timer = setTimeout(() => {
      call('previewLink', { brand: session.brandId }, { query: { url: url } })
        .then((answer) => url === props.url && (preview.value = answer.preview))
        .catch(() => undefined)
        .finally(() => url === props.url && (state.value = 'known'));
    }, 150);
  },
  { immediate: true },
);
</script>

<template>
  <div class="border-t border-line" :aria-busy="state === 'asking'">
    <img v-if="preview?.image" :src="preview.image" alt="" class="aspect-[2/1] w-full object-cover" />
    <div class="bg-paper px-3 py-1.5">
      <span class="text-sm text-ink-3">{{ preview?.site ? `${preview.site} · ${host}` : host }}</span>
      <b v-if="preview?.title" class="block truncate">{{ preview.title }}</b>
      <span v-if="preview?.description" class="line-clamp-1 text-sm text-ink-2">{{ preview.description }}</span>
      <span v-if="state === 'known' && !preview" class="block text-sm text-ink-3"
        >Its page says nothing of itself, so only the address shows.</span
      >
    </div>
  </div>
</template>
