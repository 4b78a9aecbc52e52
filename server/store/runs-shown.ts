// Runs as screens show them, and how many there are.
import { select, type Queryable } from '../db/database.ts';
import { itemsByIdentity } from './items.ts';
import { type Run, type Row, read, UNREADABLE } from './runs.ts';

/** A run for showing: one that cannot be read is shown without what it had come to. */
export function readForShow(row: Row): Run {
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

/** Items of some watches that a run is under way about, at most so many. */
export async function itemsUnderWay(
  db: Queryable,
  brandId: number,
  watchIds: readonly number[],
  most: number,
): Promise<number[]> {
  if (watchIds.length === 0) return [];
  const rows = await select<{ id: number }>(
    db,
    `SELECT DISTINCT i.id FROM runs r JOIN items i ON i.id = r.item_id
     WHERE r.brand_id = ? AND r.status IN ('new', 'waiting', 'held') AND i.watch_id IN (?) LIMIT ?`,
    [brandId, watchIds, most],
  );
  return rows.map((row) => row.id);
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

/** In this order a workflow's runs are shown: those that wait for something, then the newest. */
const PARTS = [['held'], ['waiting'], ['new'], ['done', 'stopped', 'cancelled']] as const;

/** Where a list of runs goes on: in which part of it, and behind which run. */
export interface RunCursor {
  part: number;
  before: number;
}

/** A page of a workflow's runs: those that wait for something first, then the newest. */
export async function runsPage(
  db: Queryable,
  brandId: number,
  workflowId: number,
  most: number,
  after: RunCursor = { part: 0, before: Number.MAX_SAFE_INTEGER },
): Promise<{ runs: Run[]; next: RunCursor | null }> {
  const rows: Row[] = [];
  let part = after.part;
  let before = after.before;
  for (; part < PARTS.length; part++, before = Number.MAX_SAFE_INTEGER) {
    const wanted = most + 1 - rows.length;
    if (wanted <= 0) break;
    // Each status for itself comes out of the index in order.
    const each = `(SELECT id FROM runs WHERE brand_id = ? AND workflow_id = ? AND status = ? AND id < ? ORDER BY id DESC LIMIT ?)`;
    const ids = await select<{ id: number }>(
      db,
      `SELECT id FROM (${PARTS[part]!.map(() => each).join(' UNION ALL ')}) AS some ORDER BY id DESC LIMIT ?`,
      [...PARTS[part]!.flatMap((status) => [brandId, workflowId, status, before, wanted]), wanted],
    );
    if (ids.length > 0)
      rows.push(
        ...(await select<Row>(db, 'SELECT * FROM runs WHERE id IN (?) ORDER BY id DESC', [ids.map(({ id }) => id)])),
      );
  }
  const shown = rows.slice(0, most);
  const last = shown.at(-1);
  const more = rows.length > most && last !== undefined;
  const where = (status: string) => PARTS.findIndex((statuses) => (statuses as readonly string[]).includes(status));
  return { runs: shown.map(readForShow), next: more ? { part: where(last.status), before: last.id } : null };
}

/** A run that is about some thing, for showing beside it. */
export interface RunAbout {
  id: number;
  workflowId: number;
  workflow: string;
  status: Run['status'];
  dueAt: number | null;
  changedAt: number;
  trace: Run['trace'];
}

/** The runs about a thing of a source, newest first. */
export async function runsAboutItem(
  db: Queryable,
  brandId: number,
  watchId: number,
  identity: string,
  most: number,
): Promise<RunAbout[]> {
  const [item] = (await itemsByIdentity(db, watchId, [identity])).values();
  if (!item) return [];
  const rows = await select<Row & { workflow: string }>(
    db,
    `SELECT r.*, f.name AS workflow FROM runs r JOIN workflows f ON f.id = r.workflow_id
     WHERE r.item_id = ? AND r.brand_id = ? ORDER BY r.id DESC LIMIT ?`,
    [item.id, brandId, most],
  );
  return rows.map((row) => {
    const { id, workflowId, status, dueAt, changedAt, trace } = readForShow(row);
    return { id, workflowId, workflow: row.workflow, status, dueAt, changedAt, trace };
  });
}
