// Two who are one: on a real database and a real Lagoon, across two networks, and back again.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { select } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { conversationWith } from '../store/desk-shown.ts';
import { findContacts, whyLeftAlone } from '../store/contacts.ts';
import { contactsPage, contactBy } from '../store/contacts-shown.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { lookNow } from '../watch/look.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { eraseContact } from './erase.ts';
import { mergeContacts, separateContacts } from './merge.ts';
import { noteContact } from './contact.ts';

let house: House;
let mo: Services;
let reviews: number;
let comments: number;

beforeAll(async () => {
  house = await openHouse();
  house.clock.now = testNow();
  await house.connect('listings');
  const photos = await house.connect('photos');
  mo = { ...house.services, actor: { kind: 'person', userId: house.mo } };
  reviews = await watchOutlet(house.services, house.lidos, (await house.outlet('Tern Bay Lido')).id, 'reviews');
  comments = await watchOutlet(
    house.services,
    house.lidos,
    (await house.outlet('@ternbaylidos', photos)).id,
    'comments',
  );
  await house.play({
    do: 'photo',
    profile: 'ternbaylidos',
    picture: `${house.lagoon}/video/pictures/tide.jpg`,
    caption: 'Tide',
  });
  for (const watch of [reviews, comments]) await lookNow(house.services, watch);
});
afterAll(() => house?.close());

/** What this test had people say: Lagoon's own have said things before. */
const mine = new Set<string>();
async function said(by: string, text: string, where: 'review' | 'comment'): Promise<number> {
  mine.add(text);
  await house.play(
    where === 'review'
      ? { do: 'review', location: 'Tern Bay Lido', by, stars: 4, text }
      : { do: 'comment', profile: 'ternbaylidos', by, text },
  );
  for (const watch of [reviews, comments]) await lookNow(house.services, watch);
  const [row] = await select<{ contact_id: number }>(
    house.services.pool,
    'SELECT contact_id FROM desk_entries ORDER BY item_id DESC LIMIT 1',
  );
  return row!.contact_id;
}
const wrote = async (person: number) =>
  (await conversationWith(house.services.pool, house.lidos, person, { now: house.clock.now, most: 50 }))
    .map(({ text }) => text)
    .filter((text) => mine.has(text));
const person = (id: number) => contactBy(house.services.pool, house.lidos, id);
const listed = async () =>
  (await contactsPage(house.services.pool, house.lidos, {}, undefined, 50)).map(({ id }) => id);
const remote = async (id: number) =>
  (
    await select<{ network: string; remote_id: string }>(
      house.services.pool,
      'SELECT network, remote_id FROM contacts WHERE id = ?',
      [id],
    )
  )[0]!;

describe('two who are one', () => {
  it('have one conversation, one set of labels, and are one in the list, also for what they write later', async () => {
    const there = await said('Bea Lund', 'Lovely pool', 'review');
    const here = await said('Bea Lund', 'Is the café open?', 'comment');
    expect(here).not.toBe(there);
    await noteContact(mo, house.lidos, here, {
      labels: { add: ['asks a lot'], remove: [] },
      notes: { text: 'Comments at night' },
    });
    await noteContact(mo, house.lidos, there, {
      labels: { add: ['regular'], remove: [] },
      notes: { text: 'Swims at seven' },
    });
    await mergeContacts(mo, house.lidos, here, there);
    expect(await wrote(there)).toEqual(['Lovely pool', 'Is the café open?']);
    expect(await person(there)).toMatchObject({
      labels: ['asks a lot', 'regular'],
      notes: 'Swims at seven\nComments at night',
      also: [{ id: here, name: 'Bea Lund', network: 'photos' }],
    });
    expect(await listed()).toContain(there);
    expect(await listed()).not.toContain(here);
    expect(await said('Bea Lund', 'And on Monday?', 'comment')).toBe(there);
    // Whoever has an address of the one finds the other.
    expect((await person(here))!.id).toBe(there);
    // A workflow that looks them up at either network finds the labels of both.
    const { network, remote_id } = await remote(here);
    const [found] = await findContacts(house.services.pool, house.lidos, 'id', remote_id, network);
    expect(found).toMatchObject({ labels: ['asks a lot', 'regular'] });
    const audit = await select<{ did: string; became: string }>(
      house.services.pool,
      "SELECT did, became FROM audit WHERE about = 'contact' AND about_id = ? ORDER BY id DESC LIMIT 1",
      [there],
    );
    expect(audit).toEqual([{ did: 'merged', became: 'Bea Lund' }]);
  });

  it('are left alone as both', async () => {
    const there = await said('Jonas Fell', 'Fine', 'review');
    const here = await said('Jonas Fell', 'Hello', 'comment');
    await noteContact(mo, house.lidos, here, { leftAlone: 'They said so.' });
    await mergeContacts(mo, house.lidos, here, there);
    for (const id of [here, there]) {
      const { network, remote_id } = await remote(id);
      const whom = { network, person: remote_id };
      expect(await whyLeftAlone(house.services.pool, house.lidos, whom)).toBe('They said so.');
    }
    await noteContact(mo, house.lidos, there, { leftAlone: null });
    const { network, remote_id } = await remote(here);
    expect(await whyLeftAlone(house.services.pool, house.lidos, { network, person: remote_id })).toBeNull();
  });

  it('are two again when it was a mistake: what each of them wrote is theirs', async () => {
    const there = await said('Priya Marsh', 'Good', 'review');
    const here = await said('Priya Marsh', 'Where?', 'comment');
    await mergeContacts(mo, house.lidos, here, there);
    await said('Priya Marsh', 'There!', 'comment');
    await separateContacts(mo, house.lidos, there, here);
    expect(await wrote(there)).toEqual(['Good']);
    expect(await wrote(here)).toEqual(['Where?', 'There!']);
    expect(await said('Priya Marsh', 'Thanks', 'comment')).toBe(here);
    await expect(separateContacts(mo, house.lidos, there, here)).rejects.toThrow('They are not one.');
  });

  it('may be three, and be made one only once, with themselves never, with nobody of another brand', async () => {
    const first = await said('Teo Vance', 'One', 'review');
    const second = await said('Teo Vance', 'Two', 'comment');
    const third = await said('Ilse Barrow', 'Three', 'comment');
    await mergeContacts(mo, house.lidos, third, second);
    await mergeContacts(mo, house.lidos, second, first);
    expect(await wrote(first)).toEqual(['One', 'Two', 'Three']);
    expect((await person(first))!.also.map(({ id }) => id).sort()).toEqual([second, third].sort());
    for (const [a, b] of [
      [third, first],
      [first, second],
      [first, first],
    ] as const)
      await expect(mergeContacts(mo, house.lidos, a, b)).rejects.toThrow('They are one already.');
    await expect(mergeContacts(mo, house.lidos + 1, third, first)).rejects.toThrow('no such person');
  });

  it('are forgotten as both', async () => {
    const there = await said('Sefa Quill', 'Zwischenwort', 'review');
    const here = await said('Sefa Quill', 'Zwischenfrage', 'comment');
    await mergeContacts(mo, house.lidos, here, there);
    expect(await eraseContact(mo, house.lidos, here)).toBeGreaterThanOrEqual(2);
    expect(await wrote(there)).toEqual([]);
    const rows = await select<{ name: string; remote_id: string }>(
      house.services.pool,
      'SELECT name, remote_id FROM contacts WHERE id IN (?)',
      [[here, there]],
    );
    expect(rows).toEqual([
      { name: 'Somebody', remote_id: '' },
      { name: 'Somebody', remote_id: '' },
    ]);
    // Whoever writes again is somebody new.
    expect([here, there]).not.toContain(await said('Sefa Quill', 'Again', 'comment'));
  });
});
