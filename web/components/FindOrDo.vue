<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from '@headlessui/vue';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { phraseText } from '@playa/core/workflow/sentence.ts';
import { useFocusBack } from '../lib/focus-back.ts';
import { makeWorkflow } from '../lib/make-workflow.ts';
import { everyPage } from '../lib/pages.ts';
import type { ListedSheet, ListedWorkflow } from '../lib/types.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';

interface Choice {
  label: string;
  hint: string;
  go: () => unknown;
}

const emit = defineEmits<{ close: [] }>();
const session = useSession();
const notices = useNotices();
const router = useRouter();
useFocusBack();
const query = ref('');
const workflows = ref<ListedWorkflow[]>([]);
const sheets = ref<ListedSheet[]>([]);

onMounted(async () => {
  void everyPage('listSheets', { brand: session.brandId }).then(
    (pages) => (sheets.value = pages.flatMap((page) => page.sheets)),
    () => undefined,
  );
  workflows.value = await everyPage('listWorkflows', { brand: session.brandId }).then(
    (pages) => pages.flatMap((page) => page.workflows),
    () => [],
  );
});

const to = (name: string, params = {}) => router.push({ name, params: { brand: session.brandId, ...params } });
const all = computed<Choice[]>(() => [
  ...workflows.value.map((workflow) => ({
    label: workflow.name,
    hint: phraseText(workflow.sentence),
    go: () => to('run-sheet', { id: workflow.id }),
  })),
  {
    label: 'New workflow',
    hint: 'begin from nothing',
    go: async () => to('run-sheet', { id: await makeWorkflow(session.brandId) }),
  },
  { label: 'New post', hint: 'write one by hand', go: () => to('new-post') },
  { label: 'Today', hint: 'what needs you, what went out', go: () => to('today') },
  { label: 'Calendar', hint: 'what goes out, and when', go: () => to('calendar') },
  { label: 'Desk', hint: 'what people wrote, and answering it', go: () => to('desk') },
  { label: 'People', hint: 'everybody who wrote', go: () => to('people') },
  { label: 'Workflows', hint: 'all of them', go: () => to('workflows') },
  { label: 'Sheets', hint: 'tables that people and workflows fill in', go: () => to('sheets') },
  ...sheets.value.map((sheet) => ({
    label: sheet.name,
    hint: `sheet, ${sheet.rows} rows`,
    go: () => to('sheet', { id: sheet.id }),
  })),
  { label: 'Clip a page', hint: 'share a page with a note', go: () => to('clip') },
  { label: 'Logbook', hint: 'everything that went out', go: () => to('logbook') },
  { label: 'Who did what', hint: 'every change, by whom and when', go: () => to('history') },
  { label: 'Accounts', hint: 'connect, reconnect, outlets', go: () => to('accounts') },
  ...session.brands
    .filter((brand) => brand.id !== session.brandId)
    .map((brand) => ({ label: brand.name, hint: 'change to this brand', go: () => router.push(`/${brand.id}/today`) })),
  { label: 'Sign out', hint: session.user?.email ?? '', go: () => session.signOut() },
]);
const shown = computed(() => {
  const words = query.value.toLowerCase().split(/\s+/).filter(Boolean);
  return all.value
    .filter((choice) => words.every((word) => `${choice.label} ${choice.hint}`.toLowerCase().includes(word)))
    .slice(0, 12);
});
async function choose(choice: Choice | null) {
  emit('close');
  try {
    await choice?.go();
  } catch (error) {
    notices.wrong(error);
  }
}
</script>

<template>
  <Dialog :open="true" class="fixed inset-0 z-40 flex justify-center bg-ink/40 p-4 pt-[12vh]" @close="emit('close')">
    <DialogPanel class="sheet h-fit w-full max-w-xl overflow-hidden shadow-xl">
      <Combobox :model-value="null" @update:model-value="choose">
        <ComboboxInput
          class="w-full bg-card px-4 py-3 text-lg outline-none"
          placeholder="Find a workflow, or do something"
          aria-label="Find or do"
          @change="query = $event.target.value"
        />
        <ComboboxOptions static class="max-h-80 overflow-auto border-t border-line py-1">
          <ComboboxOption v-for="choice in shown" :key="choice.label" v-slot="{ active }" :value="choice" as="template">
            <li class="flex cursor-pointer items-baseline gap-3 px-4 py-1.5" :class="active && 'bg-sea-wash'">
              <b>{{ choice.label }}</b><span class="truncate text-sm text-ink-3">{{ choice.hint }}</span>
            </li>
          </ComboboxOption>
          <li v-if="shown.length === 0" class="px-4 py-2 text-ink-3">Nothing by that name.</li>
        </ComboboxOptions>
      </Combobox>
    </DialogPanel>
  </Dialog>
</template>
