<script setup lang="ts">
import { computed } from 'vue';
import type { Group } from '@playa/core/conditions/condition.ts';
import { catalogue } from '@playa/core/items/catalogue.ts';
import type { CheckStep } from '@playa/core/steps/check.ts';
import { useEditor } from '../../stores/editor.ts';
import ConditionGroup from './ConditionGroup.vue';

const props = defineProps<{ step: CheckStep }>();
const editor = useEditor();
const fields = computed(() => catalogue(editor.items.slice(0, 60).map((item) => item.fields)));
function change(condition: Group, merge: string) {
  editor.changeStep<CheckStep>(props.step.id, (step) => (step.condition = condition), merge);
}
</script>

<template>
  <div>
    <p class="mb-2 text-ink-2">An item goes on only if:</p>
    <ConditionGroup :group="step.condition" :fields="fields" :depth="0" path="c" @change="change" />
  </div>
</template>
