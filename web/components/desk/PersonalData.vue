<script setup lang="ts">
import { Download, Eraser } from '@lucide/vue';
import { ref } from 'vue';
import { addressOf, call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import type { Contact } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useBrandHere } from '../../stores/brand-here.ts';
import ModalDialog from '../form/ModalDialog.vue';

// Somebody asks for what is known of them, or to be forgotten.
const props = defineProps<{ contact: Contact }>();
const emit = defineEmits<{ erased: [] }>();
const { id: brand } = useBrandHere();
const notices = useNotices();
const asking = ref(false);
const { busy, trouble, attempt } = useAttempt();

async function erase() {
  await attempt(async () => {
    const { forgotten } = await call('eraseContact', { brand: brand.value, contact: props.contact.id });
    notices.say(forgotten === 1 ? 'Forgotten, with the one thing they wrote.' : `Forgotten, with ${forgotten} things.`);
    asking.value = false;
    emit('erased');
  });
}
</script>

<template>
  <p class="flex flex-wrap gap-2">
    <a
      class="btn"
      :href="addressOf('exportContact', { brand, contact: contact.id })"
      :download="`person-${contact.id}.json`"
    >
      <Download :size="14" /> All we know of them
    </a>
    <button class="btn text-rose" @click="asking = true"><Eraser :size="14" /> Forget them …</button>
  </p>
  <ModalDialog v-if="asking" :title="`Forget ${contact.name}?`" width="small" @close="asking = false">
    <p class="mt-2 text-ink-2">
      What they wrote, their name, labels and notes go from Playa for good, and what waits for them ends. That something
      was answered stays in the logbook and the numbers, without their name. It cannot be taken back.
    </p>
    <p class="mt-2 text-ink-2">
      What stands at the network stays there.
      <template v-if="contact.leftAlone !== null">Workflows go on leaving them alone.</template>
      <template v-else>If they write again, they are somebody new.</template>
    </p>
    <p v-if="trouble" role="alert" class="mt-2 text-rose">{{ trouble }}</p>
    <template #actions>
      <button class="btn" @click="asking = false">Keep them</button>
      <button class="btn text-rose" :disabled="busy" @click="erase">Forget them</button>
    </template>
  </ModalDialog>
</template>
