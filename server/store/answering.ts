import { createHash } from 'node:crypto';
import { change, select, toTime, type Queryable } from '../db/database.ts';
import type { ClaimedEffect } from './effects.ts';

/**
 * Claims the answering of one thing for one act, so that two workflows do not answer it beside each other. What was given
 * up (held, taken back) claims nothing any more. Run inside a transaction.
 *
 * @param over whether a person wants it sent beside or over what is there
 * @returns the name of the workflow that has claimed it; null when it is this act's
 */
export async function claimAnswer(
  db: Queryable,
  effect: Pick<ClaimedEffect, 'brandId' | 'accountId' | 'key' | 'runId' | 'workflowId'> & { input: { to: string } },
  over: boolean,
  now: number,
): Promise<string | null> {
  const about = createHash('sha256').update(effect.input.to).digest();
  const place = [effect.brandId, effect.accountId, about];
  const added = await change(
    db,
    'INSERT IGNORE INTO answering (brand_id, account_id, about_hash, effect_key, run_id, workflow_id, at) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [...place, effect.key, effect.runId, effect.workflowId, toTime(now)],
  );
  if (added.rows > 0) return null;
  const [row] = await select<{ effect_key: string; run_id: number; workflow: string | null; status: string | null }>(
    db,
    `SELECT a.effect_key, a.run_id, f.name AS workflow, e.status FROM answering a
       LEFT JOIN effects e ON e.effect_key = a.effect_key LEFT JOIN workflows f ON f.id = a.workflow_id
     WHERE a.brand_id = ? AND a.account_id = ? AND a.about_hash = ? FOR UPDATE`,
    place,
  );
  const holds = row && ['due', 'sending', 'account', 'done'].includes(row.status ?? '');
  if (holds && row.run_id !== effect.runId && !over) return row.workflow ?? 'of another';
  await change(
    db,
    'UPDATE answering SET effect_key = ?, run_id = ?, workflow_id = ?, at = ? WHERE brand_id = ? AND account_id = ? AND about_hash = ?',
    [effect.key, effect.runId, effect.workflowId, toTime(now), ...place],
  );
  return null;
}

/** Lets go of claims that are too old to matter: what was answered then, the network knows. */
export async function forgetAnswering(db: Queryable, before: number): Promise<void> {
  await change(db, 'DELETE FROM answering WHERE at < ? LIMIT 1000', [toTime(before)]);
}
