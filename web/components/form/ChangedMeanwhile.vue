<script setup lang="ts">
// Somebody has changed the same thing meanwhile: nothing is written over before one has said so.
defineProps<{ says: string; busy?: boolean }>();
const emit = defineEmits<{ theirs: []; mine: [] }>();
</script>

<template>
  <div role="alert" class="mt-2 flex flex-wrap items-center gap-2 rounded-(--radius) bg-amber-wash px-3 py-2">
    <span class="min-w-0 flex-1 basis-56">{{ says }}</span>
    <button type="button" class="btn" :disabled="busy" @click="emit('theirs')">See what is there now</button>
    <button type="button" class="btn" :disabled="busy" @click="emit('mine')">Keep mine over it</button>
  </div>
</template>
