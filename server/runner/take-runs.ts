import { concernsAll, inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../services.ts';
import { noteChange } from '../store/changes.ts';
import { isBehind, lockDueRuns, queueRun, UNREADABLE, type Run, type UnreadableRun } from '../store/runs.ts';
import { lockWorkflow } from '../store/workflows.ts';
import { Batch, setRunAside, STUMBLED } from './apply.ts';
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
    for (const run of runs) {
      onRun?.(run);
      const onFault = (error: unknown) => {
        services.log.error({ err: error, run: run.id }, 'a run could not go on');
      };
      if (run.state) await batch.takeOrHold(run, { type: 'woke' }, onFault);
      else if (!(await waitsBehind(db, batch, run))) await batch.takeOrHold(run, { type: 'arrived' }, onFault);
    }
    await batch.flush();
    probe?.('run: advanced, not committed');
    return runs.length + unreadable.length;
  });
  if (count > 0) probe?.('run: committed');
  return count;
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
