<script setup lang="ts">
import { diffWordsWithSpace } from 'diff';
import { computed } from 'vue';
import { itemTitle } from '@playa/core/items/title.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { saySettings } from '@playa/core/workflow/say-settings.ts';
import { differencesBetween, type Aspect, type Difference } from '@playa/core/rehearsal/differences.ts';
import { useEditor } from '../stores/editor.ts';

// What the draft would make of the newest items, beside what the live version makes of them: only what differs.
const props = defineProps<{ live: Definition }>();
const editor = useEditor();
/** So many of the newest items are looked at, and so many that differ are shown. */
const LOOKED_AT = 300;
const SHOWN = 8;
const ASPECTS: Record<Aspect, string> = {
  words: '',
  title: 'title',
  card: 'card',
  media: 'picture',
  trouble: 'held',
  outcome: '',
};
const OUTCOMES: Record<string, string> = {
  done: 'done',
  held: 'waits for you',
  stopped: 'stopped',
  waiting: 'goes out',
};

const differing = computed(() =>
  differencesBetween(props.live, editor.definition, editor.world, editor.items.slice(0, LOOKED_AT)),
);
const rows = computed(() =>
  differing.value.slice(0, SHOWN).map(({ item, all }) => ({
    item,
    all: all.map((each) => ({ ...each, where: whereOf(each), parts: partsOf(each) })),
  })),
);
/** What changes of the rules, whatever the items. */
const rules = computed(() => {
  const [before, after] = [saySettings(props.live.settings), saySettings(editor.definition.settings)];
  return {
    gone: before.filter((rule) => !after.includes(rule)),
    fresh: after.filter((rule) => !before.includes(rule)),
  };
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
  <p v-if="rules.gone.length || rules.fresh.length" class="mb-2">
    <b>Rules:</b> <del v-for="rule in rules.gone" :key="rule" class="mr-1 bg-rose-wash text-rose">{{ rule }}</del>
    <ins v-for="rule in rules.fresh" :key="rule" class="mr-1 bg-kelp-wash text-kelp no-underline">{{ rule }}</ins>
  </p>
  <p v-if="rows.length === 0" class="text-ink-2">
    For the items here, nothing comes out differently from the live version.
  </p>
  <template v-else>
    <h3 class="mb-1">
      What changes, for the same items<span v-if="differing.length > rows.length" class="font-normal text-ink-3"
        >: {{ rows.length }} of {{ differing.length }}</span
      >
    </h3>
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
