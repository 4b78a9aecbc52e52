import { inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../services.ts';
import { isBehind, lockDueRuns, queueRun, type Run } from '../store/runs.ts';
import { lockWorkflow } from '../store/workflows.ts';
import { Batch } from './apply.ts';
import type { Probe } from './probe.ts';

/**
 * Takes the runs that are due as far as they go without the outside world: new ones begin, waiting ones wake. Returns
 * how many.
 */
export async function takeRuns(services: Services, probe?: Probe, most = 50): Promise<number> {
  const count = await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const runs = await lockDueRuns(db, now, most);
    if (runs.length === 0) return 0;
    probe?.('run: locked');
    const batch = new Batch(db, now, services.programs);
    await batch.loadItems(runs);
    for (const run of runs) {
      const onFault = (error: unknown) => {
        services.log.error({ err: error, run: run.id }, 'a run could not go on');
      };
      if (run.state) await batch.takeOrHold(run, { type: 'woke' }, onFault);
      else if (!(await waitsBehind(db, batch, run))) await batch.takeOrHold(run, { type: 'arrived' }, onFault);
    }
    await batch.flush();
    probe?.('run: advanced, not committed');
    return runs.length;
  });
  if (count > 0) probe?.('run: committed');
  return count;
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
