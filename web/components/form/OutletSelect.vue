<script setup lang="ts">
import { computed } from 'vue';
import type { ActName } from '@playa/core/model/acts.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { useOutletCheck } from '../../stores/check-outlet.ts';
import NewOutlet from './NewOutlet.vue';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';

// One outlet whose network offers what a step does.
const props = defineProps<{ outlet: number | null; act: ActName; label: string }>();
const emit = defineEmits<{ change: [outlet: number | null] }>();
const editor = useEditor();
const session = useSession();
const trouble = computed(() => (props.outlet === null ? undefined : editor.world.outlets.get(props.outlet)?.trouble));
const check = useOutletCheck();
function choose(value: string | number) {
  const outlet = Number(value) || null;
  emit('change', outlet);
  if (outlet !== null) void check(outlet);
}
const offered = computed(() =>
  [...editor.world.outlets.values()].filter((each) => each.acts?.includes(props.act) || each.id === props.outlet),
);
</script>

<template>
  <select
    v-if="offered.length"
    class="field max-w-72"
    :aria-label="label"
    :value="outlet ?? ''"
    data-bench-first
    @change="choose(($event.target as HTMLSelectElement).value)"
  >
    <option value="" disabled>choose</option>
    <option v-for="each in offered" :key="each.id" :value="each.id">
      {{ each.name }} ({{ KIND_RULES[each.kind].name }})
    </option>
  </select>
  <NewOutlet v-if="offered.length" :act="act" @made="choose" />
  <p v-if="trouble" class="w-full text-sm text-rose">
    {{ trouble }} <button class="link" @click="check(outlet!)">Check again</button>
  </p>
  <p v-if="offered.length === 0" class="py-1 text-ink-2">
    No connected account offers this yet.
    <RouterLink class="link" :to="{ name: 'accounts', params: { brand: session.brandId } }">Connect one</RouterLink>
  </p>
</template>
