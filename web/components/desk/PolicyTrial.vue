<script setup lang="ts">
import { computed, ref } from 'vue';
import type { PolicyDoes } from '@playa/core/desk/policy.ts';
import { dayAndTime } from '../../lib/times.ts';
import type { Answer } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';

// What a policy would have made of what people wrote lately.
const props = defineProps<{
  /** What came of the trial; undefined as long as this policy has not been tried. */
  tried: Answer<'tryPolicy'> | undefined;
  /** Whether the policy is another than the one that is kept. */
  changed: boolean;
  busy: boolean;
  /** What becomes of an answer, in words. */
  does: Record<PolicyDoes, string>;
  outlets: readonly { id: number; name: string }[];
}>();
const emit = defineEmits<{ trial: [] }>();
const session = useSession();
/** Only those of which this becomes; undefined for those of which something else becomes than now. */
const shows = ref<PolicyDoes>();
const nameOf = (outlet: number | null) =>
  outlet ? (props.outlets.find(({ id }) => id === outlet)?.name ?? 'a place that is gone') : null;
const shown = computed(() =>
  (props.tried?.tried ?? []).filter((each) => (shows.value ? each.does === shows.value : each.does !== each.was)),
);
</script>

<template>
  <section aria-label="The trial" class="rounded-(--radius) border border-line px-3 py-2">
    <p v-if="!tried" class="flex items-center gap-3 text-ink-2">
      <span>What would have become of the last 90 days?</span>
      <button class="btn" :disabled="busy" @click="emit('trial')">Try it</button>
    </p>
    <template v-else>
      <p role="status">
        Over the last 90 days
        <button class="link" @click="shows = 'post'">{{ tried.counts.post }} would go out alone</button>,
        <button class="link" @click="shows = 'hold'">{{ tried.counts.hold }} would wait</button>,
        <button class="link" @click="shows = 'ignore'">{{ tried.counts.ignore }} would not be answered</button>.
        <button v-if="changed" class="link" @click="shows = undefined">What would change</button>
      </p>
      <ul class="mt-1.5 grid max-h-56 gap-1 overflow-auto" tabindex="0" aria-label="What would become of them">
        <li v-for="each in shown" :key="each.itemId" class="flex flex-wrap gap-x-2 text-sm">
          <b>{{ each.person }}</b>
          <span class="text-ink-3">{{ nameOf(each.outletId) }}, {{ dayAndTime(each.saidAt, session.zone) }}</span>
          <span v-if="each.stars !== null" class="text-amber">{{ each.stars }} ★</span>
          <span class="min-w-0 flex-1 truncate" dir="auto">{{ each.text || '(no words)' }}</span>
          <span :class="each.does === each.was ? 'text-ink-3' : 'font-[650] text-dusk'"
            >{{ does[each.does] }}: {{ each.says }}</span
          >
        </li>
      </ul>
      <p v-if="shown.length === 0" class="mt-1 text-ink-3">
        {{ shows ? 'None.' : 'Nothing would become of them otherwise than now.' }}
      </p>
    </template>
  </section>
</template>
