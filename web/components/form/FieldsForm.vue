<script setup lang="ts">
import { computed } from 'vue';
import { z } from 'zod';
import { useSendForm } from '../../lib/form.ts';
import FormField from './FormField.vue';

// A form whose fields the server names: what a network wants to know before it connects, or makes something.
export interface NamedField {
  name: string;
  label: string;
  hint?: string | undefined;
  secret?: boolean | undefined;
  optional?: boolean | undefined;
}
const props = defineProps<{
  /** So that a button outside it can send it. */
  id?: string;
  fields: readonly NamedField[];
  send: (values: Record<string, string>) => Promise<unknown>;
}>();
const emit = defineEmits<{ busy: [busy: boolean]; changed: [changed: boolean] }>();
const MOST = 8000;
const shape = Object.fromEntries(
  props.fields.map(({ name, optional, secret }) => {
    // A password may begin or end with a space: it is sent as it was typed.
    const text = (secret ? z.string() : z.string().trim()).max(MOST, `At most ${MOST} characters.`);
    return [name, optional ? text : text.min(1, 'This is needed.')];
  }),
);
const form = useSendForm<Record<string, string>, Record<string, string>>({
  schema: z.object(shape) as unknown as z.ZodType<Record<string, string>, Record<string, string>>,
  values: Object.fromEntries(props.fields.map(({ name }) => [name, ''])),
  send: async (values) => {
    emit('busy', true);
    // What may be left empty and was is not said.
    await props
      .send(Object.fromEntries(Object.entries(values).filter(([, value]) => value !== '')))
      .finally(() => emit('busy', false));
  },
});
const { trouble, busy } = form;
const changed = computed(() => form.changed.value);
defineExpose({ changed, busy });
</script>

<template>
  <form :id="id" class="grid gap-2.5" novalidate @submit.prevent="form.submit()">
    <FormField
      v-for="field in fields"
      :key="field.name"
      :form="form"
      :name="field.name"
      :label="field.label"
      :type="field.secret ? 'password' : 'text'"
      :placeholder="field.hint"
      :optional="field.optional === true"
    />
    <p v-if="trouble" role="alert" class="rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">{{ trouble }}</p>
    <slot :busy="busy" />
  </form>
</template>
