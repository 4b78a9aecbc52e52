<script setup lang="ts">
import { CircleAlert, Info } from '@lucide/vue';
import { computed } from 'vue';
import type { Advice } from '@playa/core/advice/advice.ts';
import { useEditor } from '../../stores/editor.ts';

// One list of what is wrong or could be better, with remedies.
const props = defineProps<{ advice: readonly Advice[] }>();
const emit = defineEmits<{ show: [filter: NonNullable<Advice['show']>] }>();
const editor = useEditor();
const all = computed<Advice[]>(() => [...editor.problems, ...props.advice]);
</script>

<template>
  <section v-if="all.length" class="mt-3 border-t border-line pt-2">
    <h3 class="mb-1">Worth a look</h3>
    <ul>
      <li
        v-for="each in all"
        :key="each.says"
        class="flex items-baseline gap-2 border-b border-dashed border-line py-1"
      >
        <component
          :is="each.level === 'harm' ? CircleAlert : Info"
          :size="13"
          class="shrink-0 translate-y-0.5"
          :class="each.level === 'harm' ? 'text-rose' : 'text-ink-3'"
          :aria-label="each.level === 'harm' ? 'To settle' : 'Advice'"
        />
        <span>{{ each.says }}</span>
        <span class="ml-auto flex shrink-0 gap-3 text-sea">
          <button
            v-if="each.remedy"
            class="hover:underline"
            @click="editor.edit((draft) => each.remedy!.apply(draft.definition))"
          >
            {{ each.remedy.says }}
          </button>
          <button v-if="each.show" class="hover:underline" @click="emit('show', each.show)">show them</button>
          <button
            v-else-if="each.step && each.step !== editor.row"
            class="hover:underline"
            @click="editor.row = each.step"
          >
            go there
          </button>
        </span>
      </li>
    </ul>
  </section>
</template>
