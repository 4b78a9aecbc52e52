import { orderOf } from '@playa/core/workflow/settings.ts';
import { validateDefinition } from '@playa/core/workflow/validate.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../services.ts';
import { noteChange } from '../store/changes.ts';
import { parkEffects, unparkEffects } from '../store/effects.ts';
import { itemsOf } from '../store/items.ts';
import { addRun, parkRuns, unparkRuns } from '../store/runs.ts';
import { scheduleWatches, watchBy } from '../store/watches.ts';
import * as workflows from '../store/workflows.ts';
import { lookNow } from '../watch/look.ts';
import { LookTrouble } from '../watch/fetch-feed.ts';
import { worldOf } from './world.ts';

/** What a workflow begins with when it goes live. */
export interface Beginning {
  /** How many of the newest items that are already there it takes too; 0 for "from now on". */
  last: number;
  /** Or everything from this moment on, milliseconds since 1970 UTC. */
  since?: number | null;
  /** Minutes between two of them. */
  every: number;
}

const CHANGED = 'The draft was changed meanwhile. Look at it again first.';

/** More of the past than this is not taken at once. */
const MOST_PAST = 2000;

/** Why a workflow cannot go live, in sentences. */
export class NotReady extends Error {
  override name = 'NotReady';
  readonly reasons: string[];
  constructor(reasons: string[]) {
    super(reasons[0] ?? 'The workflow is not ready.');
    this.reasons = reasons;
  }
}

/**
 * Makes the draft the live version. A fresh look at every source comes first: it is the baseline of "from now on", and
 * a source that cannot be read is no source to go live with.
 *
 * @throws NotReady with nothing switched on
 */
export async function goLive(
  services: Services,
  request: { brandId: number; workflowId: number; revision: number; userId: number | null; beginning: Beginning },
): Promise<number> {
  const { brandId, workflowId } = request;
  const before = await workflows.workflowBy(services.pool, brandId, workflowId);
  if (!before) throw new NotReady(['The workflow is gone.']);
  // What is looked over here is what goes live below: any save in between has another revision.
  if (before.draftRevision !== request.revision) throw new NotReady([CHANGED]);
  const harms = validateDefinition(before.draft, await worldOf(services.pool, brandId, services.connectors)).filter(
    (problem) => problem.level === 'harm',
  );
  if (harms.length > 0) throw new NotReady(harms.map((problem) => problem.says));
  const watchIds = before.draft.sources.map((source) => source.watch!);
  for (const id of watchIds) await lookFirst(services, brandId, id);

  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const workflow = await workflows.workflowBy(db, brandId, workflowId, true);
    if (!workflow) throw new NotReady(['The workflow is gone.']);
    if (workflow.draftRevision !== request.revision) throw new NotReady([CHANGED]);
    const version = await workflows.addVersion(db, workflow, workflow.draft, request.userId, now);
    await workflows.setSubscriptions(db, brandId, workflowId, watchIds);
    await workflows.setStatus(db, brandId, workflowId, 'live');
    await scheduleWatches(db, brandId, now);
    if (workflow.status === 'paused') await unpark(db, brandId, workflowId);
    const { last, since = null } = request.beginning;
    if (last > 0 || since !== null) {
      const newest = await itemsOf(db, brandId, watchIds, since === null ? last : MOST_PAST);
      const items = newest.filter((item) => since === null || (item.publishedAt ?? item.seenAt) >= since).reverse();
      let begun = 0;
      for (const item of items) {
        const dueAt = now + begun * request.beginning.every * 60_000;
        const order = orderOf(workflow.draft.settings, item.fields);
        const run = { brandId, workflowId, version, itemId: item.id, itemRevision: item.revision, dueAt, now, order };
        if (await addRun(db, { ...run, backfill: true })) begun++;
      }
    }
    await noteChange(db, brandId, 'workflows', workflowId, now);
    return version;
  });
}

async function lookFirst(services: Services, brandId: number, watchId: number): Promise<void> {
  try {
    await lookNow(services, watchId);
  } catch (error) {
    if (!(error instanceof LookTrouble)) throw error;
    const watch = await watchBy(services.pool, brandId, watchId);
    throw new NotReady([
      `${watch?.name ?? 'A source'} cannot be looked at, so nothing was switched on: ${error.message}`,
    ]);
  }
}

type Db = Parameters<Parameters<typeof inTransaction>[1]>[0];

async function unpark(db: Db, brandId: number, workflowId: number): Promise<void> {
  await unparkRuns(db, brandId, workflowId);
  await unparkEffects(db, brandId, workflowId);
}

/** Stops a workflow: nothing begins and nothing more is sent. What is already on its way to a network arrives. */
export async function pause(services: Services, brandId: number, workflowId: number): Promise<boolean> {
  return inTransaction(services.pool, async (db) => {
    const workflow = await workflows.workflowBy(db, brandId, workflowId, true);
    if (workflow?.status !== 'live') return false;
    await workflows.setStatus(db, brandId, workflowId, 'paused');
    await parkRuns(db, brandId, workflowId);
    await parkEffects(db, brandId, workflowId, services.clock());
    await scheduleWatches(db, brandId, services.clock());
    await noteChange(db, brandId, 'workflows', workflowId, services.clock());
    return true;
  });
}

/**
 * Lets a paused workflow go on from now: what waited goes on, what appeared meanwhile is left out.
 *
 * @throws NotReady when a source cannot be looked at
 */
export async function resume(services: Services, brandId: number, workflowId: number): Promise<boolean> {
  const before = await workflows.workflowBy(services.pool, brandId, workflowId);
  if (before?.status !== 'paused' || before.liveVersion === null) return false;
  const definition = await workflows.definitionOf(services.pool, brandId, workflowId, before.liveVersion);
  // Looking first makes what appeared meanwhile known, so that it does not count as new afterwards.
  for (const source of definition?.sources ?? [])
    if (source.watch !== null) await lookFirst(services, brandId, source.watch);
  return inTransaction(services.pool, async (db) => {
    const workflow = await workflows.workflowBy(db, brandId, workflowId, true);
    if (workflow?.status !== 'paused') return false;
    await workflows.setStatus(db, brandId, workflowId, 'live');
    await unpark(db, brandId, workflowId);
    await scheduleWatches(db, brandId, services.clock());
    await noteChange(db, brandId, 'workflows', workflowId, services.clock());
    return true;
  });
}
