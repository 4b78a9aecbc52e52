// Versions of workflows, and which sources their live ones watch.
import { postsAhead } from '@playa/core/engine/ahead.ts';
import { definitionSchema, type Definition } from '@playa/core/workflow/definition.ts';
import type { Source } from '@playa/core/workflow/source.ts';
import { change, select, toTime, type Queryable } from '../db/database.ts';
import { keepVersionPosts } from './planned.ts';
import { bumpEpoch } from './users.ts';
import { workflowsOf } from './workflows.ts';

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
  const version = { brandId: workflow.brandId, workflowId: workflow.id, number };
  await keepVersionPosts(db, version, postsAhead(definition, null));
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

/** Versions of all brands, in order; one that cannot be read comes without its definition. */
export async function versionsAfter(
  db: Queryable,
  after: { workflowId: number; number: number },
  most: number,
): Promise<{ brandId: number; workflowId: number; number: number; definition: Definition | null }[]> {
  const rows = await select<{ brandId: number; workflowId: number; number: number; definition: string }>(
    db,
    `SELECT brand_id AS brandId, workflow_id AS workflowId, number, definition FROM versions
     WHERE workflow_id > ? OR (workflow_id = ? AND number > ?) ORDER BY workflow_id, number LIMIT ?`,
    [after.workflowId, after.workflowId, after.number, most],
  );
  return rows.map((row) => ({ ...row, definition: definitionSchema.safeParse(parsed(row.definition)).data ?? null }));
}

/** What is live of some workflows, by workflow. What is not live, or cannot be read, is not among it. */
export async function liveDefinitions(
  db: Queryable,
  brandId: number,
  workflows: readonly { id: number; liveVersion: number | null }[],
): Promise<Map<number, Definition>> {
  const wanted = workflows.flatMap(({ id, liveVersion }) => (liveVersion === null ? [] : [[id, liveVersion]]));
  if (wanted.length === 0) return new Map();
  const rows = await select<{ id: number; definition: string }>(
    db,
    'SELECT workflow_id AS id, definition FROM versions WHERE brand_id = ? AND (workflow_id, number) IN (?)',
    [brandId, wanted],
  );
  const found = new Map<number, Definition>();
  for (const { id, definition } of rows) {
    const read = definitionSchema.safeParse(parsed(definition));
    if (read.success) found.set(id, read.data);
  }
  return found;
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

/** The watches a live workflow listens to, and what there starts it. */
export async function setSubscriptions(
  db: Queryable,
  brandId: number,
  workflowId: number,
  sources: readonly Source[],
): Promise<void> {
  await change(db, 'DELETE FROM subscriptions WHERE workflow_id = ? AND brand_id = ?', [workflowId, brandId]);
  for (const { watch, trigger } of sources) {
    await change(db, 'INSERT INTO subscriptions (workflow_id, watch_id, brand_id, starts) VALUES (?, ?, ?, ?)', [
      workflowId,
      watch,
      brandId,
      trigger?.on ?? 'appears',
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

/** The brand's live workflows by the watches at which they take whatever appears. */
export async function listenersByWatch(
  db: Queryable,
  brandId: number,
): Promise<Map<number, { id: number; name: string }[]>> {
  const rows = await select<{ watch: number; id: number; name: string }>(
    db,
    `SELECT s.watch_id AS watch, f.id, f.name FROM workflows f JOIN subscriptions s ON s.workflow_id = f.id
     WHERE f.brand_id = ? AND f.status = 'live' AND s.starts = 'appears' ORDER BY f.id`,
    [brandId],
  );
  const listeners = new Map<number, { id: number; name: string }[]>();
  for (const { watch, ...workflow } of rows) listeners.set(watch, [...(listeners.get(watch) ?? []), workflow]);
  return listeners;
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
