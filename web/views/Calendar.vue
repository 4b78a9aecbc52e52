<script setup lang="ts">
import { ChevronLeft, ChevronRight } from '@lucide/vue';
import { useLocalStorage, useMediaQuery } from '@vueuse/core';
import { DateTime } from 'luxon';
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import AddressDialog from '../components/form/AddressDialog.vue';
import CalendarShelf from '../components/calendar/CalendarShelf.vue';
import ChooseOne from '../components/form/ChooseOne.vue';
import CalendarMenu from '../components/calendar/CalendarMenu.vue';
import ImportPostsDialog from '../components/calendar/ImportPostsDialog.vue';
import DayList from '../components/calendar/DayList.vue';
import MonthGrid from '../components/calendar/MonthGrid.vue';
import MoveDialog from '../components/calendar/MoveDialog.vue';
import PostPanel from '../components/calendar/PostPanel.vue';
import TimetableDialog from '../components/calendar/TimetableDialog.vue';
import WeekGrid from '../components/calendar/WeekGrid.vue';
import { useChoosing } from '../components/calendar/choosing.ts';
import { useLikely } from '../components/calendar/likely.ts';
import { useMoving } from '../components/calendar/moving.ts';
import { ableTo, approveSeveral, moveSeveral, removeSeveral } from '../components/calendar/several.ts';
import SeveralPanel from '../components/calendar/SeveralPanel.vue';
import { cellOf, daysShown, sayShown, turned, type CalendarView } from '../lib/calendar.ts';
import { zoneNote } from '../lib/times.ts';
import { useSession } from '../stores/session.ts';
import { useResource } from '../stores/resource.ts';

// Everything planned and everything that went out, by outlet and day.
const session = useSession();
const route = useRoute();
const router = useRouter();
const busy = ref(false);
/** Outlets beside days need room. */
const narrow = useMediaQuery('(max-width: 760px)');
const importing = ref<File | null>(null);
const addressed = ref(false);
const timetableOf = ref<number | null>(null);
/** What a person wants to see, kept in this browser for each brand. */
const filters = useLocalStorage(`playa.calendar.${session.brandId}`, { outlet: 0, workflow: 0, state: '' });

const VIEWS = { day: 'Day', week: 'Week', month: 'Month' } as const;
const view = computed<CalendarView>(() =>
  route.query.view === 'month' || route.query.view === 'day' ? route.query.view : 'week',
);
const anchor = computed(() =>
  typeof route.query.day === 'string' && DateTime.fromISO(route.query.day).isValid
    ? route.query.day
    : DateTime.now().setZone(session.zone).toISODate()!,
);
const days = computed(() => daysShown(view.value, anchor.value, session.zone));
const show = (day: string | undefined, as = view.value) =>
  router.replace({ query: { ...(day && { day }), ...(as !== 'week' && { view: as }) } });

const {
  data: calendar,
  trouble,
  load,
} = useResource('openCalendar', () => ({ brand: session.brandId }), {
  query: () => ({ from: days.value[0]!.from, to: days.value.at(-1)!.to }),
  topics: ['runs', 'workflows', 'items', 'accounts'],
});

const all = computed(() => calendar.value?.posts ?? []);
const posts = computed(() =>
  all.value.filter(
    (post) =>
      (!filters.value.workflow || post.workflowId === filters.value.workflow) &&
      (!filters.value.state ||
        filters.value.state === 'likely' ||
        (filters.value.state === 'out') === (post.state === 'out' || post.state === 'deleted')),
  ),
);
const workflows = computed(() => [
  ...new Map(
    all.value.flatMap(({ workflowId, workflow }) => (workflowId === null ? [] : [[workflowId, workflow] as const])),
  ),
]);
/** Outlets that something goes to, or that have a timetable; the others can be shown too. */
const every = ref(false);
const outlets = computed(() => {
  const busyOnes = new Set(all.value.map((post) => post.outlet));
  return (calendar.value?.outlets ?? []).filter(
    (outlet) =>
      (!filters.value.outlet || outlet.id === filters.value.outlet) &&
      (every.value || outlet.used || outlet.revision > 0 || busyOnes.has(outlet.id)),
  );
});
const hidden = computed(() => (calendar.value?.outlets.length ?? 0) - outlets.value.length);
const now = computed(() => calendar.value?.now ?? Date.now());
const { likely, trouble: unlikely } = useLikely(
  () => session.brandId,
  computed(() => filters.value.state === 'likely'),
  days,
  calendar,
);
/** What every way of showing it is given. */
const shown = computed(() => {
  const here = new Set(outlets.value.map((outlet) => outlet.id));
  return {
    outlets: outlets.value,
    days: days.value,
    posts: posts.value.filter((post) => here.has(post.outlet)),
    likely: likely.value.filter(
      (each) => here.has(each.outlet) && (!filters.value.workflow || each.workflow === filters.value.workflow),
    ),
    zone: session.zone,
    now: now.value,
  };
});
const counts = computed(() => {
  const planned = posts.value.filter((post) => post.state !== 'out' && post.state !== 'deleted').length;
  const free = outlets.value.reduce(
    (sum, outlet) =>
      sum + days.value.reduce((of, day) => of + cellOf(outlet, day, all.value, session.zone, now.value).free.length, 0),
    0,
  );
  return { planned, free };
});
const outletOf = (id: number) => calendar.value?.outlets.find((each) => each.id === id);
const { chosen, several, marked, chosenPost, severalPosts, choose, chooseSeveral, toSeveral } = useChoosing(
  all,
  busy,
  load,
);
const { moving, move, send } = useMoving(all, busy, load);
</script>

<template>
  <div class="mx-auto w-full max-w-[1500px] p-4">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <h1 class="mr-1 text-xl font-[650]">{{ sayShown(view, anchor, session.zone) }}</h1>
      <button class="btn px-2" :aria-label="`The ${view} before`" @click="show(turned(view, anchor, -1, session.zone))">
        <ChevronLeft :size="15" />
      </button>
      <button class="btn" @click="show(undefined)">Today</button>
      <button class="btn px-2" :aria-label="`The ${view} after`" @click="show(turned(view, anchor, 1, session.zone))">
        <ChevronRight :size="15" />
      </button>
      <div role="radiogroup" aria-label="How much is shown" class="sheet flex overflow-hidden">
        <button
          v-for="(name, each) in VIEWS"
          :key="each"
          role="radio"
          :aria-checked="view === each"
          class="px-3 py-1.5"
          :class="view === each && 'bg-bar text-bar-ink'"
          @click="show(anchor, each)"
        >
          {{ name }}
        </button>
      </div>
      <p class="text-ink-2">
        {{ counts.planned }} planned<template v-if="counts.free">
          · {{ counts.free }} free {{ counts.free === 1 ? 'time' : 'times' }}</template
        ><template v-if="zoneNote(session.zone)"> · times in {{ session.zone }}</template>
      </p>
      <span class="ml-auto flex flex-wrap gap-2">
        <RouterLink class="btn btn-main no-underline" :to="{ name: 'new-post', params: { brand: session.brandId } }"
          >New post</RouterLink
        >
        <button class="btn" :aria-pressed="several !== null" @click="chooseSeveral">
          {{ several ? 'One at a time' : 'Choose several' }}
        </button>
        <CalendarMenu
          :from="days[0]!.from"
          :to="days.at(-1)!.to"
          @file="importing = $event"
          @address="addressed = true"
        />
        <ChooseOne
          class="max-w-36"
          label="Which outlet"
          any="all outlets"
          :value="filters.outlet || ''"
          :options="(calendar?.outlets ?? []).map(({ id, name }) => ({ value: id, name }))"
          @change="filters.outlet = Number($event)"
        />
        <ChooseOne
          class="max-w-36"
          label="Which workflow"
          any="all workflows"
          :value="filters.workflow || ''"
          :options="workflows.map(([value, name]) => ({ value, name }))"
          @change="filters.workflow = Number($event)"
        />
        <select v-model="filters.state" class="field" aria-label="Which posts">
          <option value="">out and planned</option>
          <option value="out">what is out</option>
          <option value="planned">what is planned</option>
          <option value="likely">also what is likely</option>
        </select>
      </span>
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble }} <button class="link" @click="load">Try again</button>
    </p>
    <p v-if="!calendar && !trouble" class="text-ink-3">Opening the calendar …</p>
    <div v-if="calendar" class="flex flex-col gap-3 lg:flex-row lg:items-start">
      <div class="order-2 shrink-0 lg:sticky lg:top-4 lg:order-none lg:w-60">
        <SeveralPanel
          v-if="several"
          :posts="severalPosts"
          :busy="busy"
          @close="several = null"
          @move="
            (by) => toSeveral('moved', () => moveSeveral(session.brandId, ableTo(severalPosts).move, by, session.zone))
          "
          @approve="toSeveral('approved', () => approveSeveral(session.brandId, ableTo(severalPosts).approve))"
          @remove="toSeveral('deleted', () => removeSeveral(session.brandId, ableTo(severalPosts).remove))"
        />
        <PostPanel
          v-else-if="chosenPost && outletOf(chosenPost.outlet)"
          class="mb-3"
          :post="chosenPost"
          :outlet="outletOf(chosenPost.outlet)!"
          :posts="all.filter((post) => post.outlet === chosenPost!.outlet)"
          :now="now"
          :busy="busy"
          @close="chosen = null"
          @move="move(chosenPost, $event)"
        />
        <CalendarShelf :calendar="calendar" @changed="load" />
      </div>
      <div class="min-w-0 flex-1">
        <p v-if="outlets.length === 0" class="sheet p-5 text-ink-2">
          Nothing goes out anywhere yet. Make a workflow that publishes, or give an outlet a timetable.
        </p>
        <DayList v-else-if="view !== 'month' && narrow" v-bind="shown" :chosen="marked" @open="choose" />
        <WeekGrid
          v-else-if="view !== 'month'"
          v-bind="shown"
          :chosen="marked"
          @open="choose"
          @drop="move"
          @timetable="timetableOf = $event"
        />
        <MonthGrid v-else v-bind="shown" :month="anchor" @open="choose" @day="show($event, 'day')" />
        <p class="mt-2 flex flex-wrap gap-3 text-sm text-ink-3">
          <button v-if="hidden > 0 && !filters.outlet" class="link" @click="every = true">
            and {{ hidden }} more outlets
          </button>
          <span v-if="unlikely" role="alert" class="text-rose">{{ unlikely }}</span>
          <span v-if="calendar.more">There is more than fits; filter by outlet to see all of it.</span>
        </p>
      </div>
    </div>
    <TimetableDialog
      v-if="timetableOf !== null && outletOf(timetableOf)"
      :outlet="outletOf(timetableOf)!"
      :outlets="calendar!.outlets"
      @close="timetableOf = null"
      @kept="
        timetableOf = null;
        load();
      "
    />
    <ImportPostsDialog
      v-if="importing && calendar"
      :file="importing"
      :outlets="calendar.outlets"
      @close="importing = null"
      @made="
        importing = null;
        load();
      "
    />
    <AddressDialog
      v-if="addressed"
      opens="openCalendarAddress"
      sets="setCalendarAddress"
      :title="`The calendar of ${session.brand?.name} in other calendars`"
      about="What went out in the last month and what is planned and written for the coming half year."
      :names="{ ics: 'iCalendar' }"
      @close="addressed = false"
    />
    <MoveDialog
      v-if="moving"
      v-bind="moving"
      :posts="all"
      :busy="busy"
      @close="moving = null"
      @choose="send(moving.post, moving.to, $event)"
    />
  </div>
</template>
