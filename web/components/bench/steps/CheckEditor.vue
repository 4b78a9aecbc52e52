<script setup lang="ts">
import type { Group } from '@playa/core/conditions/condition.ts';
import type { CheckStep } from '@playa/core/steps/check.ts';
import { useEditor } from '../../../stores/editor.ts';
import ConditionGroup from '../../form/ConditionGroup.vue';

const props = defineProps<{ step: CheckStep }>();
const editor = useEditor();
function change(condition: Group, merge: string) {
  editor.changeStep<CheckStep>(props.step.id, (step) => (step.condition = condition), merge);
}
</script>

<template>
  <div>
    <p class="mb-2 text-ink-2">An item goes on only if:</p>
    <ConditionGroup :group="step.condition" :fields="editor.usable" :depth="0" path="c" @change="change" />
  </div>
</template>
