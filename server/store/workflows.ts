import { definitionSchema, type Definition } from '@playa/core/workflow/definition.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';
import { bumpEpoch } from './people.ts';

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

export async function addWorkflow(
  db: Queryable,
  brandId: number,
  name: string,
  draft: Definition,
  now: number,
): Promise<number> {
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

export async function setStatus(
  db: Queryable,
  brandId: number,
  id: number,
  status: Workflow['status'],
  now: number,
): Promise<void> {
  // Whatever Playa paused it for is settled by a person deciding.
  await change(
    db,
    // Assignments are made from left to right: the brake looks at what the workflow was before.
    `UPDATE workflows SET brake_from = IF(status = 'live', brake_from, ?), status = ?, paused_because = NULL,
       failures_in_row = 0, paused_at = ? WHERE brand_id = ? AND id = ?`,
    [toTime(now), status, status === 'paused' ? toTime(now) : null, brandId, id],
  );
}

/** Keeps a definition as the next version and makes it the live one. */
export async function addVersion(
  db: Queryable,
  workflow: { brandId: number; id: number },
  definition: Definition,
  userId: number | null,
  now: number,
): Promise<number> {
  const [row] = await select<{ next: number }>(
    db,
    'SELECT COALESCE(MAX(number), 0) + 1 AS next FROM versions WHERE workflow_id = ? AND brand_id = ?',
    [workflow.id, workflow.brandId],
  );
  const number = Number(row!.next);
  await change(
    db,
    'INSERT INTO versions (workflow_id, number, brand_id, definition, user_id, created_at) VALUES (?, ?, ?, ?, ?, ?)',
    [workflow.id, number, workflow.brandId, JSON.stringify(definition), userId, toTime(now)],
  );
  await change(db, 'UPDATE workflows SET live_version = ? WHERE id = ? AND brand_id = ?', [
    number,
    workflow.id,
    workflow.brandId,
  ]);
  return number;
}

export async function definitionOf(
  db: Queryable,
  brandId: number,
  workflowId: number,
  version: number,
): Promise<Definition | undefined> {
  const [row] = await select<{ definition: string }>(
    db,
    'SELECT definition FROM versions WHERE brand_id = ? AND workflow_id = ? AND number = ?',
    [brandId, workflowId, version],
  );
  return row && definitionSchema.parse(JSON.parse(row.definition));
}

/** The watches a live workflow listens to. */
export async function setSubscriptions(
  db: Queryable,
  brandId: number,
  workflowId: number,
  watchIds: readonly number[],
): Promise<void> {
  await change(db, 'DELETE FROM subscriptions WHERE workflow_id = ? AND brand_id = ?', [workflowId, brandId]);
  for (const watchId of watchIds) {
    await change(db, 'INSERT INTO subscriptions (workflow_id, watch_id, brand_id) VALUES (?, ?, ?)', [
      workflowId,
      watchId,
      brandId,
    ]);
  }
}

/** Live workflows that listen to a watch, with the version that new items run on. Their rows are kept from changing. */
export async function liveSubscribers(
  db: Queryable,
  watchId: number,
): Promise<{ workflowId: number; version: number }[]> {
  return select(
    db,
    `SELECT f.id AS workflowId, f.live_version AS version FROM subscriptions s JOIN workflows f ON f.id = s.workflow_id
     WHERE s.watch_id = ? AND f.status = 'live' LOCK IN SHARE MODE`,
    [watchId],
  );
}

export async function deleteDraft(db: Queryable, brandId: number, id: number): Promise<boolean> {
  return (
    (await change(db, 'DELETE FROM workflows WHERE brand_id = ? AND id = ? AND live_version IS NULL', [brandId, id]))
      .rows > 0
  );
}

/** How often each workflow ran and posted, and when last. */
export async function workflowCounts(
  db: Queryable,
  brandId: number,
): Promise<Map<number, { runs: number; posts: number; others: number; held: number; lastAt: number | null }>> {
  const rows = await select<{
    id: number;
    runs: number;
    posts: number;
    others: number;
    held: number;
    last_at: Date | null;
  }>(
    db,
    `SELECT f.id,
       (SELECT COUNT(*) FROM runs r WHERE r.workflow_id = f.id AND r.status <> 'new') AS runs,
       (SELECT COUNT(*) FROM logbook l WHERE l.workflow_id = f.id AND l.action = 'publish') AS posts,
       (SELECT COUNT(*) FROM logbook l WHERE l.workflow_id = f.id AND l.action <> 'publish') AS others,
       (SELECT COUNT(*) FROM runs r WHERE r.workflow_id = f.id AND r.status = 'held') AS held,
       (SELECT MAX(l.at) FROM logbook l WHERE l.workflow_id = f.id) AS last_at
     FROM workflows f WHERE f.brand_id = ?`,
    [brandId],
  );
  return new Map(
    rows.map((row) => [
      row.id,
      {
        runs: Number(row.runs),
        posts: Number(row.posts),
        others: Number(row.others),
        held: Number(row.held),
        lastAt: fromTimeOrNull(row.last_at),
      },
    ]),
  );
}

/** Keeps anybody else from beginning or ending runs of a workflow until this transaction ends. */
export async function lockWorkflow(db: Queryable, id: number): Promise<void> {
  await select(db, 'SELECT id FROM workflows WHERE id = ? FOR UPDATE', [id]);
}

/** Counts a failed run; returns how many have failed in a row. */
export async function countFailure(db: Queryable, id: number): Promise<number> {
  await change(db, 'UPDATE workflows SET failures_in_row = failures_in_row + 1 WHERE id = ?', [id]);
  const [row] = await select<{ failures_in_row: number }>(db, 'SELECT failures_in_row FROM workflows WHERE id = ?', [
    id,
  ]);
  return row?.failures_in_row ?? 0;
}

export async function forgetFailures(db: Queryable, id: number): Promise<void> {
  await change(db, 'UPDATE workflows SET failures_in_row = 0 WHERE id = ? AND failures_in_row > 0', [id]);
}

/** Pauses a live workflow for a reason of Playa's own. Returns whether it was live. */
export async function pauseBecause(
  db: Queryable,
  brandId: number,
  id: number,
  why: string,
  now: number,
): Promise<boolean> {
  const done = await change(
    db,
    "UPDATE workflows SET status = 'paused', paused_because = ?, failures_in_row = 0, paused_at = ? WHERE brand_id = ? AND id = ? AND status = 'live'",
    [why, toTime(now), brandId, id],
  );
  return done.rows > 0;
}

/**
 * Rewrites every draft and version that watches a source.
 *
 * @param watchId null for all of them
 * @param rewrite gives the definition anew, the same one when nothing changes, null when it refuses
 * @returns how many workflows changed, and the names of those that refused
 */
export async function rewriteDefinitions(
  db: Queryable,
  brandId: number,
  watchId: number | null,
  rewrite: (definition: Definition) => Definition | null,
): Promise<{ changed: number; refused: string[] }> {
  const changed = new Set<number>();
  const refused = new Set<string>();
  const watches = (definition: Definition) =>
    watchId === null || definition.sources.some((source) => source.watch === watchId);
  // Locked, so that a draft saved meanwhile is neither overwritten nor left with the old name.
  for (const workflow of await workflowsOf(db, brandId, true)) {
    // Nobody can tell whether it uses what is renamed.
    if (workflow.unreadable) {
      refused.add(workflow.name);
      continue;
    }
    const versions = await select<{ number: number; definition: string }>(
      db,
      'SELECT number, definition FROM versions WHERE brand_id = ? AND workflow_id = ? FOR UPDATE',
      [brandId, workflow.id],
    );
    const all = [
      { number: null, definition: workflow.draft },
      ...versions.map((row) => ({
        number: row.number,
        definition: definitionSchema.parse(JSON.parse(row.definition)),
      })),
    ];
    for (const { number, definition } of all) {
      if (!watches(definition)) continue;
      const next = rewrite(definition);
      if (next === null) refused.add(workflow.name);
      if (!next || next === definition) continue;
      changed.add(workflow.id);
      if (number === null)
        await change(
          db,
          'UPDATE workflows SET draft = ?, draft_revision = draft_revision + 1 WHERE brand_id = ? AND id = ?',
          [JSON.stringify(next), brandId, workflow.id],
        );
      else
        await change(db, 'UPDATE versions SET definition = ? WHERE brand_id = ? AND workflow_id = ? AND number = ?', [
          JSON.stringify(next),
          brandId,
          workflow.id,
          number,
        ]);
    }
  }
  await bumpEpoch(db, brandId);
  return { changed: changed.size, refused: [...refused] };
}

/** Which of these workflows are paused. Their rows are kept from changing until the transaction ends. */
export async function pausedWorkflows(db: Queryable, ids: readonly number[]): Promise<Set<number>> {
  const rows = await select<{ id: number; status: string }>(
    db,
    'SELECT id, status FROM workflows WHERE id IN (?) ORDER BY id LOCK IN SHARE MODE',
    [ids],
  );
  return new Set(rows.filter((row) => row.status === 'paused').map((row) => row.id));
}
