// What a workflow that waits for conditions knows of the things that are there already when it goes live or goes on.
import type { Trigger } from '@playa/core/triggers/trigger.ts';
import { becoming } from '@playa/core/triggers/tell.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { triggerAt } from '@playa/core/workflow/source.ts';
import type { Queryable } from '../db/database.ts';
import type { StoredItem } from '../store/items.ts';
import { forgetReadiness, itemsNotReady, itemsToWaitFor, keepReadiness, type Waits } from '../store/readiness.ts';
import { writtenOf } from '../watch/starting.ts';

const TOGETHER = 500;

type Owner = Pick<Waits, 'brandId' | 'workflowId'>;
type Becomes = Extract<Trigger, { on: 'becomes' }>;

/** Where a definition waits for a condition, and for which. */
function waitsOf(definition: Definition | undefined): { watchId: number; trigger: Becomes }[] {
  return (definition?.sources ?? []).flatMap(({ watch, trigger }) =>
    watch !== null && trigger?.on === 'becomes' ? [{ watchId: watch, trigger }] : [],
  );
}

/**
 * Begins to wait: what is so already has had its turn, what is not is waited for. Where the version before waited for the
 * same, nothing is begun anew, so that what turns in this very moment is not lost.
 */
export async function beginWaiting(
  db: Queryable,
  owner: Owner,
  versions: { before: Definition | undefined; after: Definition },
  now: number,
): Promise<void> {
  const waits = waitsOf(versions.after);
  const before = new Map(
    waitsOf(versions.before).map(({ watchId, trigger }) => [watchId, JSON.stringify(trigger.when)]),
  );
  for (const watchId of before.keys())
    if (!waits.some((each) => each.watchId === watchId)) await forgetReadiness(db, owner.workflowId, watchId);
  const written = waits.length > 0 ? await writtenOf(db, owner.brandId) : undefined;
  for (const { watchId, trigger } of waits) {
    if (before.get(watchId) !== JSON.stringify(trigger.when)) await forgetReadiness(db, owner.workflowId, watchId);
    const at = { ...owner, watchId };
    await inPages(itemsToWaitFor, db, at, (items) =>
      keepReadiness(
        db,
        at,
        items.map(({ id, fields }) => ({ itemId: id, ...becoming(trigger, null, fields, now, written) })),
      ),
    );
  }
}

/** What has become so while nobody looked, oldest first: while a workflow was paused. */
export async function readySince(
  db: Queryable,
  owner: Owner,
  definition: Definition | undefined,
  now: number,
): Promise<StoredItem[]> {
  const ready: StoredItem[] = [];
  const waits = waitsOf(definition);
  const written = waits.length > 0 ? await writtenOf(db, owner.brandId) : undefined;
  for (const { watchId, trigger } of waits)
    await inPages(itemsNotReady, db, { ...owner, watchId }, async (items) => {
      ready.push(...items.filter(({ fields }) => becoming(trigger, null, fields, now, written).turned));
    });
  return ready;
}

/** Notes of things that they have had their turn, whether they were taken or not. */
export async function noteReady(
  db: Queryable,
  owner: Owner,
  definition: Definition | undefined,
  items: readonly StoredItem[],
  now: number,
): Promise<void> {
  const written = await writtenOf(db, owner.brandId);
  for (const { watchId, trigger } of waitsOf(definition))
    await keepReadiness(
      db,
      { ...owner, watchId },
      items
        .filter((item) => item.watchId === watchId)
        .map(({ id, fields }) => ({ itemId: id, ...becoming(trigger, null, fields, now, written) })),
    );
}

/** The watches at which something starts a workflow as soon as it appears. */
export function startsAtOnce(definition: Definition | undefined): number[] {
  return (definition?.sources ?? []).flatMap(({ watch }) =>
    watch !== null && triggerAt(definition!.sources, watch).on === 'appears' ? [watch] : [],
  );
}

async function inPages(
  page: typeof itemsToWaitFor,
  db: Queryable,
  at: Waits,
  each: (items: StoredItem[]) => Promise<void>,
): Promise<void> {
  let after = 0;
  for (;;) {
    const items = await page(db, at, after, TOGETHER);
    if (items.length === 0) return;
    after = items.at(-1)!.id;
    await each(items);
    if (items.length < TOGETHER) return;
  }
}
