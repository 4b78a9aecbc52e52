<script setup lang="ts">
import { computed } from 'vue';
import type { ActName } from '@playa/core/model/acts.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { useOutletCheck } from '../../stores/check-outlet.ts';
import ChooseOne from './ChooseOne.vue';
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
const choices = computed(() =>
  offered.value.map(({ id, name, kind }) => ({ value: id, name: `${name} (${KIND_RULES[kind].name})` })),
);
</script>

<template>
  <ChooseOne
    v-if="offered.length"
    class="max-w-72"
    :label="label"
    :value="outlet"
    :options="choices"
    first
    @change="choose"
  />
  <NewOutlet v-if="offered.length" :act="act" @made="choose" />
  <p v-if="trouble" class="w-full text-sm text-rose">
    {{ trouble }} <button class="link" @click="check(outlet!)">Check again</button>
  </p>
  <p v-if="offered.length === 0" class="py-1 text-ink-2">
    No connected account offers this yet.
    <RouterLink class="link" :to="{ name: 'accounts', params: { brand: session.brandId } }">Connect one</RouterLink>
  </p>
</template>
