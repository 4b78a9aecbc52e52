// Things that are there already, taken through a workflow: the past it begins with, what it missed while it was paused,
// and what no workflow took.
import type { Definition } from '@playa/core/workflow/definition.ts';
import { orderOf } from '@playa/core/workflow/settings.ts';
import { triggerAt } from '@playa/core/workflow/source.ts';
import { allSteps } from '@playa/core/workflow/tree.ts';
import type { Queryable } from '../db/database.ts';
import { itemsNotTaken, type StoredItem } from '../store/items.ts';
import { doneAbout } from '../store/readiness.ts';
import { addRun } from '../store/runs.ts';
import { itemsBeingAnswered } from '../store/runs-shown.ts';
import { definitionOf } from '../store/versions.ts';
import { type Workflow } from '../store/workflows.ts';
import { readySince, startsAtOnce } from './readiness.ts';

/** When a thing counts as having appeared. */
export const momentOf = (item: StoredItem): number => item.publishedAt ?? item.seenAt;

type Owner = Pick<Workflow, 'brandId' | 'id' | 'liveVersion'>;

/**
 * Starts runs of things that are there already, each so many minutes after the one before.
 *
 * @param items oldest first
 * @returns how many began; a thing that the workflow has had already is not begun again
 */
export async function takeItems(
  db: Queryable,
  { brandId, id: workflowId, liveVersion }: Owner,
  definition: Definition | undefined,
  items: readonly StoredItem[],
  every: number,
  now: number,
): Promise<number> {
  if (liveVersion === null) return 0;
  let begun = 0;
  for (const item of items) {
    const dueAt = now + begun * every * 60_000;
    const order = orderOf(definition?.settings, item.fields);
    // What is waited for may have been so before.
    const again = triggerAt(definition?.sources, item.watchId).on === 'becomes';
    const about = again ? await doneAbout(db, workflowId, item.id) : { occurrence: 0, open: false };
    if (about.open) continue;
    const of = { itemId: item.id, itemRevision: item.revision, occurrence: about.occurrence };
    const run = { brandId, workflowId, version: liveVersion, ...of, dueAt, now, order };
    if (await addRun(db, { ...run, backfill: true })) begun++;
  }
  return begun;
}

/** What appeared, or became so, while a workflow was paused and it has not had, oldest first. Playa's own posts are left out. */
export async function missedWhilePaused(
  db: Queryable,
  workflow: Owner & Pick<Workflow, 'pausedAt'>,
  now: number,
): Promise<StoredItem[]> {
  const { brandId, id: workflowId, liveVersion, pausedAt } = workflow;
  if (liveVersion === null || pausedAt === null) return [];
  const definition = await definitionOf(db, brandId, workflowId, liveVersion);
  const own = definition?.settings?.own === 'start';
  const items = [
    ...(await itemsNotTaken(db, brandId, workflowId, startsAtOnce(definition), pausedAt)),
    ...(await readySince(db, { brandId, workflowId }, definition, now)),
  ];
  return items.filter((item) => own || !item.own).sort((a, b) => a.seenAt - b.seenAt || a.id - b.id);
}

/** Things of the past without those that are answered already, or about to be, where a workflow would answer them. */
export async function withoutAnswered(
  db: Queryable,
  brandId: number,
  definition: Definition,
  items: readonly StoredItem[],
): Promise<StoredItem[]> {
  const replies = allSteps(definition).some(({ step }) => step.verb === 'reply' && !step.off);
  if (!replies) return [...items];
  const open = await itemsBeingAnswered(
    db,
    brandId,
    items.map((item) => item.id),
  );
  return items.filter((item) => item.fields.answered !== true && !open.has(item.id));
}
