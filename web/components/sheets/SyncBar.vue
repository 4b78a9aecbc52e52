<script setup lang="ts">
import { ArrowLeftRight, Pause, Play, RefreshCw, Settings2 } from '@lucide/vue';
import { computed, ref } from 'vue';
import { sayCell, type Cell } from '@playa/core/sheets/cell.ts';
import { call } from '../../lib/api.ts';
import type { SheetSync } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import type { OpenSheet } from './use-sheet.ts';

// How a sheet is kept in step: with what, what keeps both apart, and what waits for somebody's word.
const props = defineProps<{ open: OpenSheet; sync: SheetSync }>();
const emit = defineEmits<{ change: []; row: [id: number] }>();
const notices = useNotices();
const shown = ref(false);

async function say(said: { paused?: boolean; vanished?: 'delete' | 'again'; seen?: number }) {
  try {
    await call('sayOfSheetSync', props.open.is, { body: said });
  } catch (error) {
    notices.wrong(error);
  }
}
const nameOf = (key: string) => props.open.columns.value.find((column) => column.key === key)?.name ?? key;
function titleOf(id: number): string {
  const cells = props.open.rows.value.get(id)?.cells;
  const [first] = props.open.columns.value;
  return (first && cells && sayCell(first, (cells[first.key] ?? null) as Cell, props.open.context.value)) || 'Untitled';
}
const overwritten = computed(() => props.sync.remarks.filter(({ why }) => why === 'overwritten'));
const newest = computed(() => Math.max(...overwritten.value.map(({ at }) => at)));
const side = computed(() => (props.sync.vanished?.side === 'here' ? 'here' : 'there'));
</script>

<template>
  <section class="mb-2 rounded-(--radius) border border-line bg-card px-3 py-1.5" aria-label="In step">
    <div class="flex flex-wrap items-center gap-x-3 gap-y-1">
      <ArrowLeftRight :size="15" class="text-ink-3" aria-hidden="true" />
      <span>
        {{
          sync.state === 'paused'
            ? 'Not kept in step for now with'
            : sync.joined
              ? 'In step with'
              : 'Getting in step with'
        }}
        <a v-if="sync.outlet.address" :href="sync.outlet.address" target="_blank" rel="noreferrer">{{
          sync.outlet.name
        }}</a>
        <template v-else>{{ sync.outlet.name }}</template>
      </span>
      <span v-if="sync.trouble && sync.state === 'on'" role="alert" class="text-rose">{{ sync.trouble }}</span>
      <button v-if="sync.remarks.length" class="underline" :aria-expanded="shown" @click="shown = !shown">
        {{ sync.remarks.length === 1 ? 'One cell' : `${sync.remarks.length} cells` }} to look at
      </button>
      <span class="ml-auto flex gap-2">
        <button
          v-if="sync.state === 'on'"
          class="btn"
          title="Look at once whether anything was written there"
          @click="say({})"
        >
          <RefreshCw :size="14" /> Compare now
        </button>
        <button v-if="sync.state === 'on'" class="btn" @click="say({ paused: true })">
          <Pause :size="14" /> Pause
        </button>
        <button v-else class="btn btn-main" @click="say({ paused: false })"><Play :size="14" /> Go on</button>
        <button class="btn" @click="emit('change')"><Settings2 :size="14" /> Change</button>
      </span>
    </div>
    <div v-if="sync.vanished" role="alert" class="mt-1 rounded-(--radius) bg-amber-wash px-3 py-2">
      <p>
        {{ sync.vanished.rows }} of {{ sync.vanished.of }} rows were deleted {{ side === 'there' ? 'there' : 'here' }}.
        Nothing is deleted {{ side === 'there' ? 'here' : 'there' }} before you say so.
      </p>
      <p class="mt-1 flex flex-wrap gap-2">
        <button class="btn" @click="say({ vanished: 'again' })">
          {{ side === 'there' ? 'Write them there again' : 'Bring them back here' }}
        </button>
        <button class="btn" @click="say({ vanished: 'delete' })">
          Delete them {{ side === 'there' ? 'here' : 'there' }} too
        </button>
      </p>
    </div>
    <div v-if="shown && sync.remarks.length" class="mt-1 max-h-48 overflow-auto">
      <ul>
        <li v-for="remark in sync.remarks" :key="`${remark.row}:${remark.key}:${remark.at}`" class="py-0.5">
          <button class="underline" @click="emit('row', remark.row)">{{ titleOf(remark.row) }}</button>,
          {{ nameOf(remark.key) }}:
          <template v-if="remark.why === 'refused'"
            ><span class="text-rose">not taken there. {{ remark.says }}</span></template
          >
          <template v-else
            >both sides had changed it. Written over: <q v-if="remark.says">{{ remark.says }}</q><template v-else
              >nothing</template
            ></template
          >
        </li>
      </ul>
      <button v-if="overwritten.length" class="btn mt-1" @click="say({ seen: newest })">I have seen them</button>
    </div>
  </section>
</template>
