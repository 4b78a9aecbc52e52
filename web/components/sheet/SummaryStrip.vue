<script setup lang="ts">
import { computed, ref } from 'vue';
import type { Summary } from '@playa/core/rehearsal/summary.ts';
import { useEditor, type Reading } from '../../stores/editor.ts';
import { useNotices } from '../../stores/notices.ts';
import { useRehearsal, type Filter } from '../../stores/rehearsal.ts';

// Above the sheet: which reading is shown, and what it adds up to.
const props = defineProps<{ summary: Summary | null }>();
const editor = useEditor();
const rehearsal = useRehearsal();
const readings: { id: Reading; label: string; says: string }[] = [
  { id: 'samples', label: 'Samples', says: 'the newest items while you edit' },
  { id: 'rehearsal', label: 'Rehearsal', says: 'everything stored, nothing sent' },
  { id: 'happened', label: 'Happened', says: 'what really ran' },
];
const filters: { id: Filter; label: string }[] = [
  { id: 'all', label: 'All' },
  { id: 'posted', label: 'Would be posted' },
  { id: 'stopped', label: 'Stopped' },
  { id: 'too-long', label: 'Too long' },
  { id: 'empty', label: 'Something empty' },
  { id: 'similar', label: 'Nearly said before' },
  { id: 'dead-link', label: 'Links that do nothing' },
  { id: 'hashtags', label: 'Too many hashtags' },
  { id: 'left-behind', label: 'Gaps left behind' },
  { id: 'shouting', label: 'All in capitals' },
  { id: 'mention', label: 'Names that call nobody' },
  { id: 'no-picture', label: 'Without a picture' },
  { id: 'pictures', label: 'Pictures left out' },
  { id: 'no-alt', label: 'Pictures nobody describes' },
];
const stepNumber = (id: string) => editor.numberOf(id) || 'the rules';
/** Counted over all that ran, of which the sheet shows the newest. */
const happened = computed(
  () => editor.counts ?? { runs: 0, posts: 0, answers: 0, others: 0, held: 0, waiting: 0, stopped: 0 },
);
const fetching = ref(false);
async function older() {
  fetching.value = true;
  await editor.loadOlderRuns().catch(useNotices().wrong);
  fetching.value = false;
}
const plural = (count: number, word: string) => `${word}${count === 1 ? '' : 's'}`;
const harms = computed(() => editor.problems.filter((problem) => problem.level === 'harm').length);
const s = computed(() => props.summary);
</script>

<template>
  <div class="sheet flex flex-wrap items-center gap-x-5 gap-y-1 px-3 py-1.5" role="region" aria-label="Summary">
    <div role="radiogroup" aria-label="Reading" class="flex overflow-hidden rounded-(--radius) border border-line">
      <button
        v-for="reading in readings"
        :key="reading.id"
        role="radio"
        :aria-checked="editor.reading === reading.id"
        :title="reading.says"
        class="px-3 py-1"
        :class="editor.reading === reading.id ? 'bg-bar font-[550] text-white' : 'hover:bg-paper'"
        @click="editor.reading = reading.id"
      >
        {{ reading.label }}
      </button>
    </div>
    <div class="flex flex-wrap items-center gap-x-5 gap-y-1" aria-live="polite">
      <template v-if="editor.reading === 'happened'">
        <template v-if="happened.runs">
          <span
            ><b>{{ happened.runs }}</b> {{ plural(happened.runs, 'run')
            }}<template v-if="happened.runs > editor.runs.length"
              >, the newest {{ editor.runs.length }} shown</template
            ></span
          >
          <button v-if="editor.hasOlderRuns" class="link" :disabled="fetching" @click="older">Show older ones</button>
          <span v-if="happened.posts || !(happened.answers || happened.others)"
            >→ <b>{{ happened.posts }}</b> {{ plural(happened.posts, 'post') }}</span
          >
          <span v-if="happened.answers"
            >→ <b>{{ happened.answers }}</b> {{ plural(happened.answers, 'answer') }}</span
          >
          <span v-if="happened.others"
            >→ <b>{{ happened.others }}</b> {{ happened.others === 1 ? 'other thing' : 'other things' }} done</span
          >
          <span v-if="happened.stopped"
            ><b>{{ happened.stopped }}</b> stopped</span
          >
          <span v-if="happened.waiting" class="text-sea"
            ><b>{{ happened.waiting }}</b> on {{ happened.waiting === 1 ? 'its' : 'their' }} way</span
          >
          <span v-if="happened.held" class="text-amber"
            ><b>{{ happened.held }}</b> {{ happened.held === 1 ? 'needs' : 'need' }} you</span
          >
        </template>
        <span v-else class="text-ink-3">{{
          editor.workflow?.liveVersion === null ? 'It has never been live.' : 'Nothing has appeared since it went live.'
        }}</span>
      </template>
      <template v-else-if="s && s.items">
        <span
          ><b>{{ s.items }}</b> {{ plural(s.items, 'item') }}</span
        >
        <span v-if="s.posts || !s.answers"
          >→ <b>{{ s.posts }}</b> {{ plural(s.posts, 'post')
          }}<template v-if="s.outlets > 1"> on {{ s.outlets }} outlets</template></span
        >
        <span v-if="s.answers"
          >→ <b>{{ s.answers }}</b> {{ plural(s.answers, 'answer') }}</span
        >
        <span v-for="stop in s.stops" :key="stop.step"
          ><b>{{ stop.count }}</b> stopped at {{ stepNumber(stop.step) }}</span
        >
        <span v-if="s.joined"
          ><b>{{ s.joined }}</b> gathered into others</span
        >
        <span v-if="s.waiting" class="text-sea"
          ><b>{{ s.waiting }}</b> still waiting</span
        >
        <span v-if="s.tooLong" class="text-rose"
          ><b>{{ s.tooLong }}</b> too long</span
        >
        <span v-if="s.emptyCaption" class="text-rose"
          ><b>{{ s.emptyCaption }}</b> without words</span
        >
        <span v-if="s.incomplete" class="text-rose"
          ><b>{{ s.incomplete }}</b> without a title or picture that the outlet asks for</span
        >
        <span v-if="s.repeats" class="text-amber"
          ><b>{{ s.repeats }}</b> {{ s.repeats === 1 ? 'repeats' : 'repeat' }} an earlier post</span
        >
      </template>
      <span v-if="harms && editor.reading !== 'happened'" class="text-rose"
        ><b>{{ harms }}</b> to settle</span
      >
      <span v-if="editor.reading === 'rehearsal' && rehearsal.failed" class="text-rose">{{ rehearsal.failed }}</span>
      <span v-else-if="editor.reading === 'rehearsal' && rehearsal.running && rehearsal.news" class="text-ink-3"
        >{{ rehearsal.news.done }} of {{ rehearsal.news.of }}
        <button class="link" @click="rehearsal.stop()">stop</button></span
      >
      <span v-else-if="editor.reading === 'rehearsal'" class="text-ink-3">nothing is sent</span>
    </div>
    <label v-if="editor.reading === 'rehearsal'" class="ml-auto flex items-center gap-1.5 text-ink-2">
      Show
      <select
        class="field max-w-72 border-transparent font-[650]"
        :value="rehearsal.filter"
        @change="rehearsal.show(($event.target as HTMLSelectElement).value as Filter)"
      >
        <option v-for="filter in filters" :key="filter.id" :value="filter.id">
          {{
            filter.id === 'too-long' && rehearsal.at
              ? `Too long on ${editor.world.outlets.get(rehearsal.at)?.name ?? 'an outlet'}`
              : filter.label
          }}
        </option>
      </select>
    </label>
  </div>
</template>
