import { createHash } from 'node:crypto';
import { isFresh } from '@playa/core/rehearsal/virtual.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

/**
 * Lets somebody through a workflow once, or once within a period. Asked again by the same run, the answer is the same.
 *
 * @param within seconds; null for ever
 */
export async function letThrough(
  db: Queryable,
  pass: { brandId: number; workflowId: number; runId: number; by: string; within: number | null },
  now: number,
): Promise<{ fresh: boolean; since: number | null }> {
  const hash = createHash('sha256').update(pass.by).digest();
  // Before networks were told apart, people passed by their identifier alone.
  const bare = pass.by.slice(pass.by.indexOf('\n') + 1);
  if (bare !== pass.by) {
    const earlier = createHash('sha256').update(bare).digest();
    await change(
      db,
      `UPDATE IGNORE passed SET by_hash = ? WHERE workflow_id = ? AND by_hash = ?
         AND at < (SELECT ran_at FROM migrations WHERE name = '006_apart.sql')`,
      [hash, pass.workflowId, earlier],
    );
  }
  const added = await change(
    db,
    'INSERT IGNORE INTO passed (workflow_id, by_hash, brand_id, run_id, at) VALUES (?, ?, ?, ?, ?)',
    [pass.workflowId, hash, pass.brandId, pass.runId, toTime(now)],
  );
  if (added.rows > 0) return { fresh: true, since: null };
  const [row] = await select<{ run_id: number; at: Date }>(
    db,
    'SELECT run_id, at FROM passed WHERE workflow_id = ? AND by_hash = ? FOR UPDATE',
    [pass.workflowId, hash],
  );
  const since = fromTime(row!.at);
  if (row!.run_id === pass.runId) return { fresh: true, since };
  const fresh = isFresh(since, pass.within, now);
  if (fresh)
    await change(db, 'UPDATE passed SET run_id = ?, at = ? WHERE workflow_id = ? AND by_hash = ?', [
      pass.runId,
      toTime(now),
      pass.workflowId,
      hash,
    ]);
  return { fresh, since };
}
