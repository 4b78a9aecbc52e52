<script setup lang="ts">
import { CalendarDays, ChevronLeft, ChevronRight, X } from '@lucide/vue';
import {
  DatePickerCalendar,
  DatePickerCell,
  DatePickerCellTrigger,
  DatePickerContent,
  DatePickerField,
  DatePickerGrid,
  DatePickerGridBody,
  DatePickerGridHead,
  DatePickerGridRow,
  DatePickerHeadCell,
  DatePickerHeader,
  DatePickerHeading,
  DatePickerInput,
  DatePickerNext,
  DatePickerPrev,
  DatePickerRoot,
  DatePickerTrigger,
} from 'reka-ui';
import { computed, ref } from 'vue';
import { clockNote, dateLocale, dateOf, textOfDate, today, type Granularity } from '../../lib/date-values.ts';
import { zoneNote } from '../../lib/times.ts';
import { useSession } from '../../stores/session.ts';
import { useTyped } from './typed-value.ts';

// A day, or a day with a time of the brand's clock, typed part by part or chosen from a calendar, in the order and with
// the first day of the week that the brand's language has. What it holds is a text: "2026-11-28", "2026-11-28T18:30".
const props = withDefaults(
  defineProps<{
    modelValue: string;
    /** What it is, for those who do not see it. */
    label: string;
    granularity?: Granularity;
    /** Whether it may be left empty. */
    clearable?: boolean;
    /** The time zone, where it is not that of the brand one is in. */
    zone?: string;
    disabled?: boolean;
  }>(),
  { granularity: 'day', zone: undefined },
);
const emit = defineEmits<{
  /** At once, with every part that is typed; empty as long as a part is missing. */
  'update:modelValue': [text: string];
  /** Once it is left, Enter is pressed or a day is chosen: when it has changed since. */
  change: [text: string];
}>();
const session = useSession();
const open = ref(false);
const zone = computed(() => props.zone ?? session.zone);
const locale = computed(() => dateLocale(session.brand?.locale));
const { typed, type, focused, left, settle } = useTyped(
  () => props.modelValue,
  (text) => emit('update:modelValue', text),
  (text) => emit('change', text),
  // A year has four digits: nobody means the year 2 while they type 2031.
  (text) => (text.startsWith('0') ? '' : text),
);
const value = computed(() => dateOf(typed.value, props.granularity));
const first = computed(() => today(zone.value, props.granularity));
const note = computed(() => (props.granularity === 'minute' ? clockNote(typed.value, zone.value) : ''));
const elsewhere = computed(() => (props.granularity === 'minute' ? zoneNote(zone.value) : ''));
const isToday = (day: { toString(): string }) => day.toString().slice(0, 10) === first.value.toString().slice(0, 10);
function chosen() {
  open.value = false;
  settle();
}
function clear() {
  type('');
  settle();
}
function entered(event: KeyboardEvent) {
  settle();
  (event.currentTarget as HTMLElement).closest('form')?.requestSubmit();
}
</script>

<template>
  <span class="inline-flex flex-wrap items-center gap-x-2 gap-y-1">
    <DatePickerRoot
      v-model:open="open"
      :model-value="value ?? null"
      :granularity="granularity"
      :default-placeholder="first"
      :hour-cycle="24"
      :locale="locale"
      weekday-format="short"
      :disabled="disabled"
      prevent-deselect
      @update:model-value="type(textOfDate($event, granularity))"
    >
      <DatePickerField
        v-slot="{ segments }"
        class="field inline-flex items-center py-0.5 whitespace-nowrap tabular-nums focus-within:outline-2 focus-within:outline-sea"
        :class="disabled && 'opacity-60'"
        role="group"
        :aria-label="label"
        :data-value="typed"
        @focusin="focused"
        @focusout="left"
        @keydown.enter.prevent="entered"
      >
        <template v-for="segment in segments" :key="segment.part">
          <DatePickerInput v-if="segment.part === 'literal'" :part="segment.part" class="whitespace-pre text-ink-3">{{
            segment.value
          }}</DatePickerInput>
          <DatePickerInput
            v-else
            :part="segment.part"
            class="min-w-6 rounded-[3px] px-px py-0.5 text-center outline-none focus:bg-sea-wash focus:text-sea data-[placeholder]:text-ink-3"
            >{{ segment.value }}</DatePickerInput
          >
        </template>
        <button
          v-if="clearable && typed && !disabled"
          type="button"
          class="ml-1 rounded p-0.5 text-ink-3 hover:text-rose"
          :aria-label="`${label}: leave it open`"
          @click="clear"
        >
          <X :size="13" />
        </button>
        <DatePickerTrigger
          class="-mr-1 ml-1 rounded p-0.5 text-ink-3 hover:text-ink"
          :aria-label="`${label}: choose from a calendar`"
        >
          <CalendarDays :size="15" />
        </DatePickerTrigger>
      </DatePickerField>
      <!-- Not moved to the end of the page: a dialog would take it for something beside it. -->
      <DatePickerContent
        :portal="{ disabled: true }"
        position-strategy="fixed"
        align="end"
        :side-offset="4"
        class="sheet z-50 p-3 shadow-xl"
        @keydown.escape.stop.prevent="open = false"
      >
        <DatePickerCalendar v-slot="{ weekDays, grid }">
          <DatePickerHeader class="flex items-center gap-1">
            <DatePickerPrev class="btn btn-quiet p-1" aria-label="The month before"
              ><ChevronLeft :size="16"
            /></DatePickerPrev>
            <DatePickerHeading class="flex-1 text-center font-[650]" />
            <DatePickerNext class="btn btn-quiet p-1" aria-label="The month after"
              ><ChevronRight :size="16"
            /></DatePickerNext>
          </DatePickerHeader>
          <DatePickerGrid v-for="month in grid" :key="month.value.toString()" class="mt-2 border-collapse">
            <DatePickerGridHead>
              <DatePickerGridRow>
                <DatePickerHeadCell
                  v-for="day in weekDays"
                  :key="day"
                  class="w-9 pb-1 text-center text-sm font-normal text-ink-3"
                  >{{ day }}</DatePickerHeadCell
                >
              </DatePickerGridRow>
            </DatePickerGridHead>
            <DatePickerGridBody>
              <DatePickerGridRow v-for="week in month.rows" :key="week[0]!.toString()">
                <DatePickerCell v-for="day in week" :key="day.toString()" :date="day" class="p-0 text-center">
                  <DatePickerCellTrigger
                    :day="day"
                    :month="month.value"
                    class="mx-auto grid size-8 cursor-pointer place-items-center rounded-(--radius) tabular-nums outline-none hover:bg-sea-wash focus-visible:outline-2 focus-visible:outline-sea data-[outside-view]:text-ink-3 data-[selected]:bg-sea data-[selected]:text-card"
                    :class="isToday(day) && 'font-[750] underline decoration-2 underline-offset-4'"
                    @click="chosen"
                  />
                </DatePickerCell>
              </DatePickerGridRow>
            </DatePickerGridBody>
          </DatePickerGrid>
        </DatePickerCalendar>
      </DatePickerContent>
    </DatePickerRoot>
    <span v-if="note" class="text-sm text-amber" role="status">{{ note }}</span>
    <span v-else-if="elsewhere" class="text-sm text-ink-3">{{ elsewhere }}</span>
  </span>
</template>
