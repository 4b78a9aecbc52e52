// What became known of a source, stored, and the runs that follow from it. However it became known.
import type { DeskKind } from '@playa/core/desk/entry.ts';
import { boundedItems } from '@playa/core/items/bounded.ts';
import { differingFields } from '@playa/core/items/differing.ts';
import type { Fields, Item } from '@playa/core/items/item.ts';
import { fieldText } from '@playa/core/items/read-field.ts';
import { withNames, type FieldNames } from '@playa/core/items/rename.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { CouldNotBeStored, inSavepoint, type Queryable } from '../db/database.ts';
import { noteSaid, noteSaidAgain, noteSaidGone } from './note-said.ts';
import { noteChange } from '../store/changes.ts';
import { addItems, itemsByIdentity, itemsAwaited, reviseItem, setGone } from '../store/items.ts';
import { markChanged } from '../store/run-changes.ts';
import { ownAmong, type Own } from '../store/own-things.ts';
import { writtenByOutlets } from '../store/own-voices.ts';
import { setAside } from '../store/set-aside.ts';
import { outletOfWatch } from '../store/watches.ts';
import { listenersTo, Starting } from './starting.ts';

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
  /** What its things are to the desk, where people write them to the brand. */
  said?: DeskKind | undefined;
  /** Whether those who write them are known by the ids of outlets. */
  byOutlets?: boolean | undefined;
}

const SAID_BY_US: Own = { wrote: null, workflowId: null };

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
  const past = taken(arrivals.past);
  const fresh = taken(arrivals.fresh);
  const again = taken(arrivals.again);
  if (past.length + fresh.length + again.length > 0) {
    const starting = new Starting(db, watch, await listenersTo(db, watch.brandId, watch.id), now);
    const voices = watch.byOutlets ? await writtenByOutlets(db, watch.brandId, [...past, ...fresh]) : null;
    const isOurs = ({ identity }: Item) => voices?.get(identity) === 'ours';
    for (const item of past) {
      const kept = { ...item, past: true, own: isOurs(item) };
      await storeEach(db, watch, kept, now, stored, (id) => starting.past(item, id));
    }
    const own = fresh.length > 0 ? await ownAmong(db, watch.brandId, await outletOfWatch(db, watch.id), fresh) : null;
    for (const item of fresh) {
      // What outlets of Playa's say to each other comes to no workflow, of whatever brand they are: two that answer each
      // other would never end.
      const mine = own?.get(item.identity) ?? (voices?.has(item.identity) ? SAID_BY_US : undefined);
      const kept = { ...item, past: false, own: isOurs(item) || own?.get(item.identity)?.wrote === null };
      const id = await storeEach(db, watch, kept, now, stored, (number) => starting.appeared(item, number, mine));
      if (id !== undefined) stored.ids.push(id);
    }
    if (stored.ids.length > 0) await noteChange(db, watch.brandId, 'items', watch.id, now);
    if (again.length > 0) await noteChanges(db, watch, again, starting, now, stored);
  }
  for (const { identity, why } of stored.refused) {
    const { brandId, id: watchId } = watch;
    await setAside(db, { brandId, kind: 'item', once: `${watchId}.${identity}`, watchId, what: identity, why }, now);
  }
  return stored;
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
    if (id === undefined) return id;
    // What the desk knows of it is known before a workflow begins.
    if (watch.said && !item.own) await noteSaid(db, { ...watch, kind: watch.said }, item, id, item.past, now);
    await then?.(id);
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
  starting: Starting,
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
    // What was forgotten stays so, whatever its source goes on showing.
    if (!known || known.erased) continue;
    await storedOrRefused(db, item, stored, async () => {
      // What was gone may be back.
      const back = known.gone && (await setGone(db, known.id, false));
      if (!back && differingFields(known.fields, item.fields).length === 0) return;
      const revision = await reviseItem(db, known, item.fields);
      const told = await markChanged(db, known.id, now);
      const news = await withoutOwn(db, watch, known, item.fields);
      await starting.changed(known, { id: known.id, revision, fields: item.fields }, news, told);
      // After the runs, as whoever records an answer does: nobody waits for the other.
      if (watch.said) await noteSaidAgain(db, { ...watch, kind: watch.said }, item, known.id, now);
      if (back) await noteSaidGone(db, watch.brandId, known.id, false, now);
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
  const awaited = await itemsAwaited(db, watch.id);
  const missing = awaited.filter(({ identity }) => !here.has(identity));
  await setItemsGone(db, watch, missing, now);
}

/** The same where it is known which ones they are. */
export async function setItemsGone(
  db: Queryable,
  watch: Pick<Owner, 'id' | 'brandId'>,
  items: readonly { id: number }[],
  now: number,
): Promise<void> {
  for (const { id } of items) {
    if (!(await setGone(db, id, true))) continue;
    await markChanged(db, id, now);
    await noteSaidGone(db, watch.brandId, id, true, now);
    await noteChange(db, watch.brandId, 'items', watch.id, now);
  }
}
