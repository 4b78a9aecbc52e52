<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import type { JsonSchema } from '@playa/core/items/json-schema.ts';
import { call } from '../../lib/api.ts';
import { useAttempt } from '../../lib/attempt.ts';
import { useStale } from '../../lib/changed-meanwhile.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ChangedMeanwhile from '../form/ChangedMeanwhile.vue';

// What was learned of a web hook can be set right; what comes later is learned on top of it. Both may happen while
// somebody types: then nothing that was learned meanwhile is lost before they say so.
const props = defineProps<{ watchId: number; schema: JsonSchema | null; revision: string | null }>();
const emit = defineEmits<{ kept: [] }>();
const session = useSession();
const notices = useNotices();
const { busy, trouble, attempt } = useAttempt();
const { stale, isStale } = useStale();
const there = computed(() => JSON.stringify(props.schema, null, 2));
const text = ref(there.value);
/** The revision that the text here was made of. */
let seen = props.revision;
const changed = computed(() => text.value !== before.value);
const before = ref(there.value);
/** As it is there now. */
function begin() {
  stale.value = undefined;
  trouble.value = '';
  seen = props.revision;
  before.value = text.value = there.value;
}
// News do not take away what somebody types.
watch([there, () => props.watchId], ([, watchId], [, of]) => {
  if (!changed.value || watchId !== of) begin();
});
function keep(over = seen) {
  stale.value = undefined;
  return attempt(async () => {
    const schema = read(text.value);
    await call('changeHook', { brand: session.brandId, id: props.watchId }, { body: { schema, revision: over } });
    notices.say('The schema is as you wrote it.');
    before.value = text.value;
    emit('kept');
  }, isStale);
}
function read(written: string): JsonSchema {
  try {
    return JSON.parse(written) as JsonSchema;
  } catch (error) {
    throw new Error(`This is not JSON: ${(error as Error).message}`);
  }
}
</script>

<template>
  <textarea
    v-model="text"
    class="field mt-1 min-h-48 w-full font-mono text-[11.5px]"
    aria-label="The JSON Schema"
    spellcheck="false"
  ></textarea>
  <ChangedMeanwhile v-if="stale" :says="stale.says" :busy="busy" @theirs="begin" @mine="keep(stale.current)" />
  <p v-if="trouble" role="alert" class="text-sm text-rose">It was not kept: {{ trouble }}</p>
  <p class="mt-1 flex gap-2">
    <button class="btn" :disabled="busy || !changed" @click="keep()">Keep the schema</button>
    <button v-if="changed" class="btn btn-quiet" @click="begin">As it was</button>
  </p>
</template>
