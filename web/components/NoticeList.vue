<script setup lang="ts">
import { X } from '@lucide/vue';
import { useNotices } from '../stores/notices.ts';

const notices = useNotices();
</script>

<template>
  <div
    class="pointer-events-none fixed inset-x-0 bottom-3 z-40 flex flex-col items-center gap-2"
    role="status"
    aria-live="polite"
  >
    <div
      v-for="notice in notices.list"
      :key="notice.id"
      class="pointer-events-auto flex max-w-xl items-center gap-3 rounded-(--radius) px-4 py-2 shadow-lg"
      :class="notice.kind === 'wrong' ? 'bg-rose text-card' : 'bg-bar text-white'"
    >
      <span><b v-if="notice.kind === 'wrong'">Not done: </b>{{ notice.text }}</span>
      <button v-if="notice.undo" class="font-[650] underline" @click="(notice.undo(), notices.drop(notice.id))">
        Undo
      </button>
      <button aria-label="Close" @click="notices.drop(notice.id)"><X :size="14" /></button>
    </div>
  </div>
</template>
