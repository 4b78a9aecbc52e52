import { cutUnits } from '@playa/core/text/graphemes.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

/** Something a colleague is told. */
export interface Notice {
  id: number;
  workflowId: number | null;
  workflow: string | null;
  runId: number | null;
  text: string;
  at: number;
}

/** Tells colleagues something, each once per `onceKey`. Without names, everybody of the brand. Returns how many. */
export async function addNotices(
  db: Queryable,
  notice: {
    brandId: number;
    to: readonly number[];
    onceKey: string;
    workflowId: number | null;
    runId: number | null;
    text: string;
  },
  now: number,
): Promise<number> {
  const done = await change(
    db,
    `INSERT IGNORE INTO notices (brand_id, user_id, once_key, workflow_id, run_id, text, at)
     SELECT brand_id, user_id, ?, ?, ?, ?, ? FROM memberships WHERE brand_id = ?${notice.to.length ? ' AND user_id IN (?)' : ''}`,
    [
      notice.onceKey,
      notice.workflowId,
      notice.runId,
      cutUnits(notice.text, 2000),
      toTime(now),
      notice.brandId,
      ...(notice.to.length ? [notice.to] : []),
    ],
  );
  return done.rows;
}

/**
 * What a colleague has been told and has not put away, newest first.
 *
 * @param before the number below which they begin
 */
export async function noticesFor(
  db: Queryable,
  brandId: number,
  userId: number,
  most: number,
  before: number | null = null,
): Promise<Notice[]> {
  const rows = await select<Omit<Notice, 'at'> & { at: Date }>(
    db,
    `SELECT n.id, n.workflow_id AS workflowId, f.name AS workflow, n.run_id AS runId, n.text, n.at
     FROM notices n LEFT JOIN workflows f ON f.id = n.workflow_id
     WHERE n.brand_id = ? AND n.user_id = ? AND n.seen_at IS NULL${before === null ? '' : ' AND n.id < ?'}
     ORDER BY n.id DESC LIMIT ?`,
    [brandId, userId, ...(before === null ? [] : [before]), most],
  );
  return rows.map((row) => ({ ...row, at: fromTime(row.at) }));
}

/** A workflow goes on: that it had paused by itself is no news any more, for anybody. */
export async function settlePauseNotices(
  db: Queryable,
  brandId: number,
  workflowId: number,
  now: number,
): Promise<void> {
  await change(
    db,
    `UPDATE notices SET seen_at = ? WHERE brand_id = ? AND workflow_id = ? AND seen_at IS NULL
       AND (once_key LIKE 'stopped.%' OR once_key LIKE 'brake.%')`,
    [toTime(now), brandId, workflowId],
  );
}

export async function putNoticeAway(
  db: Queryable,
  brandId: number,
  userId: number,
  id: number,
  now: number,
): Promise<boolean> {
  const done = await change(
    db,
    'UPDATE notices SET seen_at = ? WHERE brand_id = ? AND user_id = ? AND id = ? AND seen_at IS NULL',
    [toTime(now), brandId, userId, id],
  );
  return done.rows > 0;
}
