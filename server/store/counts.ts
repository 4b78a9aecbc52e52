// How many runs and acts there were, by day. What is new is only inserted, and added up by whoever keeps house: workers
// that count the same thing at the same moment never wait for each other.
import { DateTime } from 'luxon';
import { change, fromTime, inSnapshot, select, toTime, type Pool, type Queryable } from '../db/database.ts';

/** Something to be counted, or no longer. */
export interface Counted {
  brandId: number;
  workflowId: number;
  /** run: by where it stands. act: one that was done, by what it is. */
  what: 'run' | 'act';
  state: string;
  outletId: number | null;
  /** When the run was made, or the act done. */
  at: number;
  /** 1 for one more, -1 for one less. */
  n: number;
}

/** Stands for all days together. */
export const EVER = '1000-01-01';

/** Time zones differ by whole quarters of an hour, so that days begin with one everywhere. */
const QUARTER = 900_000;

/** Counts, in the transaction of what is counted. */
export async function addCounts(db: Queryable, counted: readonly Counted[]): Promise<void> {
  const sums = new Map<string, Counted>();
  for (const each of counted) {
    const at = Math.floor(each.at / QUARTER) * QUARTER;
    const key = [each.brandId, at, each.workflowId, each.what, each.state, each.outletId].join('\n');
    const sum = sums.get(key);
    if (sum) sum.n += each.n;
    else sums.set(key, { ...each, at });
  }
  const rows = [...sums.values()].filter(({ n }) => n !== 0);
  if (rows.length === 0) return;
  await change(db, 'INSERT INTO counts_to_add (brand_id, at, workflow_id, what, state, outlet_id, n) VALUES ?', [
    rows.map((row) => [row.brandId, toTime(row.at), row.workflowId, row.what, row.state, row.outletId ?? 0, row.n]),
  ]);
}

/** A count of one day, as it is stored. */
interface DayCount {
  brandId: number;
  day: string;
  workflowId: number;
  what: Counted['what'];
  state: string;
  outletId: number;
  n: number;
}

/** Adds up by the brands' days, in an order in which nobody waits for another in a circle. */
export function byDay(counted: readonly Counted[], zoneOf: (brandId: number) => string): DayCount[] {
  const sums = new Map<string, DayCount>();
  for (const { at, n, ...rest } of counted)
    for (const day of [EVER, DateTime.fromMillis(at, { zone: zoneOf(rest.brandId) }).toISODate()!]) {
      const row = { ...rest, outletId: rest.outletId ?? 0, day, n };
      const key = [row.brandId, day, row.workflowId, row.what, row.state, row.outletId].join('\n');
      const sum = sums.get(key);
      if (sum) sum.n += n;
      else sums.set(key, row);
    }
  return [...sums]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([, row]) => row)
    .filter(({ n }) => n !== 0);
}

async function zones(db: Queryable): Promise<(brandId: number) => string> {
  const rows = await select<{ id: number; zone: string }>(db, 'SELECT id, time_zone AS zone FROM brands');
  const known = new Map(rows.map((row) => [row.id, row.zone]));
  return (brandId) => known.get(brandId) ?? 'UTC';
}

async function store(db: Queryable, days: readonly DayCount[]): Promise<void> {
  for (let from = 0; from < days.length; from += 1000)
    await change(
      db,
      `INSERT INTO counts (brand_id, day, workflow_id, what, state, outlet_id, n) VALUES ?
       ON DUPLICATE KEY UPDATE n = n + VALUES(n)`,
      [
        days
          .slice(from, from + 1000)
          .map((row) => [row.brandId, row.day, row.workflowId, row.what, row.state, row.outletId, row.n]),
      ],
    );
}

/** Adds up what was counted meanwhile. Run inside a transaction. Returns how much that was. */
export async function foldCounts(db: Queryable, most: number): Promise<number> {
  // Whoever makes the counts anew is not to be met half-way.
  if (!(await lockCounts(db, 0))) return 0;
  try {
    const rows = await select<Omit<Counted, 'at'> & { id: number; at: Date }>(
      db,
      `SELECT id, brand_id AS brandId, at, workflow_id AS workflowId, what, state, outlet_id AS outletId, n
       FROM counts_to_add ORDER BY id LIMIT ? FOR UPDATE SKIP LOCKED`,
      [most],
    );
    if (rows.length === 0) return 0;
    const counted = rows.map(({ id: _id, at, ...row }) => ({ ...row, at: fromTime(at) }));
    await store(db, byDay(counted, await zones(db)));
    await change(db, 'DELETE FROM counts_to_add WHERE id IN (?)', [rows.map((row) => row.id)]);
    return rows.length;
  } finally {
    await unlockCounts(db);
  }
}

async function lockCounts(db: Queryable, seconds: number): Promise<boolean> {
  const [lock] = await select<{ got: number }>(db, "SELECT GET_LOCK(CONCAT(DATABASE(), '.counts'), ?) AS got", [
    seconds,
  ]);
  return lock?.got === 1;
}
const unlockCounts = (db: Queryable) => select(db, "SELECT RELEASE_LOCK(CONCAT(DATABASE(), '.counts'))");

/**
 * Makes all counts anew from the runs and the logbook, also while others work: what they count meanwhile is added to it
 * afterwards.
 */
export async function rebuildCounts(pool: Pool): Promise<void> {
  const locking = await pool.getConnection();
  try {
    // Before the snapshot: nobody is adding up while it is taken.
    if (!(await lockCounts(locking, 60))) throw new Error('Somebody else is adding up the counts; try again.');
    await inSnapshot(pool, rebuild);
  } finally {
    await unlockCounts(locking).catch(() => undefined);
    locking.release();
  }
}

async function rebuild(db: Queryable): Promise<void> {
  // What the snapshot holds is counted; only what comes after it is still to be added.
  const pending = await select<{ id: number }>(db, 'SELECT id FROM counts_to_add');
  const quarters = await select<Omit<Counted, 'at'> & { quarter: number }>(
    db,
    `SELECT brand_id AS brandId, workflow_id AS workflowId, 'run' AS what, status AS state, 0 AS outletId,
       TIMESTAMPDIFF(MINUTE, '1970-01-01', created_at) DIV 15 AS quarter, COUNT(*) AS n
     FROM runs GROUP BY brand_id, workflow_id, status, quarter
     UNION ALL SELECT brand_id, workflow_id, 'act', action, COALESCE(outlet_id, 0),
       TIMESTAMPDIFF(MINUTE, '1970-01-01', at) DIV 15 AS quarter, COUNT(*)
     FROM logbook GROUP BY brand_id, workflow_id, action, outlet_id, quarter`,
  );
  const counted = quarters.map(({ quarter, ...row }) => ({ ...row, n: Number(row.n), at: Number(quarter) * QUARTER }));
  await change(db, 'DELETE FROM counts');
  await store(db, byDay(counted, await zones(db)));
  for (let from = 0; from < pending.length; from += 5000)
    await change(db, 'DELETE FROM counts_to_add WHERE id IN (?)', [
      pending.slice(from, from + 5000).map((row) => row.id),
    ]);
}

/** How many runs a workflow has had, by what became of them; and what went out in all. */
export interface RunCounts {
  runs: number;
  held: number;
  waiting: number;
  stopped: number;
  posts: number;
  /** Answers, letters, likes. */
  answers: number;
  /** Rows, labels, calls and the like. */
  others: number;
}

/** Of a workflow that has not run. */
export const NO_COUNTS: RunCounts = { runs: 0, held: 0, waiting: 0, stopped: 0, posts: 0, answers: 0, others: 0 };

const ANSWERS: ReadonlySet<string> = new Set(['reply', 'message', 'react']);

/** The counts of a brand's workflows, or of one of them, since there is Playa; a workflow without any is not among them. */
export async function workflowCounts(
  db: Queryable,
  brandId: number,
  workflowId: number | null = null,
): Promise<Map<number, RunCounts & { new: number }>> {
  const one = workflowId === null ? '' : ' AND workflow_id = ?';
  const values = [brandId, ...(workflowId === null ? [] : [workflowId])];
  // One statement sees one moment: what is being added up is seen on one side only.
  const rows = await select<{ workflowId: number; what: Counted['what']; state: string; n: string }>(
    db,
    `SELECT workflowId, what, state, SUM(n) AS n FROM (
       SELECT workflow_id AS workflowId, what, state, n FROM counts WHERE brand_id = ? AND day = ?${one}
       UNION ALL SELECT workflow_id, what, state, n FROM counts_to_add WHERE brand_id = ?${one}
     ) AS counted GROUP BY workflowId, what, state`,
    [brandId, EVER, ...values.slice(1), ...values],
  );
  const all = new Map<number, RunCounts & { new: number }>();
  for (const { workflowId: id, what, state, n } of rows) {
    const counts = all.get(id) ?? { ...NO_COUNTS, new: 0 };
    all.set(id, counts);
    const number = Number(n);
    if (what === 'run') {
      counts.runs += number;
      if (state === 'new') counts.new += number;
      if (state === 'new' || state === 'waiting') counts.waiting += number;
      if (state === 'held') counts.held += number;
      if (state === 'stopped') counts.stopped += number;
    } else if (state === 'publish') counts.posts += number;
    else if (ANSWERS.has(state)) counts.answers += number;
    else counts.others += number;
  }
  return all;
}
