/** What has been read of one list so far. */
export interface ReadSoFar<T> {
  entries: readonly T[];
  /** Whether there is more of it behind. */
  more: boolean;
}

/**
 * Several lists in one order, as far as it is known: behind the last entry of a list that goes on, nothing can be told of
 * its place yet.
 *
 * @param compare the order in which each of the lists already is
 * @returns what can be shown, and whether reading on shows more
 * @example mergedPages([{ entries: [1, 4], more: true }, { entries: [2, 9], more: false }], (a, b) => a - b)
 *   // { entries: [1, 2, 4], more: true }
 */
export function mergedPages<T>(
  lists: readonly ReadSoFar<T>[],
  compare: (a: T, b: T) => number,
): { entries: T[]; more: boolean } {
  const all = lists.flatMap(({ entries }) => entries).sort(compare);
  const ends = lists.flatMap(({ entries, more }) => (more ? entries.slice(-1) : []));
  const bound = ends.sort(compare)[0];
  const known = bound === undefined ? all : all.filter((each) => compare(each, bound) <= 0);
  return { entries: known, more: lists.some(({ more }) => more) };
}
