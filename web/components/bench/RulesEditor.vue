<script setup lang="ts">
import type { Pace } from '@playa/core/timetable/pace.ts';
import { OFFICE_HOURS } from '@playa/core/timetable/opening-hours.ts';
import { busiestAt } from '@playa/core/rehearsal/busiest.ts';
import { BRAKE, OLDEST, type Settings } from '@playa/core/workflow/settings.ts';
import { computed } from 'vue';
import { useEditor } from '../../stores/editor.ts';
import FieldSelect from '../form/FieldSelect.vue';
import FormRow from '../form/FormRow.vue';
import HoursEditor from '../form/HoursEditor.vue';
import LengthInput from '../form/LengthInput.vue';
import KeptInput from '../form/KeptInput.vue';

// What holds for the whole workflow, whatever its steps.
const editor = useEditor();
const change = editor.changeSettings;
const scopes = [
  { key: 'workflow', label: 'of this workflow' },
  { key: 'account', label: 'of one account' },
  { key: 'outlet', label: 'at one outlet' },
] as const;
const setPace = (key: keyof Settings['pace'], pace: Pace | null, merge = '') =>
  change((settings) => (settings.pace[key] = pace), merge);
function setFailure(what: string) {
  change((settings) => {
    settings.onFailure =
      what === 'steps' ? { do: 'steps', steps: [] } : ({ do: what } as { do: 'hold' | 'skip' | 'end' });
  });
}
const whileOpen = (event: Event) => {
  const chosen = (event.target as HTMLSelectElement).value as NonNullable<Settings['whileOpen']>;
  return chosen === 'update' ? undefined : chosen;
};
const brake = computed(() => editor.settings.brake ?? BRAKE);
/** The most that the items here would have sent to one outlet in an hour and a day. */
const busiest = computed(() => busiestAt(editor.items.slice(0, 500).map((item) => editor.outcomes(item))));
const officeHours = () => OFFICE_HOURS.map((day) => day.map((stretch) => ({ ...stretch })));
const number = (event: Event) => Number((event.target as HTMLInputElement).value) || null;
/** The fields that are heeded, with one of them changed, added or left out. */
function heeded(fields: readonly string[], index: number, field: string): string[] | null {
  const next = [...fields];
  next.splice(index, 1, field);
  const named = [...new Set(next.filter(Boolean))];
  return named.length ? named : null;
}
</script>

<template>
  <div class="grid gap-2.5">
    <FormRow label="Once per" hint="Counted after the first checks: who was passed over has not had a turn.">
      <FieldSelect
        :field="editor.settings.once?.by ?? ''"
        label="Once per"
        none="no limit"
        first
        @change="change((s) => (s.once = $event ? { by: $event, within: s.once?.within ?? null } : null))"
      />
      <template v-if="editor.settings.once">
        <select
          class="field"
          aria-label="For how long"
          :value="editor.settings.once.within === null ? '' : 'within'"
          @change="
            change((s) => (s.once!.within = ($event.target as HTMLSelectElement).value === '' ? null : 30 * 86400))
          "
        >
          <option value="">for ever</option>
          <option value="within">within</option>
        </select>
        <LengthInput
          v-if="editor.settings.once.within !== null"
          :seconds="editor.settings.once.within"
          label="Within"
          @change="change((s) => (s.once!.within = Math.max(1, Math.round($event))), 'within')"
        />
      </template>
    </FormRow>
    <FormRow label="Opening hours" hint="Outside them nothing reaches people; it waits for the next.">
      <label class="flex items-center gap-1.5 py-1"
        ><input
          type="checkbox"
          class="accent-(--sea)"
          :checked="editor.settings.hours !== null"
          @change="change((s) => (s.hours = s.hours ? null : officeHours()))"
        />
        only in</label
      >
      <HoursEditor
        v-if="editor.settings.hours"
        class="w-full"
        :hours="editor.settings.hours"
        @change="(hours, merge) => change((s) => (s.hours = hours), merge)"
      />
    </FormRow>
    <FormRow label="Pace" hint="The least time between two things that are sent.">
      <div v-for="{ key, label } in scopes" :key="key" class="flex w-full flex-wrap items-center gap-1.5">
        <label class="flex w-40 items-center gap-1.5"
          ><input
            type="checkbox"
            class="accent-(--sea)"
            :checked="editor.settings.pace[key] !== null"
            @change="setPace(key, editor.settings.pace[key] ? null : { gap: 60, jitter: 0 })"
          />
          {{ label }}</label
        >
        <template v-if="editor.settings.pace[key]">
          <LengthInput
            :seconds="editor.settings.pace[key].gap"
            :label="`Least gap ${label}`"
            @change="setPace(key, { ...editor.settings.pace[key]!, gap: $event }, `gap ${key}`)"
          />
          <span class="text-ink-3">and by chance up to</span>
          <LengthInput
            :seconds="editor.settings.pace[key].jitter"
            :label="`More by chance ${label}`"
            @change="setPace(key, { ...editor.settings.pace[key]!, jitter: $event }, `jitter ${key}`)"
          />
          <span class="text-ink-3">more</span>
        </template>
      </div>
    </FormRow>
    <FormRow label="At once" hint="More items than this wait their turn.">
      <KeptInput
        type="number"
        min="1"
        max="1000"
        class="field w-20"
        placeholder="any"
        aria-label="How many items at once"
        :value="editor.settings.atOnce ?? ''"
        @change="change((s) => (s.atOnce = number($event)))"
      />
      <span class="text-ink-3">items under way; in order per</span>
      <FieldSelect
        :field="editor.settings.inOrder ?? ''"
        label="In order per"
        none="any order"
        @change="change((s) => (s.inOrder = $event || null))"
      />
    </FormRow>
    <FormRow label="On failure" hint="What may have gone out is always held for you.">
      <select
        class="field"
        aria-label="What is done when something fails"
        :value="editor.settings.onFailure.do"
        @change="setFailure(($event.target as HTMLSelectElement).value)"
      >
        <option value="hold">hold it for me</option>
        <option value="skip">leave it out and go on</option>
        <option value="end">end the run</option>
        <option value="steps">do other steps</option>
      </select>
      <span class="text-ink-3">; pause after</span>
      <KeptInput
        type="number"
        min="1"
        max="100"
        class="field w-16"
        placeholder="never"
        aria-label="Pause after so many failures in a row"
        :value="editor.settings.stopAfter ?? ''"
        @change="change((s) => (s.stopAfter = number($event)))"
      />
      <span class="text-ink-3">failed runs in a row</span>
    </FormRow>
    <FormRow label="On change" hint="Runs again when the source says something else in one of these fields.">
      <FieldSelect
        v-for="(field, index) in [...(editor.settings.onChange ?? []), '']"
        :key="index"
        :field="field"
        :label="index === 0 ? 'Again when it changes' : `Or when this changes, ${index + 1}`"
        :none="index === 0 ? 'items run once' : 'and no other'"
        @change="change((s) => (s.onChange = heeded(s.onChange ?? [], index, $event)))"
      />
      <label class="flex flex-wrap items-center gap-1.5">
        <span class="text-ink-3">While it waits, a change</span>
        <select
          class="field"
          aria-label="What a change does to an item that waits"
          :value="editor.settings.whileOpen ?? 'update'"
          @change="change((s) => (s.whileOpen = whileOpen($event)))"
        >
          <option value="update">brings it up to date</option>
          <option value="keep">leaves it as it was</option>
          <option value="end">ends it</option>
        </select>
      </label>
    </FormRow>
    <FormRow
      label="They write again"
      hint="Whoever it has written to: a person answers now, so that the rest is not sent."
    >
      <select
        class="field"
        aria-label="What becomes of it when they write again"
        :value="editor.settings.whenTheyWrite ?? ''"
        @change="
          change((s) => (s.whenTheyWrite = ($event.target as HTMLSelectElement).value === 'end' ? 'end' : undefined))
        "
      >
        <option value="">it goes on</option>
        <option value="end">it ends</option>
      </select>
    </FormRow>
    <FormRow label="Leaves out" hint="What is left out is shown on Today, where it can be taken all the same.">
      <label class="flex flex-wrap items-center gap-1.5">
        <input
          type="checkbox"
          class="accent-(--sea)"
          :checked="editor.settings.oldest !== null"
          @change="change((s) => (s.oldest = s.oldest === null ? undefined : null))"
        />
        what appears late: older than
        <LengthInput
          v-if="editor.settings.oldest !== null"
          :seconds="editor.settings.oldest ?? OLDEST"
          label="Oldest thing that is taken"
          @change="change((s) => (s.oldest = Math.max(60, Math.round($event))), 'oldest')"
        />
      </label>
      <label class="flex items-center gap-1.5">
        <input
          type="checkbox"
          class="accent-(--sea)"
          :checked="editor.settings.own !== 'start'"
          @change="change((s) => (s.own = s.own === 'start' ? undefined : 'start'))"
        />
        what Playa itself has posted
      </label>
    </FormRow>
    <FormRow label="Brake" hint="With more than this at one outlet it pauses by itself, and everybody is told.">
      <KeptInput
        type="number"
        min="1"
        max="10000"
        class="field w-20"
        aria-label="Most posts in an hour at one outlet"
        :value="brake.hour"
        @change="change((s) => (s.brake = { ...brake, hour: number($event) ?? BRAKE.hour }))"
      />
      <span class="text-ink-3">in an hour, </span>
      <KeptInput
        type="number"
        min="1"
        max="100000"
        class="field w-20"
        aria-label="Most posts in a day at one outlet"
        :value="brake.day"
        @change="change((s) => (s.brake = { ...brake, day: number($event) ?? BRAKE.day }))"
      />
      <span class="text-ink-3"
        >in a day<template v-if="busiest"> · so far at most {{ busiest.hour }} and {{ busiest.day }}</template></span
      >
    </FormRow>
  </div>
</template>
