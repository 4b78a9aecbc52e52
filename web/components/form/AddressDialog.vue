<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ModalDialog from './ModalDialog.vue';

// Something of the brand's that is read without signing in, at an address that can be renewed or taken back.
type Feed = Record<string, string> | null;
const props = defineProps<{
  /** The endpoints that read it, and that make, renew or take it back. */
  opens: 'openFeed' | 'openCalendarAddress';
  sets: 'setFeed' | 'setCalendarAddress';
  title: string;
  about: string;
  /** What each of its addresses is called, by name. */
  names: Readonly<Record<string, string>>;
}>();
const emit = defineEmits<{ close: [] }>();
const session = useSession();
const notices = useNotices();
const feed = ref<Feed>();
const { busy, attempt } = useAttempt(notices.wrong);
onMounted(async () => {
  try {
    ({ feed: feed.value } = await call(props.opens, { brand: session.brandId }));
  } catch (error) {
    notices.wrong(error);
  }
});
async function turn(on: boolean) {
  await attempt(async () => {
    ({ feed: feed.value } = await call(props.sets, { brand: session.brandId }, { body: { on } }));
  });
}
async function copy(address: string) {
  await navigator.clipboard.writeText(address).then(
    () => notices.say('The address is copied.'),
    () => notices.wrong('The address could not be copied; it can be marked and copied by hand.'),
  );
}
</script>

<template>
  <ModalDialog :title="title" @close="emit('close')">
    <p class="text-ink-2">{{ about }} Whoever has the address can read it.</p>
    <p v-if="feed === undefined" class="mt-3 text-ink-3">Loading …</p>
    <template v-else-if="feed">
      <label v-for="(name, as) in names" :key="as" class="mt-3 block">
        <span class="text-sm text-ink-2">{{ name }}</span>
        <span class="flex gap-2">
          <input
            class="field min-w-0 flex-1"
            readonly
            :value="feed[as]"
            @focus="($event.target as HTMLInputElement).select()"
          />
          <button class="btn" @click="copy(feed[as]!)">Copy</button>
        </span>
      </label>
      <p class="mt-3 text-sm text-ink-3">A new address makes the old one useless at once.</p>
    </template>
    <template #actions>
      <template v-if="feed">
        <button class="btn" :disabled="busy" @click="turn(false)">Take it back</button>
        <button class="btn" :disabled="busy" @click="turn(true)">New address</button>
      </template>
      <button v-else-if="feed === null" class="btn btn-main" :disabled="busy" @click="turn(true)">
        Make an address
      </button>
      <button class="btn" @click="emit('close')">Close</button>
    </template>
  </ModalDialog>
</template>
