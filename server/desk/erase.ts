// Somebody asks to be forgotten.
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { Batch } from '../runner/apply.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { leaveGatherings } from '../store/gatherings.ts';
import { forget, isSending, puttingWithout, recordsAbout } from '../store/erasure.ts';
import { contactBy } from '../store/contacts-shown.ts';
import { lockRun } from '../store/runs.ts';
import { forgetInRows } from './forget-in-rows.ts';
import { DeskTrouble } from './send.ts';

/**
 * Forgets somebody: their words and their name go from what came in, from the desk, from runs, from rows that
 * workflows wrote about them and from the logbook; that
 * something was answered, when and where, stays. What waits for them ends. It cannot be taken back.
 *
 * @returns how many things they wrote were forgotten
 * @throws DeskTrouble when there is no such person, or an answer to them is on its way
 */
export function eraseContact(services: Services, brandId: number, asked: number): Promise<number> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const contact = await contactBy(db, brandId, asked);
    if (!contact) throw new DeskTrouble('There is no such person.');
    const contactId = contact.id;
    const about = await recordsAbout(db, brandId, contactId);
    const batch = new Batch(db, now, services.programs);
    for (const id of about.runs) {
      const run = await lockRun(db, id);
      if (run && ['new', 'waiting', 'held'].includes(run.status)) await batch.take(run, { type: 'cancelled' });
    }
    await batch.flush();
    // What others have put in goes on without them.
    for (const id of about.runs) await leaveGatherings(db, id, { kept: new Set(), complete: 'on', now });
    if (await isSending(db, about.runs))
      throw new DeskTrouble('An answer to them is on its way this very moment. Try again in a minute.');
    const { name, leftAlone } = contact;
    const bare = await puttingWithout(db, name, about);
    await forgetInRows(services, db, brandId, about.runs, bare, now);
    await forget(db, { brandId, contactId, bare, keepsStop: leftAlone !== null }, about);
    await addAudit(db, services.actor, { brandId, did: 'erased', about: 'contact', id: contactId }, now);
    await noteChange(db, brandId, 'desk', null, now);
    await noteChange(db, brandId, 'runs', null, now);
    return about.items.length;
  });
}
