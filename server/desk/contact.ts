// What colleagues note of somebody who wrote to the brand.
import { mustBeAt } from '../db/revision.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import * as contacts from '../store/contacts.ts';
import * as contactsShown from '../store/contacts-shown.ts';
import { DeskTrouble } from './send.ts';

/** What is noted. */
export interface Noted {
  /** What is added, and what is taken away: colleagues may label somebody at once. */
  labels?: { add: readonly string[]; remove: readonly string[] } | undefined;
  /** What is known of them from now on, and the revision that was changed. */
  notes?: { text: string; revision?: string | undefined } | undefined;
  /** Why they are left alone from now on; null when they are not. */
  leftAlone?: string | null | undefined;
}

/** Notes something of somebody. @throws DeskTrouble when they are not one of the brand's people; ChangedMeanwhile */
export function noteContact(services: Services, brandId: number, asked: number, noted: Noted): Promise<void> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    await contacts.lockContact(db, brandId, asked);
    const before = await contactsShown.contactBy(db, brandId, asked);
    if (!before) throw new DeskTrouble('There is no such person.');
    const { id } = before;
    const deed = { brandId, about: 'contact', id, name: before.name } as const;
    const { labels, notes, leftAlone } = noted;
    const kept = before.labels.filter((label) => !labels?.remove.includes(label));
    const next = [...new Set([...kept, ...(labels?.add ?? [])])].sort();
    // What is so already is no deed.
    if (next.join('\n') !== [...before.labels].sort().join('\n')) {
      await contacts.setLabels(db, brandId, id, next, now);
      const said = { was: before.labels.join(', '), became: next.join(', ') };
      await addAudit(db, services.actor, { ...deed, did: 'changed', ...said }, now);
    }
    if (notes !== undefined) {
      mustBeAt('the notes', before.revision, notes.revision);
    }
    if (notes !== undefined && notes.text !== before.notes) {
      await contacts.setNotes(db, brandId, id, notes.text);
      await addAudit(db, services.actor, { ...deed, did: 'noted', was: before.notes, became: notes.text }, now);
    }
    if (leftAlone !== undefined && leftAlone !== before.leftAlone) {
      await contacts.leaveAlone(db, brandId, id, leftAlone, now);
      await addAudit(db, services.actor, { ...deed, did: 'left alone', was: before.leftAlone, became: leftAlone }, now);
    }
    await noteChange(db, brandId, 'desk', null, now);
  });
}
