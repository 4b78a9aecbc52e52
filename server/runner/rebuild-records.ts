// Makes the records that screens read anew from what they are made of: versions, runs, the logbook.
import type { Services } from '../base/services.ts';
import { inTransaction, type Queryable } from '../db/database.ts';
import { fact, setFact } from '../store/facts.ts';
import { rebuildCounts } from '../store/counts.ts';
import { forgetEndedHeld, heldUnseen, keepHeld, keepStuck } from '../store/held.ts';
import { forgetEndedAhead, keepPostsAhead, keepVersionPosts } from '../store/planned.ts';
import { lockRuns, openRunsAfter, UNREADABLE, type Run, type UnreadableRun } from '../store/runs.ts';
import { definitionOf, versionsAfter } from '../store/versions.ts';
import { postsAhead } from '@playa/core/engine/ahead.ts';
import { heldSlots, postsOf } from './records.ts';

/** Grows when records are kept that were not kept before. */
const RECORDS = '1';
const FACT = 'records';
const TOGETHER = 200;

type Making = Pick<Services, 'pool' | 'clock' | 'log'>;

/** Makes the records once, for a database that has a history from before there were any. */
export async function makeRecords(services: Making): Promise<void> {
  if ((await fact(services.pool, FACT)) === RECORDS) return;
  await rebuildRecords(services);
  await setFact(services.pool, FACT, RECORDS);
}

/**
 * Makes all records anew. Others may work meanwhile: runs are locked while theirs are made, and what is counted meanwhile
 * is added afterwards. Returns how many runs were gone through.
 */
export async function rebuildRecords({ pool, clock, log }: Making): Promise<number> {
  let version = { workflowId: 0, number: 0 };
  for (;;) {
    const versions = await versionsAfter(pool, version, TOGETHER);
    if (versions.length === 0) break;
    for (const each of versions) {
      version = each;
      if (each.definition)
        await inTransaction(pool, (db) => keepVersionPosts(db, each, postsAhead(each.definition!, null)));
      else log.warn({ workflow: each.workflowId, version: each.number }, 'a version could not be read');
    }
  }
  let last = 0;
  let count = 0;
  for (;;) {
    const made = await inTransaction(pool, (db) => ofRuns(db, last, clock()));
    if (made === null) break;
    last = made.last;
    count += made.count;
  }
  await inTransaction(pool, async (db) => {
    await forgetEndedHeld(db);
    await forgetEndedAhead(db);
  });
  await rebuildCounts(pool);
  return count;
}

/**
 * Makes the records of runs that are held without anybody seeing it: while Playa is brought up to date, a worker of the
 * version before keeps none. Returns how many.
 */
export async function recordUnseen({ pool, clock }: Making): Promise<number> {
  // What such a worker has settled is no longer shown as held.
  await inTransaction(pool, forgetEndedHeld);
  const ids = await heldUnseen(pool, TOGETHER);
  if (ids.length === 0) return 0;
  return inTransaction(pool, async (db) => {
    const { runs, unreadable } = await lockRuns(db, ids);
    const held = [...runs.values()].filter((run) => run.status === 'held');
    await recordOf(db, held, unreadable, clock());
    return held.length + unreadable.length;
  });
}

async function ofRuns(db: Queryable, after: number, now: number): Promise<{ last: number; count: number } | null> {
  const { runs, unreadable, last } = await openRunsAfter(db, after, TOGETHER);
  if (last === null) return null;
  await recordOf(db, runs, unreadable, now);
  return { last, count: runs.length + unreadable.length };
}

/** Makes the records of locked runs. */
async function recordOf(
  db: Queryable,
  runs: readonly Run[],
  unreadable: readonly UnreadableRun[],
  now: number,
): Promise<void> {
  for (const run of unreadable) await keepStuck(db, run, run.trouble ?? UNREADABLE, now);
  for (const run of runs) if (run.trouble !== null) await keepStuck(db, run, run.trouble, now);
  const well = runs.flatMap((run) => (run.trouble === null && run.state ? [{ ...run, state: run.state }] : []));
  await keepHeld(
    db,
    well.map((run) => ({ ...run, slots: heldSlots(run.state) })),
    now,
  );
  const ahead: Parameters<typeof keepPostsAhead>[1][number][] = [];
  for (const run of well) {
    const definition = await definitionOf(db, run.brandId, run.workflowId, run.version);
    ahead.push({ id: run.id, brandId: run.brandId, posts: definition ? postsOf(definition, run.state) : [] });
  }
  await keepPostsAhead(db, ahead);
}
