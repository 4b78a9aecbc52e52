<script setup lang="ts">
import { ref } from 'vue';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import { webHref } from '../../lib/links.ts';
import type { OutletRow } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

// One outlet of an account: whether it may be used, and a test that is taken away again.
const props = defineProps<{ outlet: OutletRow; works: boolean }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const notices = useNotices();
const { busy, attempt } = useAttempt(notices.wrong);
const open = ref(false);
const test = ref<{ ticket: string; url: string | null; removable: boolean } | null>(null);

async function during(work: () => Promise<void>) {
  await attempt(work);
  emit('changed');
}
const check = () =>
  during(async () => {
    const found = await call('checkOutlet', { brand: session.brandId, id: props.outlet.id });
    if (found.ok) notices.say(`${props.outlet.name} may be used.`);
  });
const send = () =>
  during(async () => {
    test.value = await call('sendTestPost', { brand: session.brandId, id: props.outlet.id });
  });
const remove = () =>
  during(async () => {
    await call('removeTestPost', { brand: session.brandId, id: props.outlet.id, ticket: test.value!.ticket });
    test.value = null;
    notices.say('The test is gone again.');
  });
</script>

<template>
  <div :class="outlet.gone && 'text-ink-3'">
    <div class="flex items-baseline gap-1.5">
      <a
        v-if="outlet.address"
        class="inline-block min-h-6"
        :class="outlet.gone && 'line-through'"
        :href="webHref(outlet.address)"
        target="_blank"
        rel="noreferrer"
        >{{ outlet.name }}</a><span v-else class="min-h-6" :class="outlet.gone && 'line-through'">{{
        outlet.name
      }}</span>
      <span v-if="outlet.gone" class="text-sm">gone</span>
      <button
        v-else-if="works && !outlet.details.watchOnly"
        class="ml-auto rounded px-1 text-sm text-ink-3 hover:text-sea"
        :aria-expanded="open"
        :aria-label="`What can be done with ${outlet.name}`"
        @click="open = !open"
      >
        {{ open ? 'less' : '…' }}
      </button>
    </div>
    <p v-if="outlet.details.watchOnly && !outlet.gone" class="text-sm text-ink-3">to watch only</p>
    <p v-else-if="outlet.trouble && !outlet.gone" class="text-sm text-rose">
      {{ outlet.trouble }} {{ outlet.remedy }}
      <button class="link" :disabled="busy" @click="check">Check again</button>
    </p>
    <div v-if="open && !outlet.gone" class="mb-1 flex flex-wrap gap-1">
      <button class="btn px-2 py-0.5 text-sm" :disabled="busy" @click="check">Check permission</button>
      <button
        v-if="KIND_RULES[outlet.kind].publishes && !outlet.trouble"
        class="btn px-2 py-0.5 text-sm"
        :disabled="busy"
        @click="send"
      >
        Send a test
      </button>
    </div>
    <p v-if="test" class="mb-1 rounded bg-kelp-wash px-2 py-1 text-sm" role="status">
      A test went out<template v-if="test.url">
        (<a :href="webHref(test.url)" target="_blank" rel="noreferrer">see it</a>)</template
      >.
      <button v-if="test.removable" class="link" :disabled="busy" @click="remove">Remove it again</button>
      <span v-else>It can only be removed at the network itself.</span>
    </p>
  </div>
</template>
