// Places what waits for free times anew, in a given order.
import { Places, type Circumstances, type Found } from './earliest.ts';

/**
 * Gives things the next free times, one after the other. What is placed first takes the earliest.
 *
 * @param queue in the order in which they are to go
 * @param circumstances `taken` without what is in the queue
 * @returns where each goes, in the same order; null for one that finds no time within a year
 */
export function reflow<T>(queue: readonly T[], circumstances: Circumstances): (Found | null)[] {
  const places = new Places(circumstances);
  return queue.map(() => {
    const found = places.find('free');
    if (found) places.take(found);
    return found;
  });
}
