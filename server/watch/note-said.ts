// What people wrote comes to the desk in the very transaction that stores it.
import { asksToStop, entryOf, type DeskKind, type Entry } from '@playa/core/desk/entry.ts';
import type { Item } from '@playa/core/items/item.ts';
import { readField } from '@playa/core/items/read-field.ts';
import type { Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import * as desk from '../store/desk.ts';
import type { DeskState } from '../store/desk.ts';
import { noteWroteAgain } from '../store/journeys.ts';
import { stopWords } from '../store/users.ts';
import { keepContact, leaveAlone, noteLastWord } from '../store/contacts.ts';

/** A source at which people write. */
export interface Listening {
  brandId: number;
  kind: DeskKind;
}

/** What was there before Playa looked and is older than this waits for nobody. Milliseconds. */
export const STILL_WAITS = 14 * 86_400_000;

/** Puts a new item on the desk. @param past it was there before the source was looked at */
export async function noteSaid(
  db: Queryable,
  { brandId, kind }: Listening,
  item: Item,
  itemId: number,
  past: boolean,
  now: number,
): Promise<void> {
  const entry = entryOf(kind, item.fields);
  const saidAt = item.publishedAt ?? now;
  const contactId = await contactOf(db, brandId, entry, saidAt);
  const outlet = readField(item.fields, 'outlet.id');
  const outletId = typeof outlet === 'number' ? outlet : null;
  const state = stateOf(entry, past && saidAt < now - STILL_WAITS);
  await desk.addDeskEntry(db, { itemId, brandId, outletId, contactId }, entry, state, saidAt);
  if (contactId !== null && !past) await noteWroteAgain(db, contactId, saidAt, now);
  if (contactId !== null && !past && kind === 'message' && asksToStop(entry.text, await stopWords(db, brandId)))
    await leaveAlone(db, brandId, contactId, `They wrote “${entry.text.trim()}”.`, now);
  await noteChange(db, brandId, 'desk', itemId, now);
}

const stateOf = ({ answered }: Entry, old: boolean): DeskState => (answered ? 'answered' : old ? 'old' : 'open');

/** What an item on the desk says now: edited, or answered at its network. */
export async function noteSaidAgain(
  db: Queryable,
  { brandId, kind }: Listening,
  item: Item,
  itemId: number,
  now: number,
): Promise<void> {
  const entry = entryOf(kind, item.fields);
  await desk.reviseDeskEntry(db, itemId, entry);
  if (entry.answered) await desk.noteAnsweredThere(db, itemId, entry.answeredAt ?? now);
  await noteChange(db, brandId, 'desk', itemId, now);
}

/** Notes that an item is gone at its network, or is back. */
export async function noteSaidGone(db: Queryable, brandId: number, itemId: number, gone: boolean, now: number) {
  await desk.noteDeskGone(db, itemId, gone);
  await noteChange(db, brandId, 'desk', itemId, now);
}

async function contactOf(db: Queryable, brandId: number, { person, text }: Entry, at: number): Promise<number | null> {
  if (person.id === '') return null;
  const id = await keepContact(db, brandId, { person: person.id, network: person.network, name: person.name }, at);
  await noteLastWord(db, id, text, at);
  return id;
}
