// What became known of a source, stored, and the runs that follow from it. However it became known.
import type { Fields, Item } from '@playa/core/items/item.ts';
import { readField } from '@playa/core/items/read-field.ts';
import { withNames, type FieldNames } from '@playa/core/items/rename.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { orderOf } from '@playa/core/workflow/settings.ts';
import type { Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import { addItems, itemsByIdentity, reviseItem } from '../store/items.ts';
import { addRun } from '../store/runs.ts';
import { definitionOf, liveSubscribers } from '../store/workflows.ts';

export interface Arrivals {
  /** Known from now on, but starting nothing. Oldest first. */
  past: readonly Item[];
  /** New. Oldest first. */
  fresh: readonly Item[];
  /** Known before, and perhaps saying something else now. */
  again: readonly Item[];
}

interface Owner {
  id: number;
  brandId: number;
  names: FieldNames;
}

/** Stores items and starts the runs of those that are new or have changed. Returns the numbers of the new ones. */
export async function storeArrivals(db: Queryable, watch: Owner, arrivals: Arrivals, now: number): Promise<number[]> {
  const owner = { brandId: watch.brandId, watchId: watch.id };
  const named = (items: readonly Item[]) =>
    items.map((item) => ({ ...item, fields: withNames(item.fields, watch.names) }));
  await addItems(
    db,
    owner,
    named(arrivals.past).map((item) => ({ ...item, past: true })),
    now,
  );
  const fresh = named(arrivals.fresh);
  const ids = await addItems(
    db,
    owner,
    fresh.map((item) => ({ ...item, past: false })),
    now,
  );
  const again = named(arrivals.again);
  if (ids.length === 0 && again.length === 0) return ids;
  const subscribers = await liveSubscribers(db, watch.id);
  const definitions = new Map<number, Definition | undefined>();
  for (const { workflowId, version } of subscribers)
    definitions.set(workflowId, await definitionOf(db, watch.brandId, workflowId, version));
  if (ids.length > 0) {
    const stored = await itemsByIdentity(
      db,
      watch.id,
      fresh.map((item) => item.identity),
    );
    for (const item of [...stored.values()].filter((each) => ids.includes(each.id)).sort((a, b) => a.id - b.id)) {
      for (const { workflowId, version } of subscribers) {
        const order = orderOf(definitions.get(workflowId)?.settings, item.fields);
        await addRun(db, { brandId: watch.brandId, workflowId, version, itemId: item.id, dueAt: now, now, order });
      }
    }
    await noteChange(db, watch.brandId, 'items', watch.id, now);
  }
  const heeding = subscribers.filter(({ workflowId }) => definitions.get(workflowId)?.settings?.onChange);
  if (heeding.length > 0 && again.length > 0) await noteChanges(db, watch, again, heeding, definitions, now);
  return ids;
}

/** Runs items again whose chosen fields say something else than when they were last seen. */
async function noteChanges(
  db: Queryable,
  watch: Owner,
  again: readonly Item[],
  heeding: readonly { workflowId: number; version: number }[],
  definitions: ReadonlyMap<number, Definition | undefined>,
  now: number,
): Promise<void> {
  const stored = await itemsByIdentity(
    db,
    watch.id,
    again.map((item) => item.identity),
  );
  for (const item of again) {
    const known = stored.get(item.identity);
    if (!known) continue;
    const differing = heeding.filter(({ workflowId }) =>
      differs(known.fields, item.fields, definitions.get(workflowId)!.settings!.onChange!),
    );
    if (differing.length === 0) continue;
    const revision = await reviseItem(db, known, item.fields);
    for (const { workflowId, version } of differing) {
      const order = orderOf(definitions.get(workflowId)?.settings, item.fields);
      await addRun(db, {
        brandId: watch.brandId,
        workflowId,
        version,
        itemId: known.id,
        itemRevision: revision,
        occurrence: revision,
        dueAt: now,
        now,
        order,
      });
    }
    await noteChange(db, watch.brandId, 'items', watch.id, now);
  }
}

function differs(before: Fields, after: Fields, paths: readonly string[]): boolean {
  return paths.some(
    (path) => JSON.stringify(readField(before, path) ?? null) !== JSON.stringify(readField(after, path) ?? null),
  );
}
