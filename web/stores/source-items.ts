// What lies at the sources of a draft, as far back as a rehearsal reaches.
import { computed, shallowRef, type Ref } from 'vue';
import type { PastItem } from '@playa/core/rehearsal/virtual-run.ts';
import { call } from '../lib/api.ts';
import { withChanged } from '../lib/changed-items.ts';

/** How many of the newest items the samples show, per source. */
const SAMPLES = 8;
/** As far back as a rehearsal reaches. */
const PAST = 5000;

/** @param watchIds of the sources @param brand whose they are */
export function sourceItems(watchIds: Ref<readonly number[]>, brand: () => number) {
  const items = shallowRef<PastItem[]>([]);
  /** Of which sources the items are, and up to when they are known. */
  let known = '';
  let until = 0;
  return {
    items,
    samples: computed(() => {
      const counts = new Map<number, number>();
      return items.value.filter((item) => {
        const count = (counts.get(item.watch) ?? 0) + 1;
        counts.set(item.watch, count);
        return count <= SAMPLES;
      });
    }),
    /** Fetches what lies there: all of it when the sources are others than before, else only what has come or changed. */
    async loadItems(): Promise<void> {
      const watches = watchIds.value.join(',');
      if (watches === '') return void (items.value = []);
      const part = watches === known ? { since: until } : { most: PAST };
      const answer = await call('listItems', { brand: brand() }, { query: { watches, ...part } });
      // The sources were changed meanwhile: whoever did that has asked again.
      if (watches !== watchIds.value.join(',')) return;
      items.value = watches === known && !answer.partly ? withChanged(items.value, answer.items) : answer.items;
      known = watches;
      until = answer.until;
    },
    /** Has the sources looked at that no live workflow uses: what appears there comes as news. */
    async wakeSources(): Promise<void> {
      const watches = [...watchIds.value];
      if (watches.length > 0) await call('wakeSources', { brand: brand() }, { body: { watches } });
    },
    /** Begins anew, with these or none. */
    hold(some: PastItem[]): void {
      items.value = some;
      known = '';
    },
  };
}
