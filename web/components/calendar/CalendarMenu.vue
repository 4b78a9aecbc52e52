<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { Ellipsis } from '@lucide/vue';
import { ref } from 'vue';
import { useSession } from '../../stores/session.ts';
import { addressOf } from '../../lib/api.ts';

// What can be done with the calendar as a whole: files in and out, and its address for other calendars.
defineProps<{ from: number; to: number }>();
const emit = defineEmits<{ file: [file: File]; address: [] }>();
const session = useSession();
const input = ref<HTMLInputElement>();
const FILES = { ics: 'iCalendar file', xlsx: 'Workbook', csv: 'CSV file' };
function take(event: Event) {
  const field = event.target as HTMLInputElement;
  const [file] = field.files ?? [];
  field.value = '';
  if (file) emit('file', file);
}
const look = (active: boolean) => ['block w-full px-3 py-1.5 text-left text-ink no-underline', active && 'bg-sea-wash'];
</script>

<template>
  <Menu as="div" class="relative">
    <MenuButton class="btn px-2" aria-label="Files and addresses"><Ellipsis :size="15" /></MenuButton>
    <MenuItems class="sheet absolute right-0 z-20 mt-1 w-60 py-1 shadow-lg">
      <MenuItem v-slot="{ active }">
        <button :class="look(active)" @click="input?.click()">Read posts from a file …</button>
      </MenuItem>
      <MenuItem v-for="(name, as) in FILES" :key="as" v-slot="{ active }">
        <a
          :class="look(active)"
          :href="addressOf('exportCalendar', { brand: session.brandId }, { as, from, to })"
          download
          >{{ name }} of what is shown</a
        >
      </MenuItem>
      <MenuItem v-slot="{ active }">
        <button :class="look(active)" @click="emit('address')">Address for other calendars …</button>
      </MenuItem>
    </MenuItems>
    <input
      ref="input"
      type="file"
      accept=".csv,.tsv,.txt,.xlsx"
      class="hidden"
      aria-label="A file of posts"
      @change="take"
    />
  </Menu>
</template>
