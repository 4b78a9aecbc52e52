// What a person can do with a whole run: end it, run it again from a step, move it to the newest version.
import { missingStep, pathTo, stepsFrom } from '@playa/core/engine/rerun.ts';
import { stepOf } from '@playa/core/model/cells.ts';
import { inTransaction } from '../db/database.ts';
import { Batch } from '../runner/apply.ts';
import { postsOf } from '../runner/records.ts';
import type { Services } from '../base/services.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { sentByRun } from '../store/logbook.ts';
import { keepPostsAhead } from '../store/planned.ts';
import { lockRun, runBy, type Run } from '../store/runs.ts';
import { openRunsOnOldVersions, setRunVersion } from '../store/run-changes.ts';
import { workflowBy } from '../store/workflows.ts';
import { CannotDecide } from './decide.ts';

async function lockOwn(db: Parameters<typeof lockRun>[0], brandId: number, runId: number): Promise<Run> {
  const run = (await runBy(db, brandId, runId)) && (await lockRun(db, runId));
  if (!run) throw new CannotDecide('This run is gone.');
  return run;
}

/** Ends a run: what is not sent yet is not sent; what is on its way arrives. @throws CannotDecide */
export async function cancelRun(services: Services, brandId: number, runId: number): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const run = await lockOwn(db, brandId, runId);
    if (run.status !== 'new' && run.status !== 'waiting' && run.status !== 'held')
      throw new CannotDecide('This run has already ended.');
    const batch = new Batch(db, services.clock(), services.programs);
    await batch.take(run, { type: 'cancelled' });
    await batch.flush();
    await addAudit(db, services.actor, { brandId, did: 'cancelled', about: 'run', id: runId }, services.clock());
  });
}

/** Something that was sent and would be sent a second time. */
export interface SentAgain {
  step: string;
  action: string;
  outlet: string | null;
  at: number;
  url: string | null;
}

/** What running again from a step would send a second time. @throws CannotDecide when it cannot be run from there */
export async function sentAgain(
  services: Services,
  brandId: number,
  runId: number,
  from: string,
): Promise<SentAgain[]> {
  const run = await runBy(services.pool, brandId, runId);
  if (!run) throw new CannotDecide('This run is gone.');
  const program = await new Batch(services.pool, services.clock(), services.programs).programOf(run);
  checkRerun(run, pathTo(program, from) !== null);
  const steps = new Set(stepsFrom(program, from));
  const sent = await sentByRun(services.pool, brandId, runId);
  return sent
    .filter(({ place }) => steps.has(stepOf(place)))
    .map(({ place, ...rest }) => ({ ...rest, step: stepOf(place) }));
}

function checkRerun(run: Run, reachable: boolean): void {
  if (!run.state || run.thinned) throw new CannotDecide('What this run knew has been let go, so it cannot run again.');
  if (!reachable)
    throw new CannotDecide('It cannot run again from there: the step is gone, or belongs to single elements.');
}

/** Runs again from a step that is known to the run's version. @throws CannotDecide */
export async function rerun(services: Services, brandId: number, runId: number, from: string): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const run = await lockOwn(db, brandId, runId);
    const batch = new Batch(db, services.clock(), services.programs);
    const program = await batch.programOf(run);
    checkRerun(run, pathTo(program, from) !== null);
    // What it had asked for and nobody has sent is asked for anew, or not at all.
    if (run.status === 'waiting' || run.status === 'held') await batch.take(run, { type: 'cancelled' });
    await batch.take(run, { type: 'rerun', from });
    await batch.flush();
    const deed = { brandId, did: 'ran again', about: 'run', id: runId, became: `from ${from}` } as const;
    await addAudit(db, services.actor, deed, services.clock());
  });
}

/** What came of moving the open runs of a workflow to its newest version. */
export interface Moved {
  moved: number;
  /** Those that stand at a step which the newest version does not have. They finish on their own version. */
  kept: number;
}

/** Moves the runs that have not ended to the live version, where the steps they stand at still exist. */
export async function moveRuns(services: Services, brandId: number, workflowId: number): Promise<Moved> {
  const workflow = await workflowBy(services.pool, brandId, workflowId);
  if (!workflow || workflow.liveVersion === null) throw new CannotDecide('This workflow has never been live.');
  const version = workflow.liveVersion;
  const open = await openRunsOnOldVersions(services.pool, brandId, workflowId, version);
  const result: Moved = { moved: 0, kept: 0 };
  for (const { id } of open) {
    const moved = await inTransaction(services.pool, async (db) => {
      const run = await lockRun(db, id);
      if (!run || (run.status !== 'new' && run.status !== 'waiting' && run.status !== 'held')) return null;
      const program = await new Batch(db, services.clock(), services.programs).programOf({ ...run, version });
      if (run.state && missingStep(run.state, program) !== null) return false;
      await setRunVersion(db, id, version);
      if (run.state) await keepPostsAhead(db, [{ id, brandId, posts: postsOf(program.definition, run.state) }]);
      const became = `version ${version}`;
      const deed = { brandId, did: 'moved to the newest version', about: 'run', id, became } as const;
      await addAudit(db, services.actor, deed, services.clock());
      return true;
    });
    if (moved !== null) result[moved ? 'moved' : 'kept']++;
  }
  await noteChange(services.pool, brandId, 'runs', workflowId, services.clock());
  return result;
}
