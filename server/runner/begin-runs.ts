import { inTransaction } from '../db/database.ts';
import type { Services } from '../services.ts';
import { holdRun, lockDueRuns } from '../store/runs.ts';
import { noteChange } from '../store/changes.ts';
import { Batch } from './apply.ts';
import type { Probe } from './probe.ts';

/** Takes the runs that are due as far as they go without the outside world. Returns how many. */
export async function beginRuns(services: Services, probe?: Probe, most = 50): Promise<number> {
  const count = await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const runs = await lockDueRuns(db, now, most);
    if (runs.length === 0) return 0;
    probe?.('run: locked');
    const batch = new Batch(db, now);
    await batch.loadItems(runs.map((run) => run.itemId));
    for (const run of runs) {
      try {
        await batch.take(run, { type: 'arrived' });
      } catch (error) {
        // The database's own troubles undo the batch and are tried again; anything else is a fault of ours in this one
        // run, which must not keep the others waiting.
        if ((error as { sqlState?: string }).sqlState) throw error;
        services.log.error({ err: error, run: run.id }, 'a run could not go on');
        await holdRun(db, run.id, 'Playa itself stumbled over this item. It is kept, and can be tried again.', now);
        await noteChange(db, run.brandId, 'runs', run.workflowId, now);
      }
    }
    probe?.('run: advanced, not committed');
    return runs.length;
  });
  if (count > 0) probe?.('run: committed');
  return count;
}
