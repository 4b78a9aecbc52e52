// What people do to what is on the desk besides answering it: leave it, take it up, put it off, give it to a colleague.
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { addAudit, type Did } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { deskEntry, lockDeskEntries, type DeskState } from '../store/desk.ts';
import { tendEntries, type Tending } from '../store/desk-tending.ts';
import { membersOf } from '../store/users.ts';
import { DeskTrouble, endAnswers } from './send.ts';

/** What is done to entries. */
export type Tend =
  /** It needs no answer. */
  | { do: 'ignore' }
  /** It waits for an answer after all. */
  | { do: 'reopen' }
  /** Until then it is out of the way, milliseconds since 1970 UTC. */
  | { do: 'snooze'; until: number }
  /** To whom; null for nobody. */
  | { do: 'assign'; to: number | null }
  /** Keeps what somebody has typed, for whoever goes on with it; empty for nothing. */
  | { do: 'keep'; text: string };

/** From which states each leads away. */
const FROM: Partial<Record<Tend['do'], readonly DeskState[]>> = {
  ignore: ['open', 'old'],
  reopen: ['ignored', 'old', 'answered'],
  snooze: ['open'],
};
const DID: Partial<Record<Tend['do'], Did>> = { ignore: 'ignored', assign: 'assigned', snooze: 'put off' };

/**
 * Does something to entries; those to which it cannot be done stay as they are.
 *
 * @returns the items of those it was done to
 * @throws DeskTrouble
 */
export function tendDesk(services: Services, brandId: number, items: readonly number[], tend: Tend): Promise<number[]> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    if (tend.do === 'snooze' && tend.until <= now) throw new DeskTrouble('That moment has passed.');
    if (tend.do === 'assign' && tend.to !== null) {
      const colleague = (await membersOf(db, brandId)).some(({ id }) => id === tend.to);
      if (!colleague) throw new DeskTrouble('They do not work for this brand.');
    }
    if (tend.do === 'ignore')
      // Runs are locked first, as by whoever records an answer.
      for (const itemId of items) {
        const entry = await deskEntry(db, brandId, itemId);
        if (entry && FROM.ignore!.includes(entry.state))
          await endAnswers(db, services, entry, 'left without an answer', now);
      }
    const from = FROM[tend.do];
    const entries = (await lockDeskEntries(db, brandId, items)).filter(({ state }) => !from || from.includes(state));
    const done = entries.map(({ itemId }) => itemId);
    await tendEntries(db, brandId, done, changeOf(tend));
    const did = DID[tend.do];
    for (const id of done) {
      if (did) await addAudit(db, services.actor, { brandId, did, about: 'desk', id }, now);
      await noteChange(db, brandId, 'desk', id, now);
    }
    return done;
  });
}

function changeOf(tend: Tend): Tending {
  switch (tend.do) {
    case 'ignore':
      return { state: 'ignored', snoozedUntil: null, draft: null, trouble: null };
    case 'reopen':
      return { state: 'open', snoozedUntil: null };
    case 'snooze':
      return { snoozedUntil: tend.until };
    case 'assign':
      return { assignedTo: tend.to };
    case 'keep':
      return { draft: tend.text.trim() === '' ? null : tend.text };
  }
}
