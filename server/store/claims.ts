// Who says something: one act claims what it is about, so that two workflows do not answer the same, or say the same words
// at the same place, beside each other.
import { createHash } from 'node:crypto';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';
import type { ClaimedEffect } from './effects.ts';

type Claiming = Pick<ClaimedEffect, 'brandId' | 'key' | 'runId' | 'workflowId'>;

/** Another act that has claimed the same. */
export interface OtherClaim {
  workflowId: number;
  workflow: string;
  at: number;
}

const hashOf = (about: string) => createHash('sha256').update(about).digest();

/** What an act wants to claim at a moment. */
export interface FirstClaim {
  effect: Claiming;
  /** The same text is the same thing within a brand. */
  about: string;
  /** Milliseconds since 1970 UTC. */
  now: number;
}

/**
 * Claims what nobody has claimed before, in one statement: most posts and answers are the first of their kind.
 *
 * @returns for each in turn whether it has the claim now and nobody had it before
 */
export async function claimFirst(db: Queryable, claims: readonly FirstClaim[]): Promise<boolean[]> {
  if (claims.length === 0) return [];
  const rows = claims
    .map(({ effect, about, now }) => ({ effect, hash: hashOf(about), at: toTime(now) }))
    // Two workers that claim the same things take them in one order, and do not wait for each other in a circle.
    .sort((a, b) => a.effect.brandId - b.effect.brandId || a.hash.compare(b.hash));
  const added = await change(
    db,
    'INSERT IGNORE INTO claims (brand_id, about_hash, effect_key, run_id, workflow_id, at) VALUES ?',
    [rows.map(({ effect, hash, at }) => [effect.brandId, hash, effect.key, effect.runId, effect.workflowId, at])],
  );
  if (added.rows === claims.length) return claims.map(() => true);
  if (claims.length === 1) return [false];
  const standing = await select<{ brand_id: number; about_hash: Buffer; effect_key: string; at: Date }>(
    db,
    'SELECT brand_id, about_hash, effect_key, at FROM claims WHERE (brand_id, about_hash) IN (?)',
    [rows.map(({ effect, hash }) => [effect.brandId, hash])],
  );
  const owners = new Map(standing.map((row) => [`${row.brand_id} ${row.about_hash.toString('hex')}`, row]));
  return claims.map(({ effect, about, now }) => {
    const owner = owners.get(`${effect.brandId} ${hashOf(about).toString('hex')}`);
    // One of its own from an earlier try is not new: its moment is to be set anew.
    return owner?.effect_key === effect.key && fromTime(owner.at) === now;
  });
}

/**
 * Claims something for one act. What was given up (held, taken back) claims nothing any more. Run inside a transaction.
 *
 * @param about what is claimed; the same text is the same thing within a brand
 * @param since claims before this moment no longer count, milliseconds since 1970 UTC
 * @param within what may claim the same again: the same run, or any run of the same workflow
 * @param over whether a person wants it sent although another has claimed it
 * @returns null when the claim is this act's now
 */
export async function claim(
  db: Queryable,
  effect: Claiming,
  about: string,
  { since, over, now, within }: { since: number; over: boolean; now: number; within?: 'run' | 'workflow' },
): Promise<OtherClaim | null> {
  if ((await claimFirst(db, [{ effect, about, now }]))[0]) return null;
  const place = [effect.brandId, hashOf(about)];
  const [row] = await select<{
    run_id: number;
    workflow_id: number;
    workflow: string;
    status: string | null;
    at: Date;
  }>(
    db,
    `SELECT c.run_id, c.workflow_id, COALESCE(f.name, '') AS workflow, e.status, c.at FROM claims c
       LEFT JOIN effects e ON e.effect_key = c.effect_key LEFT JOIN workflows f ON f.id = c.workflow_id
     WHERE c.brand_id = ? AND c.about_hash = ? FOR UPDATE`,
    place,
  );
  const holds = row && OPEN.has(row.status ?? '') && fromTime(row.at) > since;
  const same = within === 'workflow' ? row?.workflow_id === effect.workflowId : row?.run_id === effect.runId;
  if (holds && !same && !over) return { workflowId: row.workflow_id, workflow: row.workflow, at: fromTime(row.at) };
  await change(
    db,
    'UPDATE claims SET effect_key = ?, run_id = ?, workflow_id = ?, at = ? WHERE brand_id = ? AND about_hash = ?',
    [effect.key, effect.runId, effect.workflowId, toTime(now), ...place],
  );
  return null;
}

const OPEN = new Set(['planned', 'sending', 'account', 'done']);

/** What an act had claimed nobody claims any more: what it made is gone. */
export async function releaseClaim(db: Queryable, brandId: number, effectKey: string): Promise<void> {
  await change(db, 'DELETE FROM claims WHERE brand_id = ? AND effect_key = ?', [brandId, effectKey]);
}

/** Lets go of claims that are too old to matter. */
export async function forgetClaims(db: Queryable, before: number): Promise<void> {
  await change(db, 'DELETE FROM claims WHERE at < ? LIMIT 1000', [toTime(before)]);
}
