<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { Download } from '@lucide/vue';

// What is shown, as a file for spreadsheets.
type As = 'csv' | 'xlsx';
defineProps<{ address: (as: As) => string }>();
const KINDS: Readonly<Record<As, string>> = { csv: 'CSV file', xlsx: 'XLSX workbook' };
</script>

<template>
  <Menu as="div" class="relative">
    <MenuButton class="btn"><Download :size="15" /> Save as</MenuButton>
    <MenuItems class="absolute right-0 z-30 mt-1 w-40 rounded-(--radius) border border-line bg-card py-1 shadow-lg">
      <MenuItem v-for="(name, as) in KINDS" :key="as" v-slot="{ active }">
        <a
          :href="address(as)"
          download
          class="block px-3 py-1.5 text-ink no-underline"
          :class="active && 'bg-sea-wash'"
          >{{ name }}</a
        >
      </MenuItem>
    </MenuItems>
  </Menu>
</template>
