import { createHash } from 'node:crypto';
import { closingSchema, type Closing } from '@playa/core/model/asks.ts';
import { closesAt } from '@playa/core/engine/gathering.ts';
import { fieldValueSchema, type FieldValue } from '@playa/core/items/item.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

interface Place {
  brandId: number;
  workflowId: number;
  step: string;
  group: string;
}
interface Row {
  id: number;
  run_id: number;
  closing: string;
  opened_at: Date;
  last_at: Date;
  count: number;
}
const hashOf = (group: string) => createHash('sha256').update(group).digest();

async function lockGathering(db: Queryable, place: Place): Promise<Row | undefined> {
  const [row] = await select<Omit<Row, 'count'>>(
    db,
    'SELECT id, run_id, closing, opened_at, last_at FROM gatherings WHERE workflow_id = ? AND step = ? AND group_hash = ? FOR UPDATE',
    [place.workflowId, place.step, hashOf(place.group)],
  );
  if (!row) return undefined;
  const [{ count } = { count: 0 }] = await select<{ count: number }>(
    db,
    'SELECT COUNT(*) AS count FROM gathered WHERE gathering_id = ?',
    [row.id],
  );
  return { ...row, count: Number(count) };
}

const closing = (row: Row, zone: string): number | null =>
  closesAt(
    closingSchema.parse(JSON.parse(row.closing)),
    { openedAt: fromTime(row.opened_at), lastAt: fromTime(row.last_at), count: row.count },
    zone,
  );

/**
 * Puts a value with those being gathered; the first opens the gathering and its run carries it on. The same ask does
 * nothing twice.
 */
export async function joinGathering(
  db: Queryable,
  join: Place & { runId: number; askKey: string; value: FieldValue; closing: Closing; zone: string },
  now: number,
): Promise<{ carries: boolean; carrier: number; count: number; closesAt: number | null }> {
  await change(
    db,
    `INSERT INTO gatherings (brand_id, workflow_id, step, group_hash, run_id, closing, opened_at, last_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE last_at = VALUES(last_at)`,
    [
      join.brandId,
      join.workflowId,
      join.step,
      hashOf(join.group),
      join.runId,
      JSON.stringify(join.closing),
      toTime(now),
      toTime(now),
    ],
  );
  const [opened] = await select<{ id: number }>(
    db,
    'SELECT id FROM gatherings WHERE workflow_id = ? AND step = ? AND group_hash = ? FOR UPDATE',
    [join.workflowId, join.step, hashOf(join.group)],
  );
  await change(db, 'INSERT IGNORE INTO gathered (gathering_id, ask_key, value) VALUES (?, ?, ?)', [
    opened!.id,
    join.askKey,
    JSON.stringify(join.value),
  ]);
  const row = (await lockGathering(db, join))!;
  const first = row.count === 1;
  return { carries: first, carrier: row.run_id, count: row.count, closesAt: closing(row, join.zone) };
}

/** Takes out what was gathered if it is complete; otherwise says when it may be. */
export async function closeGathering(
  db: Queryable,
  place: Place & { zone: string },
  now: number,
): Promise<{ entries: FieldValue[] | null; closesAt: number | null }> {
  const row = await lockGathering(db, place);
  if (!row) return { entries: [], closesAt: null };
  const until = closing(row, place.zone);
  if (until === null || until > now) return { entries: null, closesAt: until };
  const values = await select<{ value: string }>(db, 'SELECT value FROM gathered WHERE gathering_id = ? ORDER BY id', [
    row.id,
  ]);
  await change(db, 'DELETE FROM gatherings WHERE id = ?', [row.id]);
  return { entries: values.map(({ value }) => fieldValueSchema.parse(JSON.parse(value))), closesAt: until };
}

/** Lets go what a run carries, because a person ended it. */
export async function dropGatherings(db: Queryable, runId: number): Promise<void> {
  await change(db, 'DELETE FROM gatherings WHERE run_id = ?', [runId]);
}
