import { problemsTogether } from '@playa/core/workflow/together.ts';
import { validateDefinition } from '@playa/core/workflow/validate.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { settlePauseNotices } from '../store/notices.ts';
import { parkEffects, unparkEffects } from '../store/acts-waiting.ts';
import { type StoredItem } from '../store/items.ts';
import { itemsOf } from '../store/items-shown.ts';
import { parkRuns, unparkRuns } from '../store/run-times.ts';
import { scheduleWatches } from '../store/watch-times.ts';
import { lockWatches, watchBy } from '../store/watches.ts';
import { addVersion, definitionOf, setSubscriptions } from '../store/versions.ts';
import { setStatus } from '../store/workflow-state.ts';
import * as workflows from '../store/workflows.ts';
import { lookNow } from '../watch/look.ts';
import { LookTrouble } from '../watch/fetch-feed.ts';
import { forgetReadiness } from '../store/readiness.ts';
import { readable } from '../watch/starting.ts';
import { liveBeside } from './beside.ts';
import { beginWaiting, noteReady } from './readiness.ts';
import { missedWhilePaused, momentOf, takeItems, withoutAnswered } from './taking.ts';
import { worldOf } from '../world/world.ts';

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
  const world = await worldOf(services.pool, brandId, services.connectors);
  const mine = { id: workflowId, name: before.name, definition: before.draft };
  const harms = [
    ...validateDefinition(before.draft, world),
    ...problemsTogether(mine, await liveBeside(services.pool, brandId), world),
  ].filter((problem) => problem.level === 'harm');
  if (harms.length > 0) throw new NotReady(harms.map((problem) => problem.says));
  const watchIds = before.draft.sources.map((source) => source.watch!);
  for (const id of watchIds) await lookFirst(services, brandId, id);

  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    // Nothing appears there meanwhile that this workflow would not know of.
    await lockWatches(db, brandId, watchIds);
    const workflow = await workflows.workflowBy(db, brandId, workflowId, true);
    if (!workflow) throw new NotReady(['The workflow is gone.']);
    if (workflow.draftRevision !== request.revision) throw new NotReady([CHANGED]);
    const old =
      workflow.status === 'live' && workflow.liveVersion !== null
        ? await readable(db, brandId, workflowId, workflow.liveVersion)
        : undefined;
    // What came in a pause and is not asked about has had its turn.
    if (!old) await forgetReadiness(db, workflowId);
    const version = await addVersion(db, workflow, workflow.draft, request.userId, now);
    await setSubscriptions(db, brandId, workflowId, workflow.draft.sources);
    await beginWaiting(db, { brandId, workflowId }, { before: old, after: workflow.draft }, now);
    await setStatus(db, brandId, workflowId, 'live', now);
    await settlePauseNotices(db, brandId, workflowId, now);
    await scheduleWatches(db, brandId, now);
    if (workflow.status === 'paused') await unpark(db, brandId, workflowId);
    const { last, since = null } = request.beginning;
    if (last > 0 || since !== null) {
      const newest = await itemsOf(db, brandId, watchIds, MOST_PAST);
      const wanted = await withoutAnswered(db, brandId, workflow.draft, newest);
      const items = since === null ? wanted.slice(0, last) : wanted.filter((item) => momentOf(item) >= since);
      const owner = { brandId, id: workflowId, liveVersion: version };
      await takeItems(db, owner, workflow.draft, items.reverse(), request.beginning.every, now);
    }
    const deed = {
      brandId,
      did: 'went live',
      about: 'workflow',
      id: workflowId,
      became: `version ${version}`,
    } as const;
    await addAudit(db, services.actor, deed, now);
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
    await setStatus(db, brandId, workflowId, 'paused', services.clock());
    await parkRuns(db, brandId, workflowId);
    await parkEffects(db, brandId, workflowId, services.clock());
    await scheduleWatches(db, brandId, services.clock());
    const deed = { brandId, did: 'paused', about: 'workflow', id: workflowId } as const;
    await addAudit(db, services.actor, deed, services.clock());
    await noteChange(db, brandId, 'workflows', workflowId, services.clock());
    return true;
  });
}

/** What a workflow takes of the things that appeared while it was paused. */
export interface Taking extends Beginning {
  /** All of them, `last` of them, those `since` a moment, or none. */
  take: 'all' | 'last' | 'since' | 'none';
}

/**
 * Lets a paused workflow go on: what waited goes on, and of what appeared meanwhile it takes what was chosen.
 *
 * @returns how many things it took; null when it was not paused
 * @throws NotReady when a source cannot be looked at
 */
export async function resume(
  services: Services,
  brandId: number,
  workflowId: number,
  taking: Taking = { take: 'none', last: 0, every: 0 },
): Promise<number | null> {
  const before = await workflows.workflowBy(services.pool, brandId, workflowId);
  if (before?.status !== 'paused' || before.liveVersion === null) return null;
  const definition = await definitionOf(services.pool, brandId, workflowId, before.liveVersion);
  // Looking first makes known what appeared meanwhile: afterwards it would count as new.
  for (const source of definition?.sources ?? [])
    if (source.watch !== null) await lookFirst(services, brandId, source.watch);
  return inTransaction(services.pool, async (db) => {
    const workflow = await workflows.workflowBy(db, brandId, workflowId, true);
    if (workflow?.status !== 'paused') return null;
    const now = services.clock();
    const missed = await missedWhilePaused(db, workflow, now);
    await setStatus(db, brandId, workflowId, 'live', now);
    await settlePauseNotices(db, brandId, workflowId, now);
    await unpark(db, brandId, workflowId);
    await scheduleWatches(db, brandId, now);
    const taken = await takeItems(db, workflow, definition, chosenOf(missed, taking), taking.every, now);
    await noteReady(db, { brandId, workflowId }, definition, missed, now);
    const became = taken > 0 ? `took ${taken} from the pause` : null;
    await addAudit(db, services.actor, { brandId, did: 'let go on', about: 'workflow', id: workflowId, became }, now);
    await noteChange(db, brandId, 'workflows', workflowId, now);
    return taken;
  });
}

/** Which of what was missed is taken, oldest first. */
function chosenOf(missed: readonly StoredItem[], { take, last, since }: Taking): StoredItem[] {
  switch (take) {
    case 'none':
      return [];
    case 'all':
      return [...missed];
    case 'last':
      return last > 0 ? missed.slice(-last) : [];
    case 'since':
      return missed.filter((item) => item.seenAt >= (since ?? 0));
  }
}
