<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import type { PublishStep } from '@playa/core/steps/publish.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { useEditor } from '../../../stores/editor.ts';
import { useOutletCheck } from '../../../stores/check-outlet.ts';
import NewOutlet from '../../form/NewOutlet.vue';
import FittingEditor from './FittingEditor.vue';
import PostExtras from './PostExtras.vue';
import WhenEditor from './WhenEditor.vue';
import { useSession } from '../../../stores/session.ts';
import KeptInput from '../../form/KeptInput.vue';

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
const texts = computed(() => [...new Set([...editor.texts, props.step.caption])]);
const links = computed(() => editor.usable.filter((field) => field.type === 'link'));
const change = (what: (step: PublishStep) => void) => editor.changeStep<PublishStep>(props.step.id, what);
function setName(event: Event) {
  const input = event.target as HTMLInputElement;
  const name = input.value.trim();
  if (name !== '' && !/^\p{L}[\p{L}\p{N}_-]{0,39}$/u.test(name)) return void (input.value = props.step.as ?? '');
  change((step) => {
    if (name === '') delete step.as;
    else step.as = name;
  });
}
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
  <div class="grid gap-3">
    <fieldset>
      <legend class="mb-1 text-ink-2">Post on</legend>
      <div v-if="outlets.length" class="grid gap-1">
        <label v-for="(outlet, index) in shown" :key="outlet.id" class="flex items-center gap-2">
          <input
            type="checkbox"
            class="size-4 accent-(--sea)"
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
        <button v-if="hidden" class="link justify-self-start text-sm" @click="all = true">
          and {{ hidden }} more outlets
        </button>
      </div>
      <NewOutlet v-if="outlets.length" act="publish" @made="toggle" />
      <p v-else class="text-ink-2">
        No account may post yet.
        <RouterLink class="link" :to="{ name: 'accounts', params: { brand: session.brandId } }">Connect one</RouterLink
        >; this workflow is saved and waits.
      </p>
    </fieldset>
    <label class="flex items-center gap-2">
      <span class="w-20 text-ink-2">Words</span>
      <select
        class="field"
        :value="step.caption"
        @change="change((each) => (each.caption = ($event.target as HTMLSelectElement).value))"
      >
        <option v-for="name in texts" :key="name" :value="name">{{ name }}</option>
      </select>
    </label>
    <WhenEditor :step="step" />
    <FittingEditor :step="step" />
    <PostExtras :step="step" />
    <label class="flex items-center gap-2">
      <span class="w-20 text-ink-2">Card of</span>
      <select
        class="field"
        :value="step.card ?? ''"
        @change="change((each) => (each.card = ($event.target as HTMLSelectElement).value || null))"
      >
        <option value="">no link</option>
        <option v-for="field in links" :key="field.path" :value="field.path">{{ field.label }}</option>
        <option v-if="step.card && !links.some((field) => field.path === step.card)" :value="step.card">
          {{ step.card }}
        </option>
      </select>
      <span class="text-sm text-ink-3">where the kind knows cards; on boards, where the picture leads</span>
    </label>
    <label class="flex items-center gap-2">
      <span class="w-20 text-ink-2">Called</span>
      <KeptInput
        class="field w-28"
        aria-label="What later steps call the post"
        placeholder="no name"
        :value="step.as ?? ''"
        @change="setName"
      />
      <span class="text-sm text-ink-3">so that later steps can use its link, or change it</span>
    </label>
  </div>
</template>
