<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { Ellipsis, Star, UserRound } from '@lucide/vue';
import { DateTime } from 'luxon';
import { computed, nextTick, ref } from 'vue';
import { shorten } from '@playa/core/text/shorten.ts';
import { webHref } from '../../lib/links.ts';
import { ago, dayAndTime } from '../../lib/times.ts';
import type { Desk } from '../../lib/types.ts';
import { provideBrand } from '../../stores/brand-here.ts';
import { useSession } from '../../stores/session.ts';
import { canAnswer, KIND_NAMES, lengthOf, standingOf, tellingOf } from './answering.ts';
import AnswerField from './AnswerField.vue';
import DraftAnswer from './DraftAnswer.vue';
import type { BrandEntry, Tend } from './use-desk.ts';

// One thing that somebody wrote, beside what we would answer.
const props = defineProps<{
  entry: BrandEntry;
  text: string;
  now: number;
  chosen: boolean;
  /** The keyboard is at it. */
  active: boolean;
  /** It has left the list, and is shown until nobody is at it. */
  gone: boolean;
  opened: boolean;
  members: Desk['members'];
  /** Several brands are shown: each says whose it is. */
  several?: boolean;
}>();
const emit = defineEmits<{
  text: [text: string];
  send: [];
  back: [];
  tend: [doing: Tend];
  choose: [];
  show: [];
  /** All with a label are to be shown. */
  label: [label: string];
  /** Somebody begins to answer it, or stops. */
  answering: [at: boolean, over?: boolean];
}>();
const session = useSession();
const here = provideBrand(() => props.entry.brandId);
const field = ref<InstanceType<typeof AnswerField>>();
const drafts = ref<InstanceType<typeof DraftAnswer>>();
const standing = computed(() => standingOf(props.entry, here.zone.value, props.now));
/** What it is said about, cut where people would. */
const about = computed(() => shorten(props.entry.about?.title ?? '', 60) || 'a post');
const telling = computed(() => tellingOf(props.entry));
const size = computed(() => lengthOf(props.entry, props.text));
const sends = computed(() => canAnswer(props.entry) && !props.gone);
const left = computed(() => Math.max(0, Math.ceil(((props.entry.sending?.dueAt ?? 0) - props.now) / 1000)));
/** A colleague who has it open. */
const other = computed(() =>
  props.entry.openedBy && props.entry.openedBy.id !== session.user?.id ? props.entry.openedBy : null,
);
const MOODS = { good: 'text-kelp', look: 'text-amber', wrong: 'text-rose', plain: 'text-ink-3' } as const;

const outdated = computed(() => props.entry.held?.trouble === 'outdated');
const sendWord = computed(() =>
  outdated.value ? 'Answer anyway' : props.entry.state === 'answered' ? 'Send again' : 'Send',
);

/** Moments to put something off until, by the brand's clock. */
const laters = computed(() => {
  const local = DateTime.fromMillis(props.now, { zone: here.zone.value });
  const nine = local.plus({ days: 1 }).set({ hour: 9, minute: 0, second: 0, millisecond: 0 });
  const monday = nine.plus({ days: (8 - nine.weekday) % 7 });
  return [
    { label: 'for an hour', until: local.plus({ hours: 1 }).toMillis() },
    { label: 'until tomorrow, 09:00', until: nine.toMillis() },
    { label: 'until Monday, 09:00', until: monday.toMillis() },
  ];
});

async function edit() {
  await nextTick();
  field.value?.edit();
}
defineExpose({ edit, draft: () => drafts.value?.draft() });
</script>

<template>
  <div
    role="row"
    class="desk-row grid gap-x-3 gap-y-1.5 border-b border-line px-3 py-2 last:border-0"
    :class="[active ? 'bg-sea-wash/60 shadow-[inset_3px_0_0_var(--sea)]' : '', gone && 'opacity-60']"
  >
    <span role="cell" class="pt-0.5">
      <input
        type="checkbox"
        class="accent-(--sea)"
        :checked="chosen"
        :aria-label="`Choose what ${entry.contact.name} wrote`"
        @change="emit('choose')"
      />
    </span>
    <div role="cell" class="min-w-0">
      <button
        class="max-w-full truncate text-left font-[650] hover:underline"
        :aria-expanded="opened"
        @click="emit('show')"
      >
        {{ entry.contact.name }}
      </button>
      <p v-if="several" class="truncate text-sm font-[650] text-ink-2">{{ here.brand.value?.name }}</p>
      <p class="truncate text-sm text-ink-3">{{ entry.outlet }}</p>
      <p class="text-sm text-ink-3" :title="dayAndTime(entry.saidAt, here.zone.value)">
        {{ KIND_NAMES[entry.kind] }} · {{ ago(entry.saidAt, now) }}
      </p>
      <p v-if="entry.contact.labels.length" class="mt-0.5 flex flex-wrap gap-1">
        <button
          v-for="label in entry.contact.labels"
          :key="label"
          class="pill bg-dusk-wash text-dusk hover:underline"
          :title="`Show everybody labelled ${label}`"
          @click="emit('label', label)"
        >
          {{ label }}
        </button>
      </p>
      <p v-if="entry.contact.leftAlone" class="mt-0.5 text-sm text-rose">asked to be left alone</p>
      <p v-if="entry.assignedTo" class="mt-0.5 flex items-center gap-1 text-sm text-ink-2">
        <UserRound :size="12" /> {{ entry.assignedTo.name }}
      </p>
    </div>
    <div role="cell" class="desk-said min-w-0">
      <p class="break-words whitespace-pre-line" dir="auto">
        <span
          v-if="entry.stars !== null"
          class="mr-1 inline-flex align-[-2px] text-amber"
          role="img"
          :aria-label="`${entry.stars} of 5 stars`"
        >
          <Star v-for="star in entry.stars" :key="star" :size="13" fill="currentColor" />
        </span>
        <template v-if="entry.text">{{ entry.text }}</template>
        <span v-else class="text-ink-3">(no words)</span>
      </p>
      <p v-if="entry.about || telling.length" class="mt-0.5 text-sm text-ink-3">
        <template v-if="entry.about"
          >on
          <a v-if="entry.about.link" class="link" :href="webHref(entry.about.link)" target="_blank" rel="noreferrer">{{
            about
          }}</a><template v-else>{{ about }}</template></template
        ><template v-if="entry.about && telling.length"> · </template>{{ telling.join(' · ') }}
      </p>
    </div>
    <div role="cell" class="desk-answer min-w-0">
      <p v-if="entry.sending" class="break-words whitespace-pre-line" dir="auto">{{ entry.sending.text }}</p>
      <p
        v-else-if="entry.state === 'answered' && entry.answer && !active"
        class="break-words whitespace-pre-line text-ink-2"
        dir="auto"
      >
        {{ entry.answer.text || '(their words are there)' }}
      </p>
      <p v-else-if="gone || entry.state === 'gone' || entry.outletId === null" class="break-words text-ink-3">
        {{ text }}
      </p>
      <AnswerField
        v-else
        ref="field"
        :entry="entry"
        :text="text"
        :label="`Answer to ${entry.contact.name}`"
        :placeholder="entry.state === 'answered' ? 'Write once more' : 'Write an answer, or / for a snippet'"
        :invalid="size.over"
        @text="emit('text', $event)"
        @focus="emit('answering', true)"
        @blur="emit('answering', false)"
      />
      <DraftAnswer v-if="active && sends" ref="drafts" :entry="entry" :text="text" @text="emit('text', $event)" />
      <p class="mt-0.5 flex flex-wrap gap-x-3 text-sm">
        <span v-if="entry.sending" class="text-sea" role="status"
          >Goes in {{ left }} s, from {{ entry.sending.by }}</span
        >
        <span v-else-if="gone" class="text-ink-3">{{ standing.says || 'No longer here' }}</span>
        <span v-else-if="standing.says" :class="MOODS[standing.mood]">{{ standing.says }}</span>
        <span v-if="other && !entry.sending" class="text-dusk">
          {{ other.name }} has it open ·
          <button class="underline" @click="emit('answering', true, true)">answer it yourself</button>
        </span>
        <span
          v-if="sends && size.limit !== null && text"
          class="ml-auto tabular-nums"
          :class="size.over ? 'font-[650] text-rose' : 'text-ink-3'"
          >{{ size.length }}/{{ size.limit }}</span
        >
      </p>
    </div>
    <div role="cell" class="desk-acts flex items-start gap-1.5">
      <button v-if="entry.sending" class="btn" @click="emit('back')">Undo</button>
      <button
        v-else-if="sends"
        class="btn"
        :class="active && 'btn-main'"
        :disabled="text.trim() === '' || size.over"
        @click="emit('send')"
      >
        {{ sendWord }}
      </button>
      <Menu v-if="!entry.sending && !gone" as="div" class="relative">
        <MenuButton class="btn px-2" :aria-label="`More for ${entry.contact.name}`"><Ellipsis :size="15" /></MenuButton>
        <MenuItems
          class="absolute right-0 z-30 mt-1 max-h-80 w-56 overflow-auto rounded-(--radius) border border-line bg-card py-1 shadow-lg"
        >
          <MenuItem v-slot="{ active: at }">
            <button class="block w-full px-3 py-1.5 text-left" :class="at && 'bg-sea-wash'" @click="emit('show')">
              The whole conversation
            </button>
          </MenuItem>
          <MenuItem v-if="entry.link" v-slot="{ active: at }">
            <a
              class="block px-3 py-1.5 no-underline"
              :class="at && 'bg-sea-wash'"
              :href="webHref(entry.link)"
              target="_blank"
              rel="noreferrer"
              >See it there</a
            >
          </MenuItem>
          <MenuItem v-if="entry.state === 'open'" v-slot="{ active: at }">
            <button
              class="block w-full px-3 py-1.5 text-left"
              :class="at && 'bg-sea-wash'"
              @click="emit('tend', { do: 'ignore' })"
            >
              {{ outdated ? 'Leave it as it was answered' : 'Leave without an answer' }}
            </button>
          </MenuItem>
          <MenuItem v-else-if="entry.state !== 'gone'" v-slot="{ active: at }">
            <button
              class="block w-full px-3 py-1.5 text-left"
              :class="at && 'bg-sea-wash'"
              @click="emit('tend', { do: 'reopen' })"
            >
              It waits for an answer
            </button>
          </MenuItem>
          <template v-if="entry.state === 'open'">
            <MenuItem v-for="later in laters" :key="later.label" v-slot="{ active: at }">
              <button
                class="block w-full px-3 py-1.5 text-left"
                :class="at && 'bg-sea-wash'"
                @click="emit('tend', { do: 'snooze', until: later.until })"
              >
                Put off {{ later.label }}
              </button>
            </MenuItem>
          </template>
          <MenuItem v-for="member in members" :key="member.id" v-slot="{ active: at }">
            <button
              class="block w-full px-3 py-1.5 text-left"
              :class="at && 'bg-sea-wash'"
              @click="emit('tend', { do: 'assign', to: entry.assignedTo?.id === member.id ? null : member.id })"
            >
              {{ entry.assignedTo?.id === member.id ? 'Take from' : 'Give to' }}
              {{ member.id === session.user?.id ? 'me' : member.name }}
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
    </div>
  </div>
</template>

<style scoped>
.desk-row {
  grid-template-columns: 18px minmax(0, 150px) minmax(0, 1fr) minmax(0, 1fr) auto;
}
.desk-acts {
  min-width: 108px;
}
@media (max-width: 760px) {
  .desk-row {
    grid-template-columns: 18px minmax(0, 1fr);
  }
  .desk-said,
  .desk-answer,
  .desk-acts {
    grid-column: 2;
  }
  .desk-acts .btn {
    min-height: 40px;
  }
}
</style>
