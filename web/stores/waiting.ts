import { useDebounceFn, useIntervalFn } from '@vueuse/core';
import { onMounted, ref, type Ref } from 'vue';
import { call } from '../lib/api.ts';

import { onChanges } from './changes.ts';

/** Other brands' news is not told here, so that it is asked for now and then. Milliseconds. */
const EVERY = 120_000;

/**
 * How many people wait for an answer, by brand: kept up to date for the one that is open, and looked at anew when somebody
 * asks.
 */
export function useWaiting(): { counts: Ref<ReadonlyMap<number, number>>; look: () => Promise<void> } {
  const counts = ref<ReadonlyMap<number, number>>(new Map());
  async function look(): Promise<void> {
    try {
      const { brands } = await call('countWaiting', {});
      counts.value = new Map(brands.map(({ id, toAnswer }) => [id, toAnswer]));
    } catch {
      // A number beside a name is worth no word of trouble.
    }
  }
  const soon = useDebounceFn(look, 1500);
  onMounted(look);
  onChanges(['desk'], () => void soon());
  useIntervalFn(look, EVERY);
  return { counts, look };
}

/** "12"; more than the server counts is "1000+"; nothing for none. */
export const sayCount = (count: number | undefined): string => (!count ? '' : count >= 1000 ? '1000+' : String(count));
