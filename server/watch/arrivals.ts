// What became known of a source, stored, and the runs that follow from it. However it became known.
import { boundedItems } from '@playa/core/items/bounded.ts';
import { differingFields } from '@playa/core/items/differing.ts';
import type { Fields, Item } from '@playa/core/items/item.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { withNames, type FieldNames } from '@playa/core/items/rename.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { isTooOld, orderOf } from '@playa/core/workflow/settings.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { CouldNotBeStored, inSavepoint, type Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import { addItems, itemsByIdentity, itemsUnderWay, reviseItem, setGone } from '../store/items.ts';
import { addRun } from '../store/runs.ts';
import { markChanged } from '../store/run-changes.ts';
import { isNewsTo, ownAmong } from '../store/own-things.ts';
import { setAside } from '../store/set-aside.ts';
import { outletOfWatch } from '../store/watches.ts';
import { definitionOf, liveSubscribers } from '../store/versions.ts';

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

/** What came of storing what a source says. */
export interface Stored {
  /** The numbers of the items that were new. */
  ids: number[];
  /** Items that could not be taken, each with its reason. */
  refused: { identity: string; why: string }[];
}

/**
 * Stores items and starts the runs of those that are new or have changed. Each is stored for itself: one that cannot be
 * taken is set aside with its reason and holds back no other.
 */
export async function storeArrivals(db: Queryable, watch: Owner, arrivals: Arrivals, now: number): Promise<Stored> {
  const stored: Stored = { ids: [], refused: [] };
  const taken = (items: readonly Item[]) => {
    const within = boundedItems(items.map((item) => ({ ...item, fields: withNames(item.fields, watch.names) })));
    stored.refused.push(...within.refused);
    return within.items;
  };
  for (const item of taken(arrivals.past)) await storeEach(db, watch, { ...item, past: true }, now, stored);
  const fresh = taken(arrivals.fresh);
  const again = taken(arrivals.again);
  if (fresh.length > 0 || again.length > 0) {
    const subscribers = await liveSubscribers(db, watch.id);
    const definitions = new Map<number, Definition | undefined>();
    for (const { workflowId, version } of subscribers)
      definitions.set(workflowId, await readableDefinition(db, watch.brandId, workflowId, version));
    const own = fresh.length > 0 ? await ownAmong(db, watch.brandId, await outletOfWatch(db, watch.id), fresh) : null;
    for (const item of fresh) {
      const mine = own?.get(item.identity);
      const id = await storeEach(
        db,
        watch,
        { ...item, past: false, own: mine?.wrote === null },
        now,
        stored,
        async (itemId) => {
          for (const { workflowId, version } of subscribers) {
            // What Playa itself has published comes back here, and would set off itself.
            if (mine && !isNewsTo(mine, workflowId) && definitions.get(workflowId)?.settings?.own !== 'start') continue;
            if (isTooOld(definitions.get(workflowId)?.settings, item.publishedAt, now)) continue;
            const order = orderOf(definitions.get(workflowId)?.settings, item.fields);
            await addRun(db, { brandId: watch.brandId, workflowId, version, itemId, dueAt: now, now, order });
          }
        },
      );
      if (id !== undefined) stored.ids.push(id);
    }
    if (stored.ids.length > 0) await noteChange(db, watch.brandId, 'items', watch.id, now);
    if (again.length > 0) await noteChanges(db, watch, again, subscribers, definitions, now, stored);
  }
  for (const { identity, why } of stored.refused) {
    const { brandId, id: watchId } = watch;
    await setAside(db, { brandId, kind: 'item', once: `${watchId}.${identity}`, watchId, what: identity, why }, now);
  }
  return stored;
}

/** A version that cannot be read keeps no other from its items; its own runs wait for a person. */
async function readableDefinition(
  db: Queryable,
  brandId: number,
  workflowId: number,
  version: number,
): Promise<Definition | undefined> {
  try {
    return await definitionOf(db, brandId, workflowId, version);
  } catch (error) {
    if ((error as { sqlState?: string }).sqlState) throw error;
    return undefined;
  }
}

/**
 * Stores one item, with what follows from it, or nothing of it.
 *
 * @returns its number when it is new
 */
async function storeEach(
  db: Queryable,
  watch: Owner,
  item: Item & { past: boolean; own?: boolean },
  now: number,
  stored: Stored,
  then?: (id: number) => Promise<void>,
): Promise<number | undefined> {
  return storedOrRefused(db, item, stored, async () => {
    const [id] = await addItems(db, { brandId: watch.brandId, watchId: watch.id }, [item], now);
    if (id !== undefined) await then?.(id);
    return id;
  });
}

/** Does the work on one item, or nothing of it: what cannot be stored is refused, and holds back no other. */
async function storedOrRefused<T>(
  db: Queryable,
  item: Item,
  stored: Stored,
  work: () => Promise<T>,
): Promise<T | undefined> {
  try {
    return await inSavepoint(db, work);
  } catch (error) {
    if (!(error instanceof CouldNotBeStored)) throw error;
    stored.refused.push({ identity: item.identity, why: 'It could not be stored.' });
    return undefined;
  }
}

/** A sentence about items that could not be taken; none without any. */
export function sayRefused(refused: Stored['refused']): string[] {
  const [first] = refused;
  if (!first) return [];
  const many = refused.length === 1 ? 'One item' : `${refused.length} items`;
  return [`${many} could not be taken: ${cutUnits(first.identity, 80)}. ${first.why}`];
}

/**
 * Stores what items say now, tells the runs that are about them, and runs those again whose chosen fields have changed
 * where no run is under way that takes the change up. Each for itself, as new items are.
 */
async function noteChanges(
  db: Queryable,
  watch: Owner,
  again: readonly Item[],
  subscribers: readonly { workflowId: number; version: number }[],
  definitions: ReadonlyMap<number, Definition | undefined>,
  now: number,
  stored: Stored,
): Promise<void> {
  const before = await itemsByIdentity(
    db,
    watch.id,
    again.map((item) => item.identity),
  );
  for (const item of again) {
    const known = before.get(item.identity);
    if (!known) continue;
    await storedOrRefused(db, item, stored, async () => {
      // What was gone may be back.
      const back = known.gone && (await setGone(db, known.id, false));
      if (!back && differingFields(known.fields, item.fields).length === 0) return;
      const revision = await reviseItem(db, known, item.fields);
      const told = await markChanged(db, known.id, now);
      const news = await withoutOwn(db, watch, known, item.fields);
      for (const { workflowId, version } of subscribers) {
        const settings = definitions.get(workflowId)?.settings;
        if (!settings?.onChange) continue;
        if (!differs(known.fields, settings.own === 'start' ? item.fields : news, settings.onChange)) continue;
        if (told.has(workflowId) && (settings.whileOpen ?? 'update') === 'update') continue;
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
    });
  }
}

/** What a row says now, but for what Playa itself has written there. */
async function withoutOwn(db: Queryable, watch: Owner, known: Item, now: Fields): Promise<Fields> {
  const own = await ownAmong(db, watch.brandId, await outletOfWatch(db, watch.id), [{ ...known, fields: now }]);
  const wrote = own.get(known.identity)?.wrote;
  if (!wrote) return now;
  const news = { ...now };
  for (const [column, value] of Object.entries(wrote))
    if (fieldText(now[column]) === value && known.fields[column] !== undefined) news[column] = known.fields[column];
  return news;
}

/** Tells runs whose item the source no longer has. */
export async function noteGone(
  db: Queryable,
  watch: Pick<Owner, 'id' | 'brandId'>,
  here: ReadonlySet<string>,
  now: number,
): Promise<void> {
  for (const { id, identity } of await itemsUnderWay(db, watch.id)) {
    if (here.has(identity) || !(await setGone(db, id, true))) continue;
    await markChanged(db, id, now);
    await noteChange(db, watch.brandId, 'items', watch.id, now);
  }
}

function differs(before: Fields, after: Fields, paths: readonly string[]): boolean {
  return paths.some(
    (path) => JSON.stringify(readField(before, path) ?? null) !== JSON.stringify(readField(after, path) ?? null),
  );
}
