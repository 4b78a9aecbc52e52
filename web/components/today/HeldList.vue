<script setup lang="ts">
import { CircleAlert } from '@lucide/vue';
import { ref, shallowRef, watch } from 'vue';
import { keptInPlace, type Placed } from '../../lib/kept-in-place.ts';
import { shortMoment } from '../../lib/times.ts';
import type { Held } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import HeldActions from '../HeldActions.vue';

// What waits for a person. While the pointer or the focus is in the list its rows keep their places: what is decided
// elsewhere stays as a row that says so, and nothing slides up under a click.
const props = defineProps<{ held: readonly Held[] }>();
const emit = defineEmits<{ decided: [] }>();
const session = useSession();

/** The place a row is about, whatever was decided or changed there since. */
const placeOf = ({ runId, key }: Held) => `${runId}.${key?.split('.').slice(1, 3).join('.') ?? ''}`;
const rows = shallowRef<Placed<Held>[]>([]);
const root = ref<HTMLElement>();
let pointed = false;
/** Whether somebody is at the list: the pointer is in it, or the focus is. */
const isBusy = () => pointed || (root.value?.contains(document.activeElement) ?? false);
const show = () => (rows.value = keptInPlace(rows.value, props.held, placeOf, isBusy()));
watch(() => props.held, show, { immediate: true });
function point(inside: boolean) {
  pointed = inside;
  if (!inside) show();
}
// Where the focus goes to is known a moment later; a button that is gone takes it nowhere.
const leave = () => setTimeout(show);
</script>

<template>
  <div ref="root" @pointerenter="point(true)" @pointerleave="point(false)" @focusout="leave">
    <div
      v-for="{ place, row, gone } in rows"
      :key="place"
      :data-run="row.runId"
      role="group"
      :aria-label="row.title"
      class="grid gap-x-4 gap-y-1 border-b border-line px-4 py-2.5 md:grid-cols-[1fr_auto]"
      :class="gone && 'bg-paper text-ink-3'"
    >
      <div class="min-w-0">
        <CircleAlert v-if="!gone" :size="14" class="mr-1 inline text-amber" aria-hidden="true" /><b>{{ row.title }}</b
        ><span class="text-ink-2"
          ><template v-if="row.outlet"> for {{ row.outlet }}</template
          ><template v-else-if="row.what && row.action !== 'hold'"> · {{ row.what }}</template> · {{ row.says }}</span
        >
        <p v-if="row.action === 'hold' && row.text" class="mt-0.5 line-clamp-3 break-words whitespace-pre-line">
          {{ row.text }}
        </p>
        <p v-if="row.answered && row.trouble !== 'outdated' && !gone" class="text-sm text-amber">
          It has been answered meanwhile.
        </p>
        <div class="text-sm text-ink-3">
          <RouterLink
            :to="{
              name: 'run-sheet',
              params: { brand: session.brandId, id: row.workflowId },
              query: { reading: 'happened' },
            }"
            >{{ row.workflow }}</RouterLink><template v-if="row.paused"> (paused)</template> · waits since
          {{ shortMoment(row.since, session.zone) }}
        </div>
      </div>
      <HeldActions
        :run-id="row.runId"
        :effect-key="row.key"
        :text="row.text"
        :kind="row.kind"
        :fault="row.fault"
        :trouble="row.trouble"
        :action="row.action"
        :input="row.input"
        :paused="row.paused"
        :gone="gone"
        @decided="emit('decided')"
      />
    </div>
  </div>
</template>
