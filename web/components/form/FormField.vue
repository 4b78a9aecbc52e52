<script setup lang="ts" generic="Values extends object">
import { useField } from '@tanstack/vue-form';
import { computed, useId } from 'vue';
import type { SendForm } from '../../lib/form.ts';

// One field of a form: its label, what is wrong with what stands in it, and what binds it. Usually a plain input; the
// slot takes any other field.
const props = withDefaults(
  defineProps<{
    form: SendForm<Values>;
    name: keyof Values & string;
    label: string;
    type?: string;
    placeholder?: string;
    /** What helps to fill it in. */
    hint?: string;
    optional?: boolean;
    autocomplete?: string;
    /** Most characters. */
    maxlength?: number;
    lines?: number;
    /** Its field is one of several parts, which say themselves what they are. */
    group?: boolean;
  }>(),
  {
    type: 'text',
    placeholder: undefined,
    hint: undefined,
    autocomplete: 'off',
    maxlength: undefined,
    lines: undefined,
  },
);
const id = useId();
const field = useField({ form: props.form.api, name: props.name });
const value = computed(() => field.state.value as Values[keyof Values & string]);
/** The first thing that is wrong, in a sentence. */
const wrong = computed(() => {
  for (const each of field.state.meta.errors as (string | { message: string } | undefined)[])
    if (each) return typeof each === 'string' ? each : each.message;
  return '';
});
const bind = computed(() => ({
  id,
  name: props.name,
  'data-form': props.form.api.formId,
  'aria-invalid': wrong.value !== '',
  'aria-describedby': wrong.value ? `${id}-wrong` : props.hint ? `${id}-hint` : undefined,
}));
function change(value: unknown) {
  // What the server said of the words before is not about these.
  field.api.setMeta((meta) => ({ ...meta, errorMap: { ...meta.errorMap, onServer: undefined } }));
  field.api.handleChange(value as never);
}
const typed = (event: Event) => change((event.target as HTMLInputElement).value);
</script>

<template>
  <div class="grid content-start gap-0.5">
    <component :is="group ? 'span' : 'label'" :for="group ? undefined : id"
      >{{ label }}<span v-if="optional" class="text-ink-3"> (may be left empty)</span></component
    >
    <slot :bind="bind" :value="value" :change="change">
      <textarea
        v-if="lines"
        v-bind="bind"
        class="field w-full"
        :rows="lines"
        :placeholder="placeholder"
        :maxlength="maxlength"
        :value="value as string"
        @input="typed"
      ></textarea>
      <input
        v-else
        v-bind="bind"
        class="field w-full"
        :type="type"
        :placeholder="placeholder"
        :autocomplete="autocomplete"
        :maxlength="maxlength"
        spellcheck="false"
        :value="value as string"
        @input="typed"
      />
    </slot>
    <p v-if="wrong" :id="`${id}-wrong`" class="text-sm text-rose" role="alert">{{ wrong }}</p>
    <p v-else-if="hint" :id="`${id}-hint`" class="text-sm text-ink-3">{{ hint }}</p>
  </div>
</template>
