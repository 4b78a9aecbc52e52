import type { Queryable } from '../db/database.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { parkEffects } from '../store/acts-waiting.ts';
import { addNotices } from '../store/notices.ts';
import { parkRuns } from '../store/run-times.ts';
import { type Run } from '../store/runs.ts';
import { scheduleWatches } from '../store/watch-times.ts';
import { countFailure, pauseBecause } from '../store/workflow-state.ts';

/** Counts a run that failed; after too many in a row the workflow is paused, and everybody is told. */
export async function noteFailure(db: Queryable, run: Run, stopAfter: number, now: number): Promise<void> {
  const failures = await countFailure(db, run.workflowId);
  if (failures < stopAfter) return;
  const why = `Paused by itself: ${failures} ${failures === 1 ? 'run has' : 'runs in a row have'} failed.`;
  await pauseByItself(db, run, why, `stopped.${run.workflowId}.${run.id}`, now);
}

/** Pauses a live workflow and tells everybody why. */
export async function pauseByItself(
  db: Queryable,
  run: Pick<Run, 'id' | 'brandId' | 'workflowId'>,
  why: string,
  onceKey: string,
  now: number,
): Promise<void> {
  if (!(await pauseBecause(db, run.brandId, run.workflowId, why, now))) return;
  await parkRuns(db, run.brandId, run.workflowId);
  await parkEffects(db, run.brandId, run.workflowId, now);
  await scheduleWatches(db, run.brandId, now);
  const deed = { brandId: run.brandId, did: 'paused', about: 'workflow', id: run.workflowId, became: why } as const;
  await addAudit(db, { kind: 'run', runId: run.id }, deed, now);
  const notice = { brandId: run.brandId, to: [], onceKey, workflowId: run.workflowId, runId: run.id, text: why };
  await addNotices(db, notice, now);
  await noteChange(db, run.brandId, 'workflows', run.workflowId, now);
}
