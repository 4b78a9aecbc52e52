<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import type { PublishStep } from '@playa/core/steps/publish.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { useEditor } from '../../../stores/editor.ts';
import { useOutletCheck } from '../../../stores/check-outlet.ts';
import { useSession } from '../../../stores/session.ts';
import NewOutlet from '../../form/NewOutlet.vue';

// The outlets a post goes to, ticked.
const props = defineProps<{ step: PublishStep }>();
const editor = useEditor();
const session = useSession();
const outlets = computed(() =>
  [...editor.world.outlets.values()].filter(
    (outlet) =>
      KIND_RULES[outlet.kind].publishes &&
      (outlet.acts?.includes('publish') ?? true) &&
      (!outlet.trouble || props.step.outlets.includes(outlet.id) || all.value),
  ),
);
/** Many outlets are shown by what is chosen, and a few of the rest. */
const FEW = 6;
const all = ref(false);
const chosenFirst = computed(() => {
  const isChosen = (id: number) => props.step.outlets.includes(id);
  return [...outlets.value].sort((a, b) => Number(isChosen(b.id)) - Number(isChosen(a.id)));
});
const wasChosenFirst = ref<number[]>([]);
watch(
  () => props.step.id,
  () => (wasChosenFirst.value = chosenFirst.value.map((outlet) => outlet.id)),
  { immediate: true },
);
/** In the order they had when the step was opened: a tick must not make the lines jump. */
const ordered = computed(() => {
  const place = (id: number) => (wasChosenFirst.value.includes(id) ? wasChosenFirst.value.indexOf(id) : 1e6);
  return [...outlets.value].sort((a, b) => place(a.id) - place(b.id));
});
const shown = computed(() =>
  all.value
    ? ordered.value
    : ordered.value.filter((outlet, index) => index < FEW || props.step.outlets.includes(outlet.id)),
);
const hidden = computed(() => ordered.value.length - shown.value.length);
const change = (what: (step: PublishStep) => void) => editor.changeStep<PublishStep>(props.step.id, what);
const check = useOutletCheck();
function toggle(id: number) {
  if (!props.step.outlets.includes(id)) void check(id);
  change(
    (step) =>
      (step.outlets = step.outlets.includes(id) ? step.outlets.filter((each) => each !== id) : [...step.outlets, id]),
  );
}
</script>

<template>
  <fieldset>
    <legend class="mb-1 text-ink-2">Post on</legend>
    <div v-if="outlets.length" class="grid gap-1">
      <label v-for="(outlet, index) in shown" :key="outlet.id" class="flex flex-wrap items-baseline gap-x-2">
        <input
          type="checkbox"
          class="size-4 translate-y-0.5 accent-(--sea)"
          :checked="step.outlets.includes(outlet.id)"
          :data-bench-first="index === 0 ? '' : undefined"
          @change="toggle(outlet.id)"
        />
        {{ outlet.name }}
        <span class="text-sm text-ink-3"
          >{{ KIND_RULES[outlet.kind].name
          }}<template v-if="KIND_RULES[outlet.kind].text.limit"
            >, up to {{ KIND_RULES[outlet.kind].text.limit }} characters</template
          ></span
        >
        <span v-if="outlet.trouble && step.outlets.includes(outlet.id)" class="text-sm text-rose"
          >{{ outlet.trouble }}
          <button class="link" type="button" @click.prevent="check(outlet.id)">Check again</button></span
        >
      </label>
      <button v-if="hidden" class="link justify-self-start text-sm leading-6" @click="all = true">
        and {{ hidden }} more outlets
      </button>
    </div>
    <NewOutlet v-if="outlets.length" act="publish" @made="toggle" />
    <p v-else class="text-ink-2">
      No account may post yet.
      <RouterLink class="link" :to="{ name: 'accounts', params: { brand: session.brandId } }">Connect one</RouterLink>;
      this workflow is saved and waits.
    </p>
  </fieldset>
</template>
