import { needRoom } from './room.ts';
import { definitionSchema, type Definition } from '@playa/core/workflow/definition.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

/** What Playa keeps workflows of its own for: to send posts, and answers, that people write by hand. */
export type OwnUse = 'posts' | 'answers';

export interface Workflow {
  id: number;
  brandId: number;
  name: string;
  status: 'draft' | 'live' | 'paused';
  draft: Definition;
  draftRevision: number;
  liveVersion: number | null;
  /** Why Playa itself paused it. */
  pausedBecause: string | null;
  /** Since when it is paused. */
  pausedAt: number | null;
  /** What Playa itself keeps it for; null for one of the people's. */
  own: OwnUse | null;
  /** Another version of Playa wrote its draft, or it was damaged: it is listed, and stays as it is. */
  unreadable?: true;
  createdAt: number;
  changedAt: number;
}

interface Row {
  id: number;
  brand_id: number;
  name: string;
  status: Workflow['status'];
  draft: string;
  draft_revision: number;
  live_version: number | null;
  paused_because: string | null;
  paused_at: Date | null;
  own: Workflow['own'];
  created_at: Date;
  changed_at: Date;
}

const read = (row: Row): Workflow => ({
  id: row.id,
  brandId: row.brand_id,
  name: row.name,
  status: row.status,
  draft: definitionSchema.parse(JSON.parse(row.draft)),
  draftRevision: row.draft_revision,
  liveVersion: row.live_version,
  pausedBecause: row.paused_because,
  pausedAt: fromTimeOrNull(row.paused_at),
  own: row.own,
  createdAt: fromTime(row.created_at),
  changedAt: fromTime(row.changed_at),
});

/** A workflow for lists: one that cannot be read is shown empty rather than keep all others from being shown. */
function readForList(row: Row): Workflow {
  try {
    return read(row);
  } catch {
    return { ...read({ ...row, draft: EMPTY }), unreadable: true };
  }
}

const EMPTY = JSON.stringify({ schema: 1, sources: [{ id: 'source', watch: null }], steps: [] } satisfies Definition);

/** Adds a draft. Returns its number. @throws NoRoom */
export async function addWorkflow(
  db: Queryable,
  brandId: number,
  name: string,
  draft: Definition,
  now: number,
): Promise<number> {
  await needRoom(db, brandId, 'workflows');
  const time = toTime(now);
  return (
    await change(db, 'INSERT INTO workflows (brand_id, name, draft, created_at, changed_at) VALUES (?, ?, ?, ?, ?)', [
      brandId,
      name,
      JSON.stringify(draft),
      time,
      time,
    ])
  ).id;
}

export async function workflowsOf(db: Queryable, brandId: number, lock = false): Promise<Workflow[]> {
  const rows = await select<Row>(
    db,
    `SELECT * FROM workflows WHERE brand_id = ? ORDER BY id${lock ? ' FOR UPDATE' : ''}`,
    [brandId],
  );
  return rows.map(readForList);
}

/**
 * Workflows as they are listed, in the order in which they were made. What Playa keeps itself shows where it is used; once
 * it is paused, somebody has to find it.
 *
 * @param after the number behind which they begin
 */
export async function workflowsPage(db: Queryable, brandId: number, after: number, most: number): Promise<Workflow[]> {
  const rows = await select<Row>(
    db,
    `SELECT * FROM workflows WHERE brand_id = ? AND id > ? AND (own IS NULL OR status = 'paused') ORDER BY id LIMIT ?`,
    [brandId, after, most],
  );
  return rows.map(readForList);
}

export async function workflowBy(
  db: Queryable,
  brandId: number,
  id: number,
  lock = false,
): Promise<Workflow | undefined> {
  return (
    await select<Row>(db, `SELECT * FROM workflows WHERE brand_id = ? AND id = ?${lock ? ' FOR UPDATE' : ''}`, [
      brandId,
      id,
    ])
  ).map(read)[0];
}

/** Saves a draft unless somebody else saved since `revision`. Returns the new revision, or null in that case. */
export async function saveDraft(
  db: Queryable,
  brandId: number,
  id: number,
  draft: { name: string; definition: Definition; revision: number },
  now: number,
): Promise<number | null> {
  const saved = await change(
    db,
    'UPDATE workflows SET name = ?, draft = ?, draft_revision = draft_revision + 1, changed_at = ? WHERE brand_id = ? AND id = ? AND draft_revision = ?',
    [draft.name, JSON.stringify(draft.definition), toTime(now), brandId, id, draft.revision],
  );
  return saved.rows > 0 ? draft.revision + 1 : null;
}

export async function deleteDraft(db: Queryable, brandId: number, id: number): Promise<boolean> {
  return (
    (await change(db, 'DELETE FROM workflows WHERE brand_id = ? AND id = ? AND live_version IS NULL', [brandId, id]))
      .rows > 0
  );
}

/** The workflow that Playa keeps for something, with its version that is live; undefined as long as there is none. */
export async function ownWorkflow(
  db: Queryable,
  brandId: number,
  own: OwnUse,
): Promise<{ id: number; version: number } | undefined> {
  return (
    await select<{ id: number; version: number }>(
      db,
      'SELECT id, live_version AS version FROM workflows WHERE brand_id = ? AND own = ?',
      [brandId, own],
    )
  )[0];
}

export async function markOwn(db: Queryable, id: number, own: OwnUse): Promise<void> {
  await change(db, 'UPDATE workflows SET own = ? WHERE id = ?', [own, id]);
}

/** When each workflow last sent something. */
export async function lastSent(db: Queryable, brandId: number): Promise<Map<number, number>> {
  const rows = await select<{ id: number; at: Date | null }>(
    db,
    // The newest entry of each is the end of an index.
    `SELECT f.id, (SELECT l.at FROM logbook l WHERE l.workflow_id = f.id ORDER BY l.at DESC LIMIT 1) AS at
     FROM workflows f WHERE f.brand_id = ?`,
    [brandId],
  );
  return new Map(rows.flatMap(({ id, at }) => (at === null ? [] : [[id, fromTime(at)] as const])));
}
