// What workflows will likely post, as the calendar says it: apart from what is planned.
import { computed, ref, watch, type Ref } from 'vue';
import { call } from '../../lib/api.ts';
import type { CalendarDay } from '../../lib/calendar.ts';
import { clockTime } from '../../lib/times.ts';
import type { LikelyPost } from '../../lib/types.ts';

/** From so many on it is more likely than not. */
const LIKELY = 0.75;

/** "likely 09:30 · New films", "perhaps 18:00 · New films", "likely 3, about 09:30 · New films". */
export function sayLikely({ posts, at, name }: LikelyPost, zone: string): string {
  const time = clockTime(at, zone);
  const many = Math.round(posts);
  if (posts < LIKELY) return `perhaps ${time} · ${name}`;
  return many > 1 ? `likely ${many}, about ${time} · ${name}` : `likely ${time} · ${name}`;
}

/** Why it is thought so. */
export const whyLikely = ({ posts, name }: LikelyPost): string =>
  `${name} posted ${posts === 1 ? 'once' : `${posts} times`} on average on this weekday in the last weeks. It is not planned.`;

/** Of some, those of an outlet on a day, by time. */
export const likelyOn = (
  likely: readonly LikelyPost[],
  day: Pick<CalendarDay, 'date'>,
  outlet?: number,
): readonly LikelyPost[] =>
  likely
    .filter((each) => each.date === day.date && (outlet === undefined || each.outlet === outlet))
    .sort((a, b) => a.at - b.at);

/**
 * What is likely on the days that are shown, as long as somebody wants to see it.
 *
 * @param about the calendar as it was read last: what is planned since is taken off
 */
export function useLikely(
  brand: () => number,
  wanted: Ref<boolean>,
  days: Ref<readonly CalendarDay[]>,
  about: Ref<unknown>,
): { likely: Ref<readonly LikelyPost[]>; trouble: Ref<string> } {
  const found = ref<readonly LikelyPost[]>([]);
  const trouble = ref('');
  let asked = 0;
  watch(
    [wanted, about],
    async () => {
      const mine = ++asked;
      if (!wanted.value || !about.value) return;
      const [first, last] = [days.value[0]!, days.value.at(-1)!];
      try {
        const query = { from: first.from, to: last.to };
        const answer = await call('forecastCalendar', { brand: brand() }, { query });
        if (mine !== asked) return;
        found.value = answer.likely;
        trouble.value = '';
      } catch (error) {
        if (mine === asked) trouble.value = `What is likely could not be told. ${(error as Error).message}`;
      }
    },
    { immediate: true },
  );
  return { likely: computed(() => (wanted.value ? found.value : [])), trouble };
}
