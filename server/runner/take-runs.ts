import { nextWake } from '@playa/core/model/state.ts';
import { concernsAll, inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { noteChange } from '../store/changes.ts';
import { isBehind, queueRun } from '../store/run-order.ts';
import { lockDueRuns, UNREADABLE, type Run, type UnreadableRun } from '../store/runs.ts';
import { putOffRun } from '../store/run-times.ts';
import { setOwn } from '../store/items.ts';
import { isNewsTo, isPublishing, ownAmong } from '../store/own-things.ts';
import { LOOK_LEASE } from '../watch/look-lease.ts';
import { hastenLook, watchesToLookAt } from '../store/watch-times.ts';
import { outletOfWatch } from '../store/watches.ts';
import { lockWorkflow } from '../store/workflow-state.ts';
import { Batch } from './apply.ts';
import { setRunAside, STUMBLED } from './run-aside.ts';
import type { Probe } from './probe.ts';

/**
 * Takes the runs that are due as far as they go without the outside world: new ones begin, waiting ones wake. Returns
 * how many.
 */
export async function takeRuns(services: Services, probe?: Probe, most = 50): Promise<number> {
  try {
    return await takeTogether(services, probe, most);
  } catch (error) {
    if (concernsAll(error)) throw error;
    services.log.error({ err: error }, 'runs could not be stored together; taking them one by one');
    let count = 0;
    while (count < most && (await takeAlone(services))) count++;
    return count;
  }
}

/** Takes one run that is due; one that cannot be stored waits for a person. Returns whether there was one. */
async function takeAlone(services: Services): Promise<boolean> {
  let next: Run | undefined;
  try {
    return (await takeTogether(services, undefined, 1, (run) => (next = run))) > 0;
  } catch (error) {
    if (concernsAll(error) || !next) throw error;
    const run = next;
    services.log.error({ err: error, run: run.id }, 'a run could not be stored');
    await inTransaction(services.pool, async (db) => {
      const now = services.clock();
      await setRunAside(db, run, STUMBLED, now);
      await noteChange(db, run.brandId, 'runs', run.workflowId, now);
    });
    return true;
  }
}

async function takeTogether(
  services: Services,
  probe: Probe | undefined,
  most: number,
  onRun?: (run: Run) => void,
): Promise<number> {
  const count = await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const { runs, unreadable } = await lockDueRuns(db, now, most);
    for (const run of unreadable) await holdUnreadable(services, db, run, now);
    if (runs.length === 0) return unreadable.length;
    probe?.('run: locked');
    const batch = new Batch(db, now, services.programs);
    await batch.loadItems(runs);
    const stale = services.looksBeside ? await lookFirst(db, batch, runs, now) : NONE;
    for (const run of runs) {
      onRun?.(run);
      const onFault = (error: unknown) => {
        services.log.error({ err: error, run: run.id }, 'a run could not go on');
      };
      if (run.changed) await batch.orHold(run, () => batch.bringUpToDate(run), onFault);
      // One that it brought back has gone on already, and one that it ended has nothing to wake for.
      if (run.state && stale.has(run.id)) await putOffRun(db, run.id, now + LOOKING);
      else if (run.state) await batch.takeOrHold(run, { type: 'woke' }, onFault);
      else if (await isOwnPost(db, batch, run, now)) continue;
      else if (!(await waitsBehind(db, batch, run))) await batch.takeOrHold(run, { type: 'arrived' }, onFault);
    }
    await batch.flush();
    probe?.('run: advanced, not committed');
    return runs.length + unreadable.length;
  });
  if (count > 0) probe?.('run: committed');
  return count;
}

const NONE: ReadonlySet<number> = new Set();

/** How old what is known of a source may be when a run that waited goes on, in milliseconds. */
const FRESH = 3000;
/** How soon a run is taken up again that waits for a look at its source. */
const LOOKING = 1000;

/**
 * Before a run that waited for its moment goes on, its source is looked at once more: the row may have been changed or
 * withdrawn since. That holds for what an account shows; a feed says nothing new about what it has said once.
 *
 * @returns the runs that wait for that look
 */
async function lookFirst(db: Queryable, batch: Batch, runs: readonly Run[], now: number): Promise<Set<number>> {
  const waking: { run: Run; watch: number }[] = [];
  for (const run of runs) {
    const wake = run.state && nextWake(run.state);
    if (wake === null || wake > now) continue;
    const watch = batch.watchOf(run);
    if (watch !== undefined) waking.push({ run, watch });
    // Whether they have written again may show at another of its sources: a comment is answered by a message.
    const program = await batch.programOf(run).catch(() => null);
    if (program?.settings.whenTheyWrite === 'end')
      for (const source of program.definition.sources)
        if (source.watch !== null && source.watch !== watch) waking.push({ run, watch: source.watch });
  }
  if (waking.length === 0) return new Set();
  const stale = await watchesToLookAt(db, [...new Set(waking.map(({ watch }) => watch))], now - FRESH);
  for (const watch of stale) await hastenLook(db, watch, now, LOOK_LEASE);
  return new Set(waking.flatMap(({ run, watch }) => (stale.has(watch) ? [run.id] : [])));
}

/** So soon after it was seen, an item may be something that Playa is still publishing. */
const JUST_SEEN = 120_000;

/**
 * Whether a run that is about to begin is about something that Playa itself has just published. A source may show it
 * before the network's answer has been written down: as long as something is on its way there, the run waits.
 */
async function isOwnPost(db: Queryable, batch: Batch, run: Run, now: number): Promise<boolean> {
  const item = batch.itemOf(run);
  if (!item || item.seenAt < now - JUST_SEEN) return false;
  const program = await batch.programOf(run).catch(() => null);
  if (!program || program.settings.own === 'start') return false;
  const shows = program.shows(item.watchId);
  if (shows.length === 0) return false;
  const outlet = await outletOfWatch(db, item.watchId);
  const own = await ownAmong(db, run.brandId, outlet, [item]);
  const mine = own.get(item.identity);
  if (mine && !isNewsTo(mine, run.workflowId)) {
    if (mine.wrote === null) await setOwn(db, item.id);
    await batch.take(run, { type: 'cancelled' });
    return true;
  }
  for (const each of shows)
    if (await isPublishing(db, run.brandId, each, now)) {
      await putOffRun(db, run.id, now + LOOKING);
      return true;
    }
  return false;
}

/** A run that cannot be read waits for a person, and nothing waits for it. */
export async function holdUnreadable(
  services: Services,
  db: Queryable,
  run: UnreadableRun,
  now: number,
): Promise<void> {
  services.log.error({ err: run.error, run: run.id }, 'a run could not be read');
  await setRunAside(db, run, UNREADABLE, now);
  await noteChange(db, run.brandId, 'runs', run.workflowId, now);
}

/** Whether a new run has to wait for others of its workflow; then it is queued behind them. */
async function waitsBehind(db: Queryable, batch: Batch, run: Run): Promise<boolean> {
  const program = await batch.programOf(run).catch(() => null);
  const atOnce = program?.settings.atOnce ?? null;
  if (!program || (atOnce === null && program.settings.inOrder === null)) return false;
  // Two workers must not both see room for one more, nor two runs of this batch.
  await batch.flush();
  await lockWorkflow(db, run.workflowId);
  if (!(await isBehind(db, run, atOnce))) return false;
  await queueRun(db, run.id);
  return true;
}
