// What becomes of a post reaches the run that is about it in the very transaction that changes the post.
import { postFields } from '@playa/core/posts/written.ts';
import { differingFields } from '@playa/core/items/differing.ts';
import type { Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import { addItems, itemsById, reviseItem } from '../store/items.ts';
import { markChanged } from '../store/run-changes.ts';
import { addRun } from '../store/runs.ts';
import { setWrittenItem, type KeptPost } from '../store/written-posts.ts';
import type { Standing } from '../store/written-standing.ts';
import { GO, handWorkflow } from './hand-workflow.ts';

/**
 * Tells the engine of a post: one that may go begins, one that was corrected goes on as it is now, one that may no longer
 * go is taken back as far as it has not been sent.
 *
 * @param post as it is stored now
 * @param may it is ready, and somebody said yes where that is asked for
 * @param standing how far it has come, locked
 */
export async function tellEngine(
  db: Queryable,
  { id, brandId, itemId, post }: Pick<KeptPost, 'id' | 'brandId' | 'itemId' | 'post'>,
  may: boolean,
  standing: Standing,
  now: number,
): Promise<void> {
  if (itemId === null && !may) return;
  const workflow = await handWorkflow(db, brandId, now);
  const fields = { ...postFields(post), [GO]: may };
  const start = (item: number, revision: number) =>
    addRun(db, {
      brandId,
      workflowId: workflow.id,
      version: workflow.version,
      itemId: item,
      itemRevision: revision,
      occurrence: standing.runs,
      dueAt: now,
      now,
    });
  if (itemId === null) {
    const item = { identity: `post:${id}`, publishedAt: now, fields, past: false };
    const [added] = await addItems(db, { brandId, watchId: workflow.watch }, [item], now);
    await setWrittenItem(db, id, added!);
    await start(added!, 0);
  } else {
    const item = (await itemsById(db, [itemId])).get(itemId)!;
    const differs = differingFields(item.fields, fields).length > 0;
    const revision = differs ? await reviseItem(db, item, fields) : item.revision;
    // One that was taken back before anything went out comes back; one that a person ended begins anew.
    const met = differs ? await markChanged(db, itemId, now) : new Set<number>();
    if (may && !standing.open && met.size === 0 && standing.out.length === 0) await start(itemId, revision);
  }
  await noteChange(db, brandId, 'runs', workflow.id, now);
}

/** A post was moved in the outbox itself: its item says so from now on, for whatever changes next. */
export async function noteInItem(db: Queryable, { itemId, post }: Pick<KeptPost, 'itemId' | 'post'>): Promise<void> {
  const item = itemId === null ? undefined : (await itemsById(db, [itemId])).get(itemId);
  if (item) await reviseItem(db, item, { ...item.fields, ...postFields(post) });
}
