// Two who are one, and back.
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { mergeInto, separate, wholeOf } from '../store/merged-contacts.ts';
import { contactBy } from '../store/contacts-shown.ts';
import { DeskTrouble } from './send.ts';

/**
 * Makes two people of the brand one. Who is known already as somebody else brings all of that along.
 *
 * @param into as whom both are known from now on
 * @throws DeskTrouble when one of them is not there, or they are one already
 */
export function mergeContacts(services: Services, brandId: number, id: number, into: number): Promise<void> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const wholes = await wholeOf(db, brandId, [id, into]);
    const [part, whole] = [wholes.get(id), wholes.get(into)];
    if (part === undefined || whole === undefined) throw new DeskTrouble('There is no such person.');
    if (part === whole) throw new DeskTrouble('They are one already.');
    const [before, other] = [await contactBy(db, brandId, part), await contactBy(db, brandId, whole)];
    await mergeInto(db, brandId, part, whole);
    const deed = {
      brandId,
      about: 'contact',
      id: whole,
      name: other!.name,
      did: 'merged',
      became: before!.name,
    } as const;
    await addAudit(db, services.actor, deed, now);
    await noteChange(db, brandId, 'desk', null, now);
  });
}

/** Takes apart who was made one by mistake. @throws DeskTrouble when they are not one */
export function separateContacts(services: Services, brandId: number, whole: number, part: number): Promise<void> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const wholes = await wholeOf(db, brandId, [whole, part]);
    if (part === whole || wholes.get(part) !== whole) throw new DeskTrouble('They are not one.');
    const both = (await contactBy(db, brandId, whole))!;
    const became = both.also.find((each) => each.id === part)?.name ?? '';
    await separate(db, brandId, part, whole);
    const deed = { brandId, about: 'contact', id: whole, name: both.name, did: 'separated', became } as const;
    await addAudit(db, services.actor, deed, now);
    await noteChange(db, brandId, 'desk', null, now);
  });
}
