import { type PastItem } from '@playa/core/rehearsal/virtual-run.ts';

const momentOf = (item: PastItem) => item.publishedAt ?? item.seenAt;

/**
 * Items with those that have come or changed since, newest first.
 *
 * @returns the same list where nothing has changed, so that nothing is computed anew
 */
export function withChanged(items: PastItem[], changed: readonly PastItem[]): PastItem[] {
  const known = new Map(items.map((item) => [item.id, item]));
  // What the server saw lately is told again for some seconds.
  const news = changed.filter((item) => JSON.stringify(known.get(item.id)) !== JSON.stringify(item));
  if (news.length === 0) return items;
  for (const item of news) known.set(item.id, item);
  return [...known.values()].sort((a, b) => momentOf(b) - momentOf(a) || b.id - a.id);
}
