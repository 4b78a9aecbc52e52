import { pacedTime, type Pace } from '@playa/core/timetable/pace.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

/**
 * When something may be sent so that it keeps its distance in every scope, and books that moment. Locks the scopes, in
 * one order, so that two workers never book the same.
 *
 * @param chance in [0, 1), for the jitter
 */
export async function bookPacedTime(
  db: Queryable,
  brandId: number,
  scopes: readonly (readonly [scope: string, rule: Pace])[],
  now: number,
  chance: number,
): Promise<number> {
  const names = scopes.map(([scope]) => scope).sort();
  for (const scope of names)
    await change(db, 'INSERT IGNORE INTO paces (brand_id, scope, last_at) VALUES (?, ?, ?)', [
      brandId,
      scope,
      new Date(0),
    ]);
  const rows = await select<{ scope: string; last_at: Date }>(
    db,
    'SELECT scope, last_at FROM paces WHERE brand_id = ? AND scope IN (?) ORDER BY scope FOR UPDATE',
    [brandId, names],
  );
  const last = new Map(rows.map((row) => [row.scope, fromTime(row.last_at)]));
  let at = now;
  for (const [scope, rule] of scopes) at = Math.max(at, pacedTime(rule, last.get(scope) || null, now, chance));
  await change(db, 'UPDATE paces SET last_at = ? WHERE brand_id = ? AND scope IN (?)', [toTime(at), brandId, names]);
  return at;
}
