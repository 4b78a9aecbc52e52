<script setup lang="ts">
import { ArrowLeft } from '@lucide/vue';
import { computed } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import FigureSheet from '../components/chart/FigureSheet.vue';
import {
  journeysFigure,
  placesFigure,
  sayShare,
  sayWait,
  starsFigure,
  waitFigure,
  whoFigure,
} from '../components/desk/number-figures.ts';
import ChooseOne from '../components/form/ChooseOne.vue';
import { useSession } from '../stores/session.ts';
import { useResource } from '../stores/resource.ts';

// What a manager asks of the desk.
const session = useSession();
const route = useRoute();
const router = useRouter();
const STRETCHES = [4, 12, 26, 52].map((weeks) => ({ value: weeks, name: `the last ${weeks} weeks` }));
const weeks = computed(() => STRETCHES.find(({ value }) => String(value) === route.query.weeks)?.value ?? 12);
const {
  data: numbers,
  trouble,
  load,
} = useResource('openDeskNumbers', () => ({ brand: session.brandId }), { query: () => ({ weeks: weeks.value }) });

const summary = computed(() => {
  const all = numbers.value?.all;
  if (!all) return '';
  if (all.asked === 0) return 'Nobody wrote who wanted an answer.';
  const wrote = all.asked === 1 ? 'One person wrote who wanted an answer' : `${all.asked} wrote who wanted an answer`;
  const median = all.median === null ? '' : ` Half were answered within ${sayWait(all.median)}`;
  const ninety = all.ninety === null ? '' : `, nine in ten within ${sayWait(all.ninety)}`;
  const waiting = all.waiting === 0 ? '' : all.waiting === 1 ? ' One still waits.' : ` ${all.waiting} still wait.`;
  return `${wrote}; ${sayShare(all.share)} have one.${median && `${median}${ninety}.`}${waiting}`;
});
const figures = computed(() =>
  numbers.value
    ? [
        waitFigure(numbers.value),
        whoFigure(numbers.value),
        starsFigure(numbers.value),
        placesFigure(numbers.value),
        ...(numbers.value.journeys.length > 0 ? [journeysFigure(numbers.value)] : []),
      ]
    : [],
);
</script>

<template>
  <div class="mx-auto w-full max-w-[1280px] px-4 py-3">
    <div class="mb-3 flex flex-wrap items-center gap-2">
      <RouterLink class="btn btn-quiet" :to="{ name: 'desk', params: { brand: session.brandId } }">
        <ArrowLeft :size="15" /> Desk
      </RouterLink>
      <h1 class="text-xl">Numbers</h1>
      <ChooseOne
        class="ml-auto"
        label="Over which weeks"
        :options="STRETCHES"
        :value="weeks"
        @change="router.replace({ query: { weeks: $event } })"
      />
    </div>
    <p v-if="trouble" role="alert" class="mb-3 rounded-(--radius) bg-rose-wash px-3 py-2 text-rose">
      {{ trouble }} <button class="underline" @click="load">Try again</button>
    </p>
    <p v-if="!numbers && !trouble" class="text-ink-3">Loading …</p>
    <template v-if="numbers">
      <p class="mb-3 text-lg" role="status">{{ summary }}</p>
      <div class="grid gap-3 lg:grid-cols-2">
        <FigureSheet v-for="figure in figures" :key="figure.title" v-bind="figure" />
      </div>
    </template>
  </div>
</template>
