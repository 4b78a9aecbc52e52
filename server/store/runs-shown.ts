// Runs as screens show them, and how many there are.
import { select, type Queryable } from '../db/database.ts';
import { type Run, type Row, read, UNREADABLE } from './runs.ts';

/** A run for showing: one that cannot be read is shown without what it had come to. */
function readForShow(row: Row): Run {
  try {
    return read(row);
  } catch {
    return read({ ...row, state: null, trace: '{}', trouble: row.trouble ?? UNREADABLE });
  }
}

/** Of some items, those that a run is under way about. */
export async function itemsBeingAnswered(
  db: Queryable,
  brandId: number,
  itemIds: readonly number[],
): Promise<Set<number>> {
  if (itemIds.length === 0) return new Set();
  const rows = await select<{ item_id: number }>(
    db,
    "SELECT DISTINCT item_id FROM runs WHERE brand_id = ? AND item_id IN (?) AND status IN ('new', 'waiting', 'held')",
    [brandId, itemIds],
  );
  return new Set(rows.map((row) => row.item_id));
}

/** How many runs of a workflow have not ended, by what they wait for. */
export async function openRunCounts(
  db: Queryable,
  brandId: number,
  workflowId: number,
): Promise<{ new: number; waiting: number; held: number; backfill: number; old: number }> {
  const [row] = await select<Record<'fresh' | 'waiting' | 'held' | 'backfill' | 'old', string | null>>(
    db,
    `SELECT SUM(r.status = 'new') AS fresh, SUM(r.status = 'waiting') AS waiting, SUM(r.status = 'held') AS held,
       SUM(r.status = 'new' AND r.backfill) AS backfill, SUM(r.version <> f.live_version) AS old
     FROM runs r JOIN workflows f ON f.id = r.workflow_id
     WHERE r.brand_id = ? AND r.workflow_id = ? AND r.status IN ('new', 'waiting', 'held')`,
    [brandId, workflowId],
  );
  const count = (text: string | null | undefined) => Number(text ?? 0);
  return {
    new: count(row?.fresh),
    waiting: count(row?.waiting),
    held: count(row?.held),
    backfill: count(row?.backfill),
    old: count(row?.old),
  };
}

/** A workflow's runs: those that wait for something first, then the newest. */
export async function runsOf(db: Queryable, brandId: number, workflowId: number, most: number): Promise<Run[]> {
  const rows = await select<Row>(
    db,
    `SELECT * FROM runs WHERE brand_id = ? AND workflow_id = ?
     ORDER BY FIELD(status, 'new', 'waiting', 'held') DESC, id DESC LIMIT ?`,
    [brandId, workflowId, most],
  );
  return rows.map(readForShow);
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

export async function runCounts(db: Queryable, brandId: number, workflowId: number): Promise<RunCounts> {
  const [row] = await select<Record<'runs' | 'held' | 'waiting' | 'stopped', string | number | null>>(
    db,
    `SELECT COUNT(*) AS runs, SUM(status = 'held') AS held, SUM(status IN ('new', 'waiting')) AS waiting,
       SUM(status = 'stopped') AS stopped FROM runs WHERE brand_id = ? AND workflow_id = ?`,
    [brandId, workflowId],
  );
  const [sent] = await select<Record<'posts' | 'answers' | 'total', string | number | null>>(
    db,
    `SELECT SUM(action = 'publish') AS posts, SUM(action IN ('reply', 'message', 'react')) AS answers, COUNT(*) AS total
     FROM logbook WHERE brand_id = ? AND workflow_id = ?`,
    [brandId, workflowId],
  );
  const count = (value: string | number | null | undefined) => Number(value ?? 0);
  const [posts, answers] = [count(sent?.posts), count(sent?.answers)];
  return {
    runs: count(row?.runs),
    held: count(row?.held),
    waiting: count(row?.waiting),
    stopped: count(row?.stopped),
    posts,
    answers,
    others: count(sent?.total) - posts - answers,
  };
}

/** Runs that wait for a person, oldest first. */
export async function heldRuns(db: Queryable, brandId: number, most: number): Promise<(Run & { workflow: string })[]> {
  const rows = await select<Row & { workflow: string }>(
    db,
    `SELECT r.*, f.name AS workflow FROM runs r JOIN workflows f ON f.id = r.workflow_id
     WHERE r.brand_id = ? AND r.status = 'held' ORDER BY r.changed_at LIMIT ?`,
    [brandId, most],
  );
  return rows.map((row) => ({ ...readForShow(row), workflow: row.workflow }));
}

/** Runs that are still to begin, soonest first. */
export async function comingRuns(
  db: Queryable,
  brandId: number,
  most: number,
): Promise<(Run & { workflow: string })[]> {
  const rows = await select<Row & { workflow: string }>(
    db,
    `SELECT r.*, f.name AS workflow FROM runs r JOIN workflows f ON f.id = r.workflow_id
     WHERE r.brand_id = ? AND r.status = 'new' AND f.status = 'live' AND r.due_at IS NOT NULL ORDER BY r.due_at LIMIT ?`,
    [brandId, most],
  );
  return rows.map((row) => ({ ...readForShow(row), workflow: row.workflow }));
}
