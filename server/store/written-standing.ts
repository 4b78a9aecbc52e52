// Where posts by hand stand, in words for lists.
import { select, type Queryable } from '../db/database.ts';

/** How far a post has come. */
export interface Standing {
  /** A run is about it, and under way. */
  open: boolean;
  /** Its last run, and how it stands; null for one that has never been let go. `told`: it knows of the post as it is now. */
  run: { id: number; status: string; told: boolean } | null;
  /** How many runs it has had. */
  runs: number;
  /** Outlets at which it is out, on its way, or perhaps out: there nothing can be taken back. */
  out: number[];
}

const NOWHERE: Standing = { open: false, run: null, runs: 0, out: [] };
/**
 * How far posts have come, by their items.
 *
 * @param lock nobody takes them further meanwhile
 */
export async function standingOf(
  db: Queryable,
  brandId: number,
  items: readonly number[],
  lock = false,
): Promise<(item: number | null) => Standing> {
  const found = new Map<number, Standing>();
  if (items.length === 0) return () => NOWHERE;
  const runs = await select<{ id: number; item: number; status: string; changed: number }>(
    db,
    `SELECT id, item_id AS item, status, changed FROM runs WHERE brand_id = ? AND item_id IN (?) ORDER BY id${lock ? ' FOR UPDATE' : ''}`,
    [brandId, items],
  );
  const itemOf = new Map(runs.map(({ id, item }) => [id, item]));
  for (const { id, item, status, changed } of runs) {
    const before = found.get(item);
    const open = status === 'new' || status === 'waiting' || status === 'held';
    found.set(item, { open, run: { id, status, told: changed === 0 }, runs: (before?.runs ?? 0) + 1, out: [] });
  }
  if (runs.length > 0) {
    const ids = [...itemOf.keys()];
    const acts = await select<{ run: number; outlet: number }>(
      db,
      `SELECT run_id AS run, outlet_id AS outlet FROM effects
         WHERE run_id IN (?) AND outlet_id IS NOT NULL AND (status IN ('sending', 'done') OR unsure = 1)${lock ? ' FOR UPDATE' : ''}`,
      [ids],
    );
    const out = await select<{ run: number; outlet: number }>(
      db,
      'SELECT run_id AS run, outlet_id AS outlet FROM logbook WHERE brand_id = ? AND run_id IN (?)',
      [brandId, ids],
    );
    for (const { run, outlet } of [...acts, ...out]) {
      const standing = found.get(itemOf.get(run)!)!;
      if (!standing.out.includes(outlet)) standing.out.push(outlet);
    }
  }
  return (item) => (item === null ? NOWHERE : (found.get(item) ?? NOWHERE));
}
