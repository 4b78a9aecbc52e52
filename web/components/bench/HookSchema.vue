<script setup lang="ts">
import { watch } from 'vue';
import { z } from 'zod';
import type { JsonSchema } from '@playa/core/items/json-schema.ts';
import { call } from '../../lib/api.ts';
import { useStale } from '../../lib/changed-meanwhile.ts';
import { useSendForm } from '../../lib/form.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ChangedMeanwhile from '../form/ChangedMeanwhile.vue';
import FormField from '../form/FormField.vue';

// What was learned of a web hook can be set right; what comes later is learned on top of it. Both may happen while
// somebody types: then nothing that was learned meanwhile is lost before they say so.
const props = defineProps<{ watchId: number; schema: JsonSchema | null; revision: string | null }>();
const emit = defineEmits<{ kept: [] }>();
const session = useSession();
const notices = useNotices();
const { stale, isStale } = useStale();
const there = () => ({ text: JSON.stringify(props.schema, null, 2) });
/** The revision that the text here was made of. */
let seen = props.revision;
const form = useSendForm<{ text: string }, { text: JsonSchema }>({
  schema: z.object({ text: z.string().transform(read) }),
  values: there(),
  send: async ({ text: schema }) => {
    const sent = form.values.value;
    await call('changeHook', { brand: session.brandId, id: props.watchId }, { body: { schema, revision: seen } });
    notices.say('The schema is as you wrote it.');
    form.settle(sent, sent);
    emit('kept');
  },
  known: isStale,
});
const { busy, trouble, changed } = form;
/** As it is there now. */
function begin() {
  stale.value = undefined;
  trouble.value = '';
  seen = props.revision;
  form.reset(there());
}
// News do not take away what somebody types.
watch([() => there().text, () => props.watchId], ([, watchId], [, of]) => {
  if (!changed.value || watchId !== of) begin();
});
function keepMine() {
  seen = stale.value!.current;
  return send();
}
function send() {
  stale.value = undefined;
  return form.submit();
}
function read(written: string, context: z.RefinementCtx): JsonSchema {
  try {
    return JSON.parse(written) as JsonSchema;
  } catch (error) {
    context.addIssue({ code: 'custom', message: `This is not JSON: ${(error as Error).message}` });
    return z.NEVER;
  }
}
</script>

<template>
  <FormField v-slot="{ bind, value, change }" class="mt-1" :form="form" name="text" label="The JSON Schema">
    <textarea
      v-bind="bind"
      class="field min-h-48 w-full font-mono text-[11.5px]"
      spellcheck="false"
      :value="value"
      @input="change(($event.target as HTMLTextAreaElement).value)"
    ></textarea>
  </FormField>
  <ChangedMeanwhile v-if="stale" :says="stale.says" :busy="busy" @theirs="begin" @mine="keepMine" />
  <p v-if="trouble" role="alert" class="text-sm text-rose">It was not kept: {{ trouble }}</p>
  <p class="mt-1 flex gap-2">
    <button class="btn" :disabled="busy || !changed" @click="send">Keep the schema</button>
    <button v-if="changed" class="btn btn-quiet" @click="begin">As it was</button>
  </p>
</template>
