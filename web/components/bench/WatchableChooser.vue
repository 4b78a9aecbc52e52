<script setup lang="ts">
import { computed, ref } from 'vue';
import type { WatchableOutlet } from '../../lib/types.ts';
import { matchNames } from '../../lib/match-names.ts';
import { useSession } from '../../stores/session.ts';
import ChooseOne from '../form/ChooseOne.vue';

// What connected accounts can see: choose what appears, then where; several places at once become several sources.
const props = defineProps<{ watchable: WatchableOutlet[]; busy: boolean }>();
const emit = defineEmits<{ chosen: [outlets: WatchableOutlet[]] }>();
const session = useSession();

/** Comments of a photo feed and comments of a page are not the same thing: grouped by account. */
const sorts = computed(() => {
  const groups = new Map<string, WatchableOutlet[]>();
  for (const each of props.watchable) {
    const key = `${each.accountName}\n${each.what}`;
    groups.set(key, [...(groups.get(key) ?? []), each]);
  }
  return [...groups].map(([key, outlets]) => ({
    key,
    outlets,
    label: `new ${outlets[0]!.things} · ${outlets[0]!.accountName}`,
  }));
});
const sort = ref('');
const chosenSort = computed(() => sorts.value.find((each) => each.key === sort.value));
const picked = ref<number[]>([]);
function choose(key: string) {
  sort.value = key;
  const only = sorts.value.find((each) => each.key === key)?.outlets;
  picked.value = only?.length === 1 ? [only[0]!.outlet] : [];
  pasted.value = '';
  unknown.value = [];
}
const toggle = (id: number) =>
  (picked.value = picked.value.includes(id) ? picked.value.filter((each) => each !== id) : [...picked.value, id]);
const pasted = ref('');
const unknown = ref<string[]>([]);
/** What a pasted list names is ticked beside what is. */
function takeList() {
  const found = matchNames(pasted.value, chosenSort.value?.outlets ?? []);
  picked.value = [...new Set([...picked.value, ...found.found.map(({ outlet }) => outlet)])];
  unknown.value = found.unknown;
  pasted.value = found.unknown.join('\n');
}
const send = () => emit('chosen', chosenSort.value?.outlets.filter((each) => picked.value.includes(each.outlet)) ?? []);
</script>

<template>
  <p v-if="watchable.length === 0" class="text-ink-2">
    No connected account can see anything new.
    <RouterLink class="link" :to="{ name: 'accounts', params: { brand: session.brandId } }">Connect one</RouterLink>
  </p>
  <form v-else class="grid gap-2" @submit.prevent="send">
    <ChooseOne
      class="w-full max-w-xl"
      label="What appears"
      prompt="choose what appears"
      :value="sort"
      :options="sorts.map(({ key, label }) => ({ value: key, name: label }))"
      @change="choose"
    />
    <fieldset v-if="chosenSort">
      <legend class="mb-1 text-ink-2">Where</legend>
      <div class="flex flex-wrap gap-x-4 gap-y-1">
        <label v-for="each in chosenSort.outlets" :key="each.outlet" class="flex items-center gap-1.5">
          <input
            type="checkbox"
            class="size-4 accent-(--sea)"
            :checked="picked.includes(each.outlet)"
            @change="toggle(each.outlet)"
          />
          {{ each.name }}
        </label>
      </div>
      <p v-if="chosenSort.outlets.length > 1" class="mt-1 flex flex-wrap gap-3">
        <button type="button" class="link" @click="picked = chosenSort.outlets.map(({ outlet }) => outlet)">
          all {{ chosenSort.outlets.length }}
        </button>
        <button type="button" class="link" @click="picked = []">none</button>
      </p>
      <details v-if="chosenSort.outlets.length > 3" class="mt-1">
        <summary class="cursor-pointer text-ink-2">Paste a list of names</summary>
        <textarea
          v-model="pasted"
          class="field mt-1 w-full max-w-xl"
          rows="4"
          placeholder="one on each line, as a spreadsheet copies them"
          aria-label="Names of places, one on each line"
        ></textarea>
        <button type="button" class="btn" :disabled="pasted.trim() === ''" @click="takeList">Tick these</button>
        <p v-if="unknown.length" role="status" class="mt-1 text-amber">
          {{ unknown.length === 1 ? 'One line names' : `${unknown.length} lines name` }} no place, or several:
          {{ unknown.slice(0, 5).join('; ') }}{{ unknown.length > 5 ? ' …' : '' }}
        </p>
      </details>
      <p class="mt-1 text-sm text-ink-3">
        {{
          chosenSort.outlets[0]!.told
            ? 'This network tells at once.'
            : 'This network does not tell; Playa looks now and then.'
        }}
      </p>
    </fieldset>
    <button v-if="chosenSort" class="btn btn-main justify-self-start" :disabled="busy || picked.length === 0">
      {{ busy ? 'Looking …' : picked.length > 1 ? `Watch these ${picked.length}` : 'Watch this' }}
    </button>
  </form>
</template>
