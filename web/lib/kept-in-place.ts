/** A row in its place on the screen. */
export interface Placed<T> {
  /** What the row is about, the same before and after it changes. */
  place: string;
  row: T;
  /** It is no longer in the list, and is shown until nobody is at it. */
  gone: boolean;
}

/**
 * The rows of a list that changes while somebody is at it: each stays where it is, what has left the list is marked
 * rather than taken away, and what is new comes last. Nothing slides under a pointer.
 *
 * @param keep whether somebody is at it; otherwise the list is shown as it is
 */
export function keptInPlace<T>(
  shown: readonly Placed<T>[],
  list: readonly T[],
  placeOf: (row: T) => string,
  keep: boolean,
): Placed<T>[] {
  const fresh = list.map((row) => ({ place: placeOf(row), row, gone: false }));
  if (!keep) return fresh;
  const now = new Map(fresh.map((each) => [each.place, each]));
  const before = new Set(shown.map(({ place }) => place));
  return [
    ...shown.map((each) => now.get(each.place) ?? { ...each, gone: true }),
    ...fresh.filter(({ place }) => !before.has(place)),
  ];
}
