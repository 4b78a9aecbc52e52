// Cells of acts that a run no longer waits for: taken back when a person ended the run, or answered late.
import type { Outcome } from '../model/acts.ts';
import type { ActCell, PostCell, Trace } from '../model/cells.ts';

/** What has become of an act. */
export type LateSettled = { done: Outcome } | { takenBack: string };

/**
 * The cells in which acts of these keys stand, as they are now. Only those that were on their way change: what is
 * settled stays settled.
 *
 * @returns the cells that changed, to be laid over the others
 */
export function settleCells(trace: Trace, settled: ReadonlyMap<string, LateSettled>): Trace {
  const changed: Trace = {};
  const posts = (all: readonly PostCell[]): PostCell[] | undefined =>
    each(
      all,
      settled,
      (post) => post.status === 'planned',
      (post, { outcome, says }) =>
        outcome
          ? { ...post, status: 'posted', at: outcome.at, url: outcome.url ?? undefined, says: undefined }
          : { ...post, status: 'skipped', says },
    );
  const acts = (all: readonly ActCell[]): ActCell[] | undefined =>
    each(
      all,
      settled,
      (act) => act.status === 'planned',
      (act, { outcome, says }) =>
        outcome
          ? { ...act, status: 'done', at: outcome.at, url: outcome.url ?? undefined, says: undefined }
          : { ...act, status: 'skipped', says },
    );
  for (const [place, cell] of Object.entries(trace)) {
    if (cell.kind === 'posts') {
      const now = posts(cell.posts);
      if (now) changed[place] = { ...cell, posts: now };
    } else if (cell.kind === 'acts') {
      const now = acts(cell.acts);
      if (now) changed[place] = { ...cell, acts: now };
    }
  }
  return changed;
}

function each<T extends { key?: string | undefined }>(
  all: readonly T[],
  settled: ReadonlyMap<string, LateSettled>,
  open: (entry: T) => boolean,
  change: (entry: T, to: { outcome?: Outcome; says?: string }) => T,
): T[] | undefined {
  let met = false;
  const now = all.map((entry) => {
    const late = entry.key === undefined ? undefined : settled.get(entry.key);
    if (!late || !open(entry)) return entry;
    met = true;
    return change(entry, 'done' in late ? { outcome: late.done } : { says: late.takenBack });
  });
  return met ? now : undefined;
}
