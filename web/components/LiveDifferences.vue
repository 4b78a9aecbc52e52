<script setup lang="ts">
import { diffWordsWithSpace } from 'diff';
import { computed } from 'vue';
import { compile } from '@playa/core/engine/program.ts';
import { itemTitle } from '@playa/core/items/title.ts';
import { momentOf, rehearseItem } from '@playa/core/rehearsal/rehearse.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { differencesOf, type Aspect, type Difference } from '@playa/core/workflow/differences.ts';
import { useEditor } from '../stores/editor.ts';

// What the draft would make of the newest items, beside what the live version makes of them: only what differs.
const props = defineProps<{ live: Definition }>();
const editor = useEditor();
/** So many of the newest items are looked at, and so many that differ are shown. */
const LOOKED_AT = 30;
const SHOWN = 8;
const ASPECTS: Record<Aspect, string> = { words: '', title: 'title', card: 'card', media: 'picture', outcome: '' };
const OUTCOMES: Record<string, string> = {
  done: 'done',
  held: 'waits for you',
  stopped: 'stopped',
  waiting: 'goes out',
};

const rows = computed(() => {
  const program = compile(props.live, editor.world);
  return editor.items
    .slice(0, LOOKED_AT)
    .map((item) => ({
      item,
      all: differencesOf(rehearseItem(program, item, momentOf(item)), editor.outcomes(item)).map((each) => ({
        ...each,
        where: whereOf(each),
        parts: partsOf(each),
      })),
    }))
    .filter(({ all }) => all.length > 0)
    .slice(0, SHOWN);
});
function whereOf({ aspect, outlets }: Difference): string {
  const names = outlets.map((id) => editor.world.outlets.get(id)?.name ?? 'gone');
  const where = names.length > 2 ? `${names.length} outlets` : names.join(' and ');
  return [where, ASPECTS[aspect]].filter(Boolean).join(', ');
}
function partsOf({ aspect, before, after }: Difference) {
  const said = (text: string | null) =>
    aspect === 'outcome' && text !== null ? (OUTCOMES[text] ?? text) : (text ?? '');
  return diffWordsWithSpace(said(before), said(after));
}
</script>

<template>
  <p v-if="rows.length === 0" class="text-ink-2">
    For the items here, nothing comes out differently from the live version.
  </p>
  <template v-else>
    <h3 class="mb-1">What changes, for the same items</h3>
    <div v-for="row in rows" :key="row.item.id" class="border-t border-line py-1.5">
      <p class="truncate font-[550]">{{ itemTitle(row.item.fields) }}</p>
      <p v-for="(each, index) in row.all" :key="index" class="text-sm break-words whitespace-pre-line">
        <span v-if="each.where" class="text-ink-3">{{ each.where }}: </span
        ><template v-for="(part, number) in each.parts" :key="number"
          ><ins v-if="part.added" class="bg-kelp-wash text-kelp no-underline">{{ part.value }}</ins
          ><del v-else-if="part.removed" class="bg-rose-wash text-rose">{{ part.value }}</del
          ><template v-else>{{ part.value }}</template></template
        >
      </p>
    </div>
  </template>
</template>
