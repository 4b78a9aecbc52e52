import { inTransaction } from '../db/database.ts';
import type { Services } from '../services.ts';
import { lockDueRuns } from '../store/runs.ts';
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
      await batch.takeOrHold(run, { type: 'arrived' }, (error) => {
        services.log.error({ err: error, run: run.id }, 'a run could not begin');
      });
    }
    probe?.('run: advanced, not committed');
    return runs.length;
  });
  if (count > 0) probe?.('run: committed');
  return count;
}
