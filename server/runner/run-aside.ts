// Runs that Playa itself stumbles over wait for a person.
import type { Queryable } from '../db/database.ts';
import { releaseRuns } from '../store/run-order.ts';
import { holdRun } from '../store/runs.ts';
import { lockWorkflow } from '../store/workflow-state.ts';

export const STUMBLED = 'Playa itself stumbled over this item. It is kept, and can be tried again.';
/** Has a run wait for a person, and lets those go on that waited for it to make room. */
export async function setRunAside(
  db: Queryable,
  run: { id: number; workflowId: number },
  why: string,
  now: number,
): Promise<void> {
  await holdRun(db, run.id, why, now);
  await lockWorkflow(db, run.workflowId);
  await releaseRuns(db, run.workflowId, null, 1, now);
}
