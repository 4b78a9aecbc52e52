// What is gathered over many runs. One of the runs carries it on; the others have put something in and ended. All of it is
// kept until the one that carries it has ended, so that a thing that changes meanwhile is still reached.
import { createHash } from 'node:crypto';
import { closingSchema, type Closing } from '@playa/core/model/asks.ts';
import { closesAt } from '@playa/core/engine/gathering.ts';
import { fieldValueSchema, type FieldValue } from '@playa/core/items/item.ts';
import { wakeRunBy } from './run-times.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

/** Who asks about what is gathered, and where. */
interface Asking {
  brandId: number;
  workflowId: number;
  step: string;
  group: string;
  runId: number;
  /** The key of the ask: its second part is the place in the run. */
  askKey: string;
  /** An IANA time zone. */
  zone: string;
}
interface Row {
  id: number;
  /** The run that carries it on, and where in it. */
  run_id: number;
  place: string;
  closing: string;
  opened_at: Date;
  last_at: Date;
  closed_at: Date | null;
  by_last: 0 | 1;
  count: number;
}
const hashOf = (group: string) => createHash('sha256').update(group).digest();
const placeOf = (askKey: string): string => askKey.split('.')[1] ?? '';

const COLUMNS = 'g.id, g.run_id, g.place, g.closing, g.opened_at, g.last_at, g.closed_at, g.by_last';

/** The gathering in which something from this place of this run is; what is complete too. Locked. */
async function gatheringWith(
  db: Queryable,
  { workflowId, step, group, runId, askKey }: Asking,
): Promise<{ row: Row; entry: number } | undefined> {
  const [found] = await select<Omit<Row, 'count'> & { entry: number }>(
    db,
    `SELECT ${COLUMNS}, e.id AS entry FROM gathered e JOIN gatherings g ON g.id = e.gathering_id
     WHERE e.run_id = ? AND e.place = ? AND g.workflow_id = ? AND g.step = ? AND g.group_hash = ?
     ORDER BY e.id DESC LIMIT 1 FOR UPDATE`,
    [runId, placeOf(askKey), workflowId, step, hashOf(group)],
  );
  return found && { row: await counted(db, found), entry: found.entry };
}

async function counted(db: Queryable, row: Omit<Row, 'count'>): Promise<Row> {
  const [{ count } = { count: 0 }] = await select<{ count: number }>(
    db,
    'SELECT COUNT(*) AS count FROM gathered WHERE gathering_id = ?',
    [row.id],
  );
  return { ...row, count: Number(count) };
}

/** When it is complete, or was. */
const closing = (row: Row, zone: string): number | null =>
  fromTimeOrNull(row.closed_at) ??
  closesAt(
    closingSchema.parse(JSON.parse(row.closing)),
    { openedAt: fromTime(row.opened_at), lastAt: fromTime(row.last_at), count: row.count },
    zone,
  );

/** What joining comes to. */
export interface Joined {
  /** Whether the run carries it on: the first does. */
  carries: boolean;
  /** The run that does. */
  carrier: number;
  count: number;
  /** Milliseconds since 1970 UTC; null when only a number closes it. */
  closesAt: number | null;
}

/**
 * Puts a value with those being gathered; the first opens the gathering and its run carries it on. A run that puts
 * something in again, since its thing has changed, changes what it put in before, and whoever carries it hears of it.
 */
export async function joinGathering(
  db: Queryable,
  join: Asking & { value: FieldValue; closing: Closing; byLast?: boolean | undefined },
  now: number,
): Promise<Joined> {
  const value = JSON.stringify(join.value);
  const told = (row: Row): Joined => ({
    carries: row.run_id === join.runId && row.place === placeOf(join.askKey),
    carrier: row.run_id,
    count: row.count,
    closesAt: closing(row, join.zone),
  });
  const mine = await gatheringWith(db, join);
  if (mine) {
    await change(db, 'UPDATE gathered SET ask_key = ?, value = ? WHERE id = ?', [join.askKey, value, mine.entry]);
    const joined = told(mine.row);
    if (joined.carries) await change(db, 'UPDATE gatherings SET stale = 0 WHERE id = ?', [mine.row.id]);
    else if (mine.row.closed_at !== null) await tellCarrier(db, mine.row, now);
    return joined;
  }
  await change(
    db,
    `INSERT INTO gatherings (brand_id, workflow_id, step, group_hash, run_id, place, closing, by_last, opened_at, last_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE last_at = VALUES(last_at)`,
    [
      join.brandId,
      join.workflowId,
      join.step,
      hashOf(join.group),
      join.runId,
      placeOf(join.askKey),
      JSON.stringify(join.closing),
      join.byLast === true,
      toTime(now),
      toTime(now),
    ],
  );
  const [opened] = await select<Omit<Row, 'count'>>(
    db,
    `SELECT ${COLUMNS} FROM gatherings g WHERE g.workflow_id = ? AND g.step = ? AND g.open_hash = ? FOR UPDATE`,
    [join.workflowId, join.step, hashOf(join.group)],
  );
  await change(db, 'INSERT IGNORE INTO gathered (gathering_id, ask_key, run_id, place, value) VALUES (?, ?, ?, ?, ?)', [
    opened!.id,
    join.askKey,
    join.runId,
    placeOf(join.askKey),
    value,
  ]);
  const before = opened!.run_id;
  const place = placeOf(join.askKey);
  if (join.byLast && (before !== join.runId || opened!.place !== place)) {
    await change(db, 'UPDATE gatherings SET run_id = ?, place = ? WHERE id = ?', [join.runId, place, opened!.id]);
    Object.assign(opened!, { run_id: join.runId, place });
    // Who carried it until now finds out that another does, and ends.
    await wakeRunBy(db, before, now);
  }
  return told(await counted(db, opened!));
}

/**
 * What was gathered, if it is complete; otherwise says when it may be. The run that carries it is told the same again when
 * it goes through its steps once more.
 */
export async function closeGathering(
  db: Queryable,
  asking: Asking,
  now: number,
): Promise<{ entries: FieldValue[] | null; closesAt: number | null; takenOver?: number }> {
  const found = await gatheringWith(db, asking);
  if (!found) return { entries: [], closesAt: null };
  const { row } = found;
  if (row.run_id !== asking.runId || row.place !== placeOf(asking.askKey))
    return { entries: null, closesAt: closing(row, asking.zone), takenOver: row.count };
  const until = closing(row, asking.zone);
  if (until === null || until > now) return { entries: null, closesAt: until };
  const values = await select<{ value: string }>(db, 'SELECT value FROM gathered WHERE gathering_id = ? ORDER BY id', [
    row.id,
  ]);
  if (row.closed_at === null)
    await change(db, 'UPDATE gatherings SET closed_at = ? WHERE id = ?', [toTime(until), row.id]);
  return { entries: values.map(({ value }) => fieldValueSchema.parse(JSON.parse(value))), closesAt: until };
}

/** What becomes of what a run carries and has not put in anew: another carries it on, it stays, or it is let go. */
export type Carried = 'on' | 'stays' | 'goes';

/**
 * Lets go what a run carried and has said, now that it has ended. What it never came to say again, another carries on.
 *
 * @param places where it went on with a whole
 * @param unsaid what becomes of a complete one that it did not come to again
 */
export async function endGatherings(
  db: Queryable,
  runId: number,
  places: ReadonlySet<string>,
  unsaid: Carried,
  now: number,
): Promise<void> {
  const carried = await select<{ id: number; place: string }>(
    db,
    'SELECT id, place FROM gatherings WHERE run_id = ? ORDER BY id FOR UPDATE',
    [runId],
  );
  const said = carried.flatMap(({ id, place }) => (places.has(place) ? [id] : []));
  const others = carried.flatMap(({ id, place }) => (places.has(place) ? [] : [id]));
  if (said.length > 0) await change(db, 'DELETE FROM gatherings WHERE id IN (?)', [said]);
  if (others.length > 0)
    await leaveGatherings(db, runId, { kept: new Set(), complete: unsaid, now, only: new Set(others) });
}

/** How a run leaves what it had put something into. */
interface Leaving {
  /** Keys of the asks with which it has put something in anew. */
  kept: ReadonlySet<string>;
  /** What becomes of what it carries itself and is complete; what is not, another carries on. */
  complete: Carried;
  now: number;
  /** The gatherings that are meant; all when left out. */
  only?: ReadonlySet<number>;
}

/**
 * Takes out what a run had put in, but for what it has put in anew. Who carries what it was in hears of it.
 */
export async function leaveGatherings(
  db: Queryable,
  runId: number,
  { kept, complete, now, only }: Leaving,
): Promise<void> {
  const entries = await select<{ id: number; ask_key: string; place: string; gathering_id: number }>(
    db,
    'SELECT id, ask_key, place, gathering_id FROM gathered WHERE run_id = ? ORDER BY gathering_id FOR UPDATE',
    [runId],
  );
  for (const entry of entries) {
    if (kept.has(entry.ask_key) || only?.has(entry.gathering_id) === false) continue;
    const [row] = await select<Omit<Row, 'count'>>(
      db,
      `SELECT ${COLUMNS} FROM gatherings g WHERE g.id = ? FOR UPDATE`,
      [entry.gathering_id],
    );
    const carries = row?.run_id === runId && row.place === entry.place;
    const then = carries && row.closed_at !== null ? complete : 'on';
    if (then === 'stays') continue;
    if (then === 'goes') {
      await change(db, 'DELETE FROM gatherings WHERE id = ?', [entry.gathering_id]);
      continue;
    }
    await change(db, 'DELETE FROM gathered WHERE id = ?', [entry.id]);
    if (!row) continue;
    if (!carries) {
      if (row.closed_at !== null) await tellCarrier(db, row, now);
      continue;
    }
    const [next] = await select<{ run_id: number; place: string }>(
      db,
      'SELECT run_id, place FROM gathered WHERE gathering_id = ? AND run_id IS NOT NULL ORDER BY run_id = ?, IF(?, -id, id) LIMIT 1',
      [row.id, runId, row.by_last],
    );
    if (!next) {
      await change(db, 'DELETE FROM gatherings WHERE id = ?', [row.id]);
      continue;
    }
    const carried = { ...row, ...next };
    await change(db, 'UPDATE gatherings SET run_id = ?, place = ? WHERE id = ?', [next.run_id, next.place, row.id]);
    await tellCarrier(db, carried, now);
  }
}

/** The run that carries it goes through its steps again, also one that had put something in and ended. */
async function tellCarrier(db: Queryable, row: Pick<Row, 'id' | 'run_id'>, now: number): Promise<void> {
  await change(db, 'UPDATE gatherings SET stale = 1 WHERE id = ?', [row.id]);
  await change(
    db,
    `UPDATE runs r JOIN workflows f ON f.id = r.workflow_id SET r.changed = 1,
       r.due_at = IF(f.status = 'paused', NULL, ?), r.parked_due_at = IF(f.status = 'paused', ?, NULL)
     WHERE r.id = ?`,
    [toTime(now), toTime(now), row.run_id],
  );
}

/** Whether a run has put something into what is gathered, and whether something has changed in what it carries. */
export async function gatheringsOf(db: Queryable, runId: number): Promise<{ joined: boolean; stale: boolean }> {
  const [row] = await select<{ joined: number; stale: number }>(
    db,
    `SELECT EXISTS(SELECT 1 FROM gathered WHERE run_id = ?) AS joined,
       EXISTS(SELECT 1 FROM gatherings WHERE run_id = ? AND stale = 1) AS stale`,
    [runId, runId],
  );
  return { joined: Boolean(row?.joined), stale: Boolean(row?.stale) };
}
