// Conditions that turn true as time goes by: a row whose moment has come starts its workflow at that moment, not at the
// next look.
import { triggerAt } from '@playa/core/workflow/source.ts';
import { concernsAll, inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { noteChange } from '../store/changes.ts';
import { lockItem } from '../store/items.ts';
import { putOffTurning, turningBy, type Turning } from '../store/readiness.ts';
import { setAside } from '../store/set-aside.ts';
import { hastenLook, watchesToLookAt } from '../store/watch-times.ts';
import { LOOK_LEASE } from './look-lease.ts';
import { listenersTo, SOON, Starting } from './starting.ts';

/** So long before its moment the source of a thing is looked at once more, milliseconds. */
const AHEAD = 1500;
/** How old what is known of a source may be when a thing's moment has come, milliseconds. */
const FRESH = 3000;
/** After so long without an answer a source that cannot be looked at is not waited for, milliseconds. */
const PATIENCE = 60_000;

/**
 * Starts what has come to its moment. Before that its source is looked at once more, since somebody may have moved or
 * withdrawn it. Returns how many things were gone through.
 */
export async function startTurning(services: Services, most = 1000): Promise<number> {
  const now = services.clock();
  const turning = await turningBy(services.pool, services.looksBeside ? now + AHEAD : now, most);
  if (turning.length === 0) return 0;
  const stale = services.looksBeside
    ? await watchesToLookAt(services.pool, [...new Set(turning.map(({ watchId }) => watchId))], now - FRESH)
    : new Set<number>();
  for (const watch of stale) await hastenLook(services.pool, watch, now, LOOK_LEASE);
  let done = 0;
  for (const thing of turning) {
    if (thing.turnsAt > now) continue;
    if (stale.has(thing.watchId) && thing.turnsAt > now - PATIENCE) continue;
    try {
      if (await startOne(services, thing)) done++;
    } catch (error) {
      if (concernsAll(error)) throw error;
      services.log.error({ err: error, item: thing.itemId }, 'a thing could not be started at its moment');
      await setThingAside(services, thing);
    }
  }
  return done;
}

/** What cannot be read or stored keeps no other from its moment; a person is told. */
async function setThingAside({ pool, clock }: Services, thing: Turning): Promise<void> {
  const { brandId, watchId, itemId, workflowId } = thing;
  await inTransaction(pool, async (db) => {
    await putOffTurning(db, thing, null);
    const once = `turning ${workflowId}.${itemId}.${thing.turnsAt}`;
    const why = 'Its moment came, and its workflow could not be started.';
    await setAside(db, { brandId, kind: 'item', once, watchId, what: `Item ${itemId}`, why }, clock());
  });
}

async function startOne(services: Services, thing: Turning): Promise<boolean> {
  const { brandId, watchId, workflowId, itemId } = thing;
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    // In the order in which a look locks them.
    const listener = (await listenersTo(db, brandId, watchId)).find((each) => each.workflowId === workflowId);
    const item = await lockItem(db, itemId);
    if (!item) return false;
    // What cannot be read, or no longer waits there, waits for nothing.
    if (triggerAt(listener?.definition?.sources, watchId).on !== 'becomes' || !listener || item.gone) {
      await putOffTurning(db, thing, null);
      return true;
    }
    const starting = new Starting(db, { id: watchId, brandId }, [listener], now);
    if (!(await starting.timeHasCome(listener, item))) await putOffTurning(db, thing, now + SOON);
    await noteChange(db, brandId, 'runs', workflowId, now);
    return true;
  });
}
