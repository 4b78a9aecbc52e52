<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue';
import { Download, Eraser } from '@lucide/vue';
import { ref } from 'vue';
import { api } from '../../lib/api.ts';
import type { Answer, Person } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useBrandHere } from '../../stores/brand-here.ts';

// Somebody asks for what is known of them, or to be forgotten.
const props = defineProps<{ person: Person }>();
const emit = defineEmits<{ erased: [] }>();
const { at } = useBrandHere();
const notices = useNotices();
const asking = ref(false);
const busy = ref(false);
const trouble = ref('');

async function erase() {
  busy.value = true;
  trouble.value = '';
  try {
    const { forgotten } = await api<Answer<'erasePerson'>>('DELETE', `${at.value}/people/${props.person.id}`);
    notices.say(forgotten === 1 ? 'Forgotten, with the one thing they wrote.' : `Forgotten, with ${forgotten} things.`);
    asking.value = false;
    emit('erased');
  } catch (error) {
    trouble.value = (error as Error).message;
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <p class="flex flex-wrap gap-2">
    <a class="btn" :href="`/api${at}/people/${person.id}/export`" :download="`person-${person.id}.json`">
      <Download :size="14" /> All we know of them
    </a>
    <button class="btn text-rose" @click="asking = true"><Eraser :size="14" /> Forget them …</button>
  </p>
  <Dialog
    v-if="asking"
    :open="true"
    class="fixed inset-0 z-40 grid place-items-center bg-ink/40 p-4"
    @close="asking = false"
  >
    <DialogPanel class="sheet w-full max-w-md p-5 shadow-xl">
      <DialogTitle class="text-lg font-[650]">Forget {{ person.name }}?</DialogTitle>
      <p class="mt-2 text-ink-2">
        What they wrote, their name, labels and notes go from Playa for good, and what waits for them ends. That
        something was answered stays in the logbook and the numbers, without their name. It cannot be taken back.
      </p>
      <p class="mt-2 text-ink-2">
        What stands at the network stays there.
        <template v-if="person.leftAlone !== null">Workflows go on leaving them alone.</template>
        <template v-else>If they write again, they are somebody new.</template>
      </p>
      <p v-if="trouble" role="alert" class="mt-2 text-rose">{{ trouble }}</p>
      <div class="mt-4 flex justify-end gap-2">
        <button class="btn" @click="asking = false">Keep them</button>
        <button class="btn text-rose" :disabled="busy" @click="erase">Forget them</button>
      </div>
    </DialogPanel>
  </Dialog>
</template>
