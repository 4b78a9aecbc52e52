<script setup lang="ts">
import { computed } from 'vue';
import type { Group } from '@playa/core/conditions/condition.ts';
import type { FieldInfo } from '@playa/core/shapes/catalogue.ts';
import type { Trigger } from '@playa/core/triggers/trigger.ts';
import ChooseOne from '../form/ChooseOne.vue';
import ConditionGroup from '../form/ConditionGroup.vue';

// What of a source starts the workflow: what appears, what changes, or what becomes so.
const props = defineProps<{
  /** Undefined for what appears. */
  trigger: Trigger | undefined;
  /** What is watched, in the plural. */
  things: string;
  fields: readonly FieldInfo[];
  path: string;
}>();
const emit = defineEmits<{ change: [trigger: Trigger | undefined, merge: string] }>();

const on = computed(() => props.trigger?.on ?? 'appears');
const waits = computed(() => (props.trigger?.on === 'becomes' ? props.trigger : null));
const heeds = computed(() => (props.trigger?.on === 'changes' ? props.trigger.fields : []));
const isDate = (field: FieldInfo) => field.type === 'moment' || field.type === 'date';

/** A condition to begin with: for a plan that has a time, "status is …, and its time has come". */
function firstCondition(): Group {
  const status = props.fields.find((field) => field.type === 'text' && /status|state|stage/i.test(field.path));
  const time = props.fields.find((field) => isDate(field) && !/^(published|updated)$/.test(field.path));
  return {
    type: 'group',
    match: 'all',
    items: [
      ...(status ? [{ type: 'test' as const, field: status.path, op: 'is' as const, value: 'ready' }] : []),
      ...(time ? [{ type: 'test' as const, field: time.path, op: 'hasCome' as const }] : []),
    ],
  };
}
function choose(event: Event) {
  const chosen = (event.target as HTMLSelectElement).value as Trigger['on'];
  if (chosen === on.value) return;
  if (chosen === 'appears') emit('change', undefined, '');
  if (chosen === 'becomes') emit('change', { on: 'becomes', when: firstCondition() }, '');
  if (chosen === 'changes') {
    const first = props.fields.find((field) => field.type === 'text') ?? props.fields[0];
    emit('change', { on: 'changes', fields: [first?.path ?? 'title'] }, '');
  }
}
function heed(index: number, path: string) {
  const fields = [
    ...new Set(
      heeds.value.map((each, at) => (at === index ? path : each)).concat(index < heeds.value.length ? [] : path),
    ),
  ];
  const kept = fields.filter((each) => each !== '');
  if (kept.length > 0) emit('change', { on: 'changes', fields: kept }, '');
}
const setWhen = (when: Group, merge: string) =>
  waits.value && emit('change', { ...waits.value, when }, merge && `trigger.${merge}`);
const setAgain = (again: boolean) =>
  waits.value && emit('change', { on: 'becomes', when: waits.value.when, ...(again && { again }) }, '');
</script>

<template>
  <div>
    <label class="flex flex-wrap items-center gap-1.5">
      Starts when
      <select class="field" aria-label="What starts the workflow" :value="on" @change="choose">
        <option value="appears">one of the {{ things }} appears</option>
        <option value="changes">a field of one changes</option>
        <option value="becomes">a condition turns true</option>
      </select>
    </label>
    <div v-if="on === 'changes'" class="mt-2 flex flex-wrap items-center gap-1.5">
      <ChooseOne
        v-for="(heeded, index) in [...heeds, '']"
        :key="index"
        class="max-w-44"
        :label="index === 0 ? 'Field that has to change' : `Or this field, ${index + 1}`"
        :value="heeded"
        :options="fields.map(({ path: value, label: name }) => ({ value, name }))"
        :any="index > 0 ? (heeded ? 'not this one' : 'or another …') : undefined"
        @change="heed(index, $event)"
      />
      <p class="w-full text-sm text-ink-3">Only changes start it; what is new does not.</p>
    </div>
    <template v-if="waits">
      <ConditionGroup
        class="mt-2"
        :group="waits.when"
        :fields="fields"
        :depth="0"
        :path="`${path}.trigger`"
        @change="setWhen"
      />
      <label class="mt-1 flex items-center gap-1.5">
        <input
          type="checkbox"
          class="accent-(--sea)"
          :checked="waits.again === true"
          @change="setAgain(($event.target as HTMLInputElement).checked)"
        />
        each time it becomes so, also after something went out for it
      </label>
      <p class="mt-1 text-sm text-ink-3">
        A condition on a time starts it at that very time. When it no longer holds while something still waits, that
        ends.
      </p>
    </template>
  </div>
</template>
