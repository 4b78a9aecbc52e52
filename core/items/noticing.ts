import type { Item } from './item.ts';

/** What is remembered of a source's window: the list it shows, of which only the newest so many are ever visible. */
export interface WindowMemory {
  /** Identities in the window at the last look. */
  identities: string[];
  /** The oldest publication moment in it, milliseconds since 1970; null when the source does not say. */
  oldest: number | null;
}

export interface Noticed {
  /** Items that appeared since the last look, oldest first: these start workflows. */
  fresh: Item[];
  /** Items not stored yet that are nothing new: all of them at a first look, and old ones that slid back into view. */
  past: Item[];
  memory: WindowMemory;
  /** Whether the window may have slid past items that nobody saw. */
  gap: boolean;
}

/**
 * Tells what is new in a source's window. A window shows the newest few items; when one of them is deleted, an older
 * one slides back into view, and must not be taken for new: an unknown item older than everything in the last window
 * is past.
 *
 * @param before null at the first look, which only sets the baseline
 * @param known identities that have been seen at any time
 */
export function notice(window: readonly Item[], before: WindowMemory | null, known: ReadonlySet<string>): Noticed {
  const unknown = window.filter((item) => !known.has(item.identity));
  const moments = window.map((item) => item.publishedAt).filter((moment) => moment !== null);
  const memory: WindowMemory = {
    identities: window.map((item) => item.identity),
    oldest: moments.length ? Math.min(...moments) : null,
  };
  // An empty window says nothing about what was there; the last one with something in it goes on counting.
  const kept = window.length === 0 && before ? before : memory;
  if (!before) return { fresh: [], past: oldestFirst(unknown), memory: kept, gap: false };
  const isPast = (item: Item) =>
    before.oldest !== null && item.publishedAt !== null && item.publishedAt < before.oldest;
  const fresh = oldestFirst(unknown.filter((item) => !isPast(item)));
  const overlap =
    before.identities.length === 0 ||
    window.length === 0 ||
    window.some((item) => before.identities.includes(item.identity));
  return { fresh, past: oldestFirst(unknown.filter(isPast)), memory: kept, gap: !overlap && fresh.length > 0 };
}

/** By publication; a source that gives no times is taken to list the newest first, as feeds do. */
function oldestFirst(items: readonly Item[]): Item[] {
  return items
    .map((item, index) => ({ item, index }))
    .sort((a, b) => {
      const x = a.item.publishedAt;
      const y = b.item.publishedAt;
      return x !== null && y !== null && x !== y ? x - y : b.index - a.index;
    })
    .map(({ item }) => item);
}
