// Which workflows start over what a source says: each by its trigger.
import { fieldLabel } from '@playa/core/items/field-label.ts';
import type { Item } from '@playa/core/items/item.ts';
import { itemTitle } from '@playa/core/items/title.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import type { Written } from '@playa/core/text/local-moment.ts';
import { becoming, differsIn, undated, type Readiness, type Turned } from '@playa/core/triggers/tell.ts';
import type { Trigger } from '@playa/core/triggers/trigger.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { isTooOld, orderOf } from '@playa/core/workflow/settings.ts';
import { triggerAt } from '@playa/core/workflow/source.ts';
import type { Queryable } from '../db/database.ts';
import type { StoredItem } from '../store/items.ts';
import { isNewsTo, type Own } from '../store/own-things.ts';
import { brandById } from '../store/users.ts';
import { doneAbout, keepReadiness, lockReadiness } from '../store/readiness.ts';
import { setAside } from '../store/set-aside.ts';
import { addRun } from '../store/runs.ts';
import { definitionOf, liveSubscribers } from '../store/versions.ts';

/** A live workflow that listens to a source. */
export interface Listener {
  workflowId: number;
  version: number;
  /** Undefined when it cannot be read; its runs then wait for a person. */
  definition: Definition | undefined;
}

/** How soon something is asked about again that cannot be told yet, milliseconds. */
export const SOON = 500;

type Waiting = Extract<Trigger, { on: 'becomes' }>;

/** A thing at a source, as it is stored. */
type Thing = Pick<StoredItem, 'id' | 'revision' | 'fields'>;

/** Where dates of a brand's things were written that do not say. */
export async function writtenOf(db: Queryable, brandId: number): Promise<Written> {
  const brand = await brandById(db, brandId);
  return { zone: brand?.timeZone ?? 'UTC', locale: brand?.locale ?? 'en' };
}

/** The live workflows that listen to a source. Their rows are kept from changing. */
export async function listenersTo(db: Queryable, brandId: number, watchId: number): Promise<Listener[]> {
  const listeners: Listener[] = [];
  for (const { workflowId, version } of await liveSubscribers(db, watchId))
    listeners.push({ workflowId, version, definition: await readable(db, brandId, workflowId, version) });
  return listeners;
}

/** A version that cannot be read keeps no other from its items; its own runs wait for a person. */
export async function readable(
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

/** Starts the workflows that listen to one source, inside the transaction that stores what it says. */
export class Starting {
  readonly #db: Queryable;
  readonly #watch: { id: number; brandId: number };
  readonly #now: number;
  readonly #listeners: readonly Listener[];
  #written: Promise<Written> | undefined;

  constructor(db: Queryable, watch: { id: number; brandId: number }, listeners: readonly Listener[], now: number) {
    this.#db = db;
    this.#watch = watch;
    this.#listeners = listeners;
    this.#now = now;
  }

  /** Something is there that is nothing new: it starts nothing, but what waits for a condition waits from now on. */
  async past(item: Item, id: number): Promise<void> {
    for (const listener of this.#listeners) {
      const trigger = this.#triggerOf(listener);
      if (trigger.on === 'becomes') await this.#keep(listener, trigger, { id, fields: item.fields });
    }
  }

  /** Something has appeared. @param own what is known of it where Playa itself has made it */
  async appeared(item: Item, id: number, own: Own | undefined): Promise<void> {
    for (const listener of this.#listeners) {
      const { definition, workflowId } = listener;
      const trigger = this.#triggerOf(listener);
      if (trigger.on === 'changes') continue;
      // What Playa itself has published comes back here, and would set off itself.
      const isOwn = own && !isNewsTo(own, workflowId) && definition?.settings?.own !== 'start';
      const passedOver = isOwn || isTooOld(definition?.settings, item.publishedAt, this.#now);
      const thing = { id, revision: 0, fields: item.fields };
      if (trigger.on === 'becomes') {
        const turned = await this.#keep(listener, trigger, thing);
        if (turned && !isOwn) await this.#startOrAskAgain(listener, trigger, thing);
      } else if (!passedOver) await this.#start(listener, thing, 0);
    }
  }

  /**
   * Something known has changed.
   *
   * @param news its fields without what Playa itself has written there
   * @param told workflows whose runs have been told of it, and go on with it as it is now
   */
  async changed(before: StoredItem, after: Thing, news: Item['fields'], told: ReadonlySet<number>): Promise<void> {
    for (const listener of this.#listeners) {
      const { definition, workflowId } = listener;
      const trigger = this.#triggerOf(listener);
      const takesUp = told.has(workflowId) && (definition?.settings?.whileOpen ?? 'update') === 'update';
      if (trigger.on === 'becomes') {
        const turned = await this.#keep(listener, trigger, after);
        if (turned && !takesUp) await this.#startOrAskAgain(listener, trigger, after);
        continue;
      }
      const paths = trigger.on === 'changes' ? trigger.fields : definition?.settings?.onChange;
      if (!paths || takesUp) continue;
      if (!differsIn(paths, before.fields, definition?.settings?.own === 'start' ? after.fields : news)) continue;
      await this.#start(listener, after, after.revision);
    }
  }

  /**
   * Starts a workflow over a thing whose condition has turned true. One that is under way about it takes the change up
   * itself; where something went out for it before, it says so and ends, unless it is to start anew each time.
   *
   * @returns false when it cannot be told yet whether an earlier run about it comes back
   */
  async startTurned(listener: Listener, trigger: Waiting, thing: Thing): Promise<boolean> {
    const { occurrence, open, mayComeBack, wentOut } = await doneAbout(this.#db, listener.workflowId, thing.id);
    if (mayComeBack) return false;
    if (open) return true;
    const source = listener.definition?.sources.find((each) => each.watch === this.#watch.id);
    const ended =
      wentOut && !trigger.again && source
        ? { place: source.id, why: 'it is so again, but something went out for it before' }
        : undefined;
    await this.#start(listener, thing, occurrence, ended);
    return true;
  }

  /** The same; what cannot be told yet is asked again soon, as something that has not turned. */
  async #startOrAskAgain(listener: Listener, trigger: Waiting, thing: Thing): Promise<void> {
    if (await this.startTurned(listener, trigger, thing)) return;
    await this.#store(listener, thing.id, { holds: false, turnsAt: this.#now + SOON });
  }

  /**
   * The moment has come at which the condition of something turns by itself.
   *
   * @returns false when it has to be asked again
   */
  async timeHasCome(listener: Listener, thing: Thing): Promise<boolean> {
    const trigger = this.#triggerOf(listener);
    if (trigger.on !== 'becomes') return true;
    const before = await lockReadiness(this.#db, listener.workflowId, thing.id);
    if (!before) return true;
    const { turned, ...readiness } = await this.#tell(trigger, before, thing);
    if (turned && !(await this.startTurned(listener, trigger, thing))) return false;
    await this.#store(listener, thing.id, readiness);
    return true;
  }

  async #start(
    { workflowId, version, definition }: Listener,
    { id, revision, fields }: Thing,
    occurrence: number,
    ended?: { place: string; why: string },
  ): Promise<void> {
    await addRun(this.#db, {
      brandId: this.#watch.brandId,
      workflowId,
      version,
      itemId: id,
      itemRevision: revision,
      occurrence,
      dueAt: this.#now,
      now: this.#now,
      order: orderOf(definition?.settings, fields),
      ...(ended && { ended }),
    });
  }

  /** Keeps how it stands with a condition. Returns whether it has turned true. */
  async #keep(listener: Listener, trigger: Waiting, thing: Pick<Thing, 'id' | 'fields'>): Promise<boolean> {
    const before = await lockReadiness(this.#db, listener.workflowId, thing.id);
    const { turned, ...readiness } = await this.#tell(trigger, before, thing);
    if (!readiness.holds) await this.#sayUndated(trigger, thing);
    await this.#store(listener, thing.id, readiness);
    return turned;
  }

  async #tell(trigger: Waiting, before: Readiness | null, { fields }: Pick<Thing, 'fields'>): Promise<Turned> {
    this.#written ??= writtenOf(this.#db, this.#watch.brandId);
    return becoming(trigger, before, fields, this.#now, await this.#written);
  }

  /** A date that nobody can read keeps a thing waiting for ever: a person is told, once for each. */
  async #sayUndated(trigger: Waiting, { id, fields }: Pick<Thing, 'id' | 'fields'>): Promise<void> {
    const { id: watchId, brandId } = this.#watch;
    for (const { field, says } of undated(trigger, fields, this.#now, await this.#written)) {
      const why = `“${cutUnits(says, 80)}” in ${fieldLabel(field)} cannot be read as a date, so that its time never comes.`;
      const once = `${watchId}.${id}.${field}.${cutUnits(says, 80)}`;
      await setAside(this.#db, { brandId, kind: 'item', once, watchId, what: itemTitle(fields), why }, this.#now);
    }
  }

  async #store({ workflowId }: Listener, itemId: number, readiness: Readiness): Promise<void> {
    const { id: watchId, brandId } = this.#watch;
    await keepReadiness(this.#db, { brandId, workflowId, watchId }, [{ itemId, ...readiness }]);
  }

  #triggerOf({ definition }: Listener): Trigger {
    return triggerAt(definition?.sources, this.#watch.id);
  }
}
