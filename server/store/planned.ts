// Posts that are planned: what the outbox holds, and what runs that begin or wake at a moment may come to. Read without
// the states of runs.
import type { PostAhead } from '@playa/core/engine/ahead.ts';
import { actText, readAct } from '@playa/core/model/acts.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

type Placed = PostAhead & { place: number };
const inOrder = (posts: readonly PostAhead[]): Placed[] => posts.map((post, place) => ({ ...post, place }));

/** Keeps which posts a version of a workflow may come to, from its beginning on. */
export async function keepVersionPosts(
  db: Queryable,
  version: { brandId: number; workflowId: number; number: number },
  posts: readonly PostAhead[],
): Promise<void> {
  await change(db, 'DELETE FROM version_posts WHERE workflow_id = ? AND version = ?', [
    version.workflowId,
    version.number,
  ]);
  if (posts.length === 0) return;
  await change(
    db,
    'INSERT INTO version_posts (workflow_id, version, brand_id, step, outlet_id, sure, place) VALUES ?',
    [
      inOrder(posts).map((post) => [
        version.workflowId,
        version.number,
        version.brandId,
        post.step,
        post.outlet,
        post.sure,
        post.place,
      ]),
    ],
  );
}

/** Keeps which posts runs that wait for a moment may still come to, in place of what was kept of them. */
export async function keepPostsAhead(
  db: Queryable,
  runs: readonly { id: number; brandId: number; posts: readonly PostAhead[] }[],
): Promise<void> {
  if (runs.length === 0) return;
  await change(db, 'DELETE FROM posts_ahead WHERE run_id IN (?)', [runs.map((run) => run.id)]);
  const rows = runs.flatMap((run) =>
    inOrder(run.posts).map((post) => [run.id, run.brandId, post.step, post.outlet, post.sure, post.place]),
  );
  if (rows.length > 0)
    await change(db, 'INSERT INTO posts_ahead (run_id, brand_id, step, outlet_id, sure, place) VALUES ?', [rows]);
}

/** Forgets what runs would still have come to that have ended. */
export async function forgetEndedAhead(db: Queryable): Promise<void> {
  await change(
    db,
    "DELETE p FROM posts_ahead p JOIN runs r ON r.id = p.run_id WHERE r.status IN ('done', 'stopped', 'cancelled')",
  );
}

/** A post that is planned. */
export interface PlannedPost {
  /** Null when its run has yet to begin: its thing waits for a condition that turns true at that moment. */
  runId: number | null;
  workflowId: number;
  workflow: string;
  itemId: number;
  step: string;
  outletId: number;
  /** The act in the outbox, while nobody is sending it: it can be moved. */
  effectId: number | null;
  /** The time of the outlet's timetable that it holds. */
  slot: number | null;
  /** When it goes, or the earliest moment it may; milliseconds since 1970 UTC. */
  at: number;
  /**
   * ahead: its run has yet to come to it. planned: in the outbox. sending: on its way. account: waits for its account. paused:
   * its workflow is.
   */
  state: 'ahead' | 'planned' | 'sending' | 'account' | 'paused';
  /** Nothing may keep its run from coming to it. */
  sure: boolean;
  /** What it says; null as long as its run has not come to it. */
  text: string | null;
}

/** What of it is wanted. */
export interface Wanted {
  /** From this moment on, and until which (not included); milliseconds since 1970 UTC, null for no bound. */
  from: number | null;
  to: number | null;
  /** Whether also what waits for its workflow to go on. */
  paused: boolean;
}

const FIRST = Date.UTC(1971, 0);
const LAST = Date.UTC(9000, 0);

/**
 * What is planned within a span of time, soonest first.
 *
 * @param most no more runs, and no more acts, than this are looked at: each may be a post for several outlets
 */
export async function plannedPosts(
  db: Queryable,
  brandId: number,
  { from, to, paused: withPaused }: Wanted,
  most: number,
): Promise<PlannedPost[]> {
  // Left out here, and not of what was found: else what is paused would take the place of what goes.
  const going = withPaused ? '' : " AND f.status <> 'paused'";
  const span = [brandId, toTime(from ?? FIRST), toTime(to ?? LAST), most];
  const acts = await select<
    Omit<PlannedPost, 'at' | 'sure' | 'text' | 'slot'> & { at: Date; slot: Date | null; input: string }
  >(
    db,
    `SELECT e.run_id AS runId, e.workflow_id AS workflowId, f.name AS workflow, r.item_id AS itemId, e.step,
       e.outlet_id AS outletId, IF(e.status IN ('planned', 'account') AND e.unsure = 0, e.id, NULL) AS effectId, e.slot_at AS slot,
       COALESCE(IF(e.status = 'account', e.planned_at, NULL), e.open_at) AS at, IF(f.status = 'paused', 'paused', e.status) AS state, e.input
     FROM effects e JOIN workflows f ON f.id = e.workflow_id JOIN runs r ON r.id = e.run_id
     WHERE e.brand_id = ? AND e.open_at >= ? AND e.open_at < ? AND e.action = 'publish' AND e.outlet_id IS NOT NULL${going}
     ORDER BY e.open_at LIMIT ?`,
    span,
  );
  const runs = await select<{
    id: number;
    workflowId: number;
    workflow: string;
    itemId: number;
    version: number;
    at: Date;
    fresh: number;
    paused: number;
  }>(
    db,
    `SELECT r.id, r.workflow_id AS workflowId, f.name AS workflow, r.item_id AS itemId, r.version, r.wakes_at AS at,
       r.status = 'new' AS fresh, f.status = 'paused' AS paused
     FROM runs r JOIN workflows f ON f.id = r.workflow_id
     WHERE r.brand_id = ? AND r.wakes_at >= ? AND r.wakes_at < ?${going}
       AND (IF(r.status = 'new',
         EXISTS (SELECT 1 FROM version_posts v WHERE v.workflow_id = r.workflow_id AND v.version = r.version),
         EXISTS (SELECT 1 FROM posts_ahead p WHERE p.run_id = r.id)))
     ORDER BY r.wakes_at LIMIT ?`,
    span,
  );
  const turning = await select<
    Omit<PlannedPost, 'at' | 'sure' | 'text' | 'state' | 'runId' | 'effectId' | 'slot'> & {
      at: Date;
      sure: number;
      paused: number;
    }
  >(
    db,
    `SELECT t.workflow_id AS workflowId, f.name AS workflow, t.item_id AS itemId, v.step, v.outlet_id AS outletId,
       t.turns_at AS at, v.sure, f.status = 'paused' AS paused
     FROM readiness t JOIN workflows f ON f.id = t.workflow_id JOIN items i ON i.id = t.item_id AND i.gone = 0
       JOIN version_posts v ON v.workflow_id = f.id AND v.version = f.live_version
     WHERE t.brand_id = ? AND t.turns_at >= ? AND t.turns_at < ? AND t.holds = 0${going}
     ORDER BY t.turns_at, v.place LIMIT ?`,
    span,
  );
  const waiting = runs.filter((run) => run.fresh !== 1).map((run) => run.id);
  const begins = runs.filter((run) => run.fresh === 1);
  const versions = [
    ...new Map(begins.map((run) => [`${run.workflowId}.${run.version}`, [run.workflowId, run.version]])).values(),
  ];
  const ahead = waiting.length
    ? await select<{ runId: number; step: string; outletId: number; sure: number }>(
        db,
        'SELECT run_id AS runId, step, outlet_id AS outletId, sure FROM posts_ahead WHERE run_id IN (?) ORDER BY run_id, place',
        [waiting],
      )
    : [];
  const fresh = versions.length
    ? await select<{ workflowId: number; version: number; step: string; outletId: number; sure: number }>(
        db,
        `SELECT workflow_id AS workflowId, version, step, outlet_id AS outletId, sure FROM version_posts
         WHERE (workflow_id, version) IN (?) ORDER BY workflow_id, version, place`,
        [versions],
      )
    : [];
  const posts = new Map<string, { step: string; outletId: number; sure: number }[]>();
  const add = (of: string, post: { step: string; outletId: number; sure: number }) =>
    posts.set(of, [...(posts.get(of) ?? []), post]);
  for (const post of ahead) add(`run ${post.runId}`, post);
  for (const post of fresh) add(`version ${post.workflowId}.${post.version}`, post);
  return [
    ...acts.map(({ input, at, slot, ...act }) => ({
      ...act,
      slot: fromTimeOrNull(slot),
      at: fromTime(at),
      sure: true,
      text: textOf(input),
    })),
    ...runs.flatMap(({ id, version, at, fresh: isNew, paused, ...run }) =>
      (posts.get(isNew === 1 ? `version ${run.workflowId}.${version}` : `run ${id}`) ?? []).map(
        ({ step, outletId, sure }): PlannedPost => ({
          ...run,
          runId: id,
          effectId: null,
          slot: null,
          step,
          outletId,
          at: fromTime(at),
          state: paused === 1 ? 'paused' : 'ahead',
          sure: sure === 1,
          text: null,
        }),
      ),
    ),
    ...turning.map(({ at, sure, paused, ...post }): PlannedPost => ({
      ...post,
      runId: null,
      effectId: null,
      slot: null,
      at: fromTime(at),
      state: paused === 1 ? 'paused' : 'ahead',
      sure: sure === 1,
      text: null,
    })),
  ].sort((a, b) => a.at - b.at || (a.runId ?? 0) - (b.runId ?? 0));
}

function textOf(input: string): string | null {
  try {
    return actText(readAct('publish', JSON.parse(input)));
  } catch {
    return null;
  }
}

/** Outlets that a live workflow of the brand posts to. */
export async function outletsPostedTo(db: Queryable, brandId: number): Promise<Set<number>> {
  return new Set((await postedToByLive(db, brandId)).map(({ outlet }) => outlet));
}

/** Which live workflows post where. */
export const postedToByLive = (
  db: Queryable,
  brandId: number,
): Promise<{ workflow: number; name: string; outlet: number }[]> =>
  select(
    db,
    `SELECT DISTINCT f.id AS workflow, f.name, v.outlet_id AS outlet FROM workflows f
       JOIN version_posts v ON v.workflow_id = f.id AND v.version = f.live_version
     WHERE f.brand_id = ? AND f.status = 'live'`,
    [brandId],
  );
