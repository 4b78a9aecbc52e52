import { createHash } from 'node:crypto';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { wellFormed } from '@playa/core/text/well-formed.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

/** Something Playa could not take, that a person is to see. */
export interface SetAside {
  id: number;
  kind: 'delivery' | 'item' | 'act';
  watchId: number | null;
  workflowId: number | null;
  runId: number | null;
  /** What it is, as far as anybody can tell. */
  what: string;
  why: string;
  at: number;
  /** Where it came from. */
  source: string | null;
}

/** Keeps what could not be taken, with its reason. The same thing is kept once, however often it is met. */
export async function setAside(
  db: Queryable,
  thing: {
    brandId: number;
    kind: SetAside['kind'];
    /** What makes it the same thing when it is met again. */
    once: string;
    watchId?: number | null;
    workflowId?: number | null;
    runId?: number | null;
    what: string;
    why: string;
  },
  now: number,
): Promise<boolean> {
  const once = createHash('sha256').update(`${thing.kind} ${thing.once}`).digest();
  const added = await change(
    db,
    'INSERT IGNORE INTO set_aside (brand_id, kind, once_hash, watch_id, workflow_id, run_id, what, why, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [
      thing.brandId,
      thing.kind,
      once,
      thing.watchId ?? null,
      thing.workflowId ?? null,
      thing.runId ?? null,
      cutUnits(wellFormed(thing.what), 300),
      cutUnits(wellFormed(thing.why), 500),
      toTime(now),
    ],
  );
  return added.rows > 0;
}

/** What a brand's people have not put away, newest first. */
export async function asideOf(db: Queryable, brandId: number, most: number): Promise<SetAside[]> {
  const rows = await select<Omit<SetAside, 'at'> & { at: Date }>(
    db,
    `SELECT s.id, s.kind, s.watch_id AS watchId, s.workflow_id AS workflowId, s.run_id AS runId, s.what, s.why, s.at,
       COALESCE(w.name, f.name) AS source
     FROM set_aside s LEFT JOIN watches w ON w.id = s.watch_id LEFT JOIN workflows f ON f.id = s.workflow_id
     WHERE s.brand_id = ? AND s.seen_at IS NULL ORDER BY s.id DESC LIMIT ?`,
    [brandId, most],
  );
  return rows.map((row) => ({ ...row, at: fromTime(row.at) }));
}

/**
 * A person has seen it.
 *
 * @returns why it could not be taken, and where it came from; null where somebody has put it away already
 */
export async function putAsideAway(
  db: Queryable,
  brandId: number,
  id: number,
  now: number,
): Promise<Pick<SetAside, 'why' | 'watchId' | 'workflowId' | 'source'> | null> {
  const [thing] = await select<Pick<SetAside, 'why' | 'watchId' | 'workflowId' | 'source'>>(
    db,
    `SELECT s.why, s.watch_id AS watchId, s.workflow_id AS workflowId, COALESCE(w.name, f.name) AS source
     FROM set_aside s LEFT JOIN watches w ON w.id = s.watch_id LEFT JOIN workflows f ON f.id = s.workflow_id
     WHERE s.brand_id = ? AND s.id = ?`,
    [brandId, id],
  );
  const done = await change(db, 'UPDATE set_aside SET seen_at = ? WHERE brand_id = ? AND id = ? AND seen_at IS NULL', [
    toTime(now),
    brandId,
    id,
  ]);
  return thing && done.rows > 0 ? thing : null;
}

/** What was seen long ago. */
export async function forgetAside(db: Queryable, before: number): Promise<void> {
  await change(db, 'DELETE FROM set_aside WHERE seen_at < ? LIMIT 1000', [toTime(before)]);
}
