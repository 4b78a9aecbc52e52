// Who mentions the brand at a microblog: noticed, brought to the desk, and answered once.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { Services } from '../base/services.ts';
import { inTransaction, select } from '../db/database.ts';
import { shownEntries } from '../store/desk-shown.ts';
import { addOutlet } from '../store/outlets.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { live } from '../testing/workflow.ts';
import { storeArrivals } from '../watch/arrivals.ts';
import { lookNow } from '../watch/look.ts';
import { outletsOf } from '../store/outlets.ts';
import { watchableOutlets, watchOutlet } from '../watch/watchable.ts';
import { CALL_BACK, sendOff } from './send.ts';
import { deskSources } from './sources.ts';

interface Note {
  sort: string;
  text: string;
  of: number | null;
  likes?: number[];
}

let house: House;
let mo: Services;
let outlet: { id: number; remoteId: string };
let mentions: number;
let comments: number;
let count = 0;

beforeAll(async () => {
  house = await openHouse();
  const microblog = await house.connect('microblog');
  const photos = await house.connect('photos');
  mo = { ...house.services, actor: { kind: 'person', userId: house.mo } };
  outlet = await house.outlet('@ternbaylidos', microblog);
  const feed = await house.outlet('@ternbaylidos', photos);
  comments = await watchOutlet(house.services, house.lidos, feed.id, 'comments');
  mentions = await watchOutlet(house.services, house.lidos, outlet.id, 'mentions');
  await lookNow(house.services, mentions);
});
afterAll(() => house?.close());
beforeEach(() => {
  house.clock.now = testNow();
});

const words = (about: string) => `${about}, number ${++count}`;
const notes = () => house.things<Note>('microblog', 'note');
const answersTo = async (id: number) => (await notes()).filter(({ body }) => body.sort === 'reply' && body.of === id);
const idsOfItems = async (text: string) =>
  (
    await select<{ id: number }>(
      house.services.pool,
      "SELECT id FROM items WHERE watch_id = ? AND JSON_VALUE(fields, '$.text') = ?",
      [mentions, text],
    )
  ).map(({ id }) => id);
async function entrySaying(text: string) {
  const items = await idsOfItems(text);
  return (await shownEntries(house.services.pool, house.lidos, items, house.clock.now))[0];
}
const runsAbout = (item: number) => select(house.services.pool, 'SELECT id FROM runs WHERE item_id = ?', [item]);
/** Somebody writes a note; then what mentions the lidos is looked at. */
async function note(profile: string, text: string, more: object = {}): Promise<number> {
  const id = await house.play({ do: 'note', profile, text, ...more });
  await lookNow(house.services, mentions);
  return id;
}
async function later(milliseconds: number) {
  house.clock.now += milliseconds;
  await house.settle();
}

describe('who mentions the brand', () => {
  it('comes to the desk with who it was, where they said it and what it is about', async () => {
    const named = words('Is @ternbaylidos. open tomorrow?');
    const id = await note('harbourmaster', named);
    expect(await entrySaying(named)).toMatchObject({
      kind: 'mention',
      state: 'open',
      text: named,
      person: { name: 'The harbour master' },
      about: null,
      question: true,
      outletId: outlet.id,
    });
    expect((await entrySaying(named))!.link).toBe(`${house.lagoon}/microblog/notes/${id}`);

    const ours = words('The sauna is warm');
    const about = await house.play({ do: 'note', profile: 'ternbaylidos', text: ours });
    for (const sort of ['reply', 'quote']) {
      const theirs = words(`Their ${sort}`);
      await note('gannetdivers', theirs, { sort, of: 'ternbaylidos' });
      expect((await entrySaying(theirs))!.about).toMatchObject({
        title: ours,
        link: `${house.lagoon}/microblog/notes/${about}`,
      });
    }
    // An answer to somebody else that calls the brand is about nothing of the brand's.
    const beside = words('Ask @ternbaylidos');
    await note('baybuses', beside, { sort: 'reply', of: 'harbourmaster' });
    expect((await entrySaying(beside))!.about).toBeNull();
    const passing = words('Nothing to do with the lidos');
    await note('baybuses', passing);
    expect(await entrySaying(passing)).toBeUndefined();
  });

  it('is offered as a place to listen at, and told by the network', async () => {
    const places = await deskSources(house.services, house.lidos, await outletsOf(house.services.pool, house.lidos));
    expect(places.filter(({ what }) => what === 'mentions').map((place) => [place.outlet, place.kind])).toEqual([
      ['@ternbaylidos', 'mention'],
      ['@moatthelido', 'mention'],
    ]);
    const subscriptions = await select(
      house.services.pool,
      'SELECT remote_id FROM push_subscriptions WHERE watch_id = ?',
      [mentions],
    );
    await live(house, greeting());
    await lookNow(house.services, mentions);
    expect(subscriptions).toEqual([]);
    expect(
      await select(house.services.pool, 'SELECT remote_id FROM push_subscriptions WHERE watch_id = ?', [mentions]),
    ).toHaveLength(1);
  });

  it('has been answered where it has been at the network', async () => {
    const text = words('Lost a towel, @ternbaylidos');
    const id = await note('dunerangers', text);
    await house.play({ do: 'answer-note', id, as: 'ternbaylidos', text: 'It is at the desk.' });
    await lookNow(house.services, mentions);
    expect(await entrySaying(text)).toMatchObject({ state: 'answered', answer: { by: 'there' } });
  });

  it('is answered from the desk once, under what they wrote, also when the network loses its answer', async () => {
    const text = words('How cold is it, @ternbaylidos?');
    const id = await note('tidetables', text);
    const { itemId } = (await entrySaying(text))!;
    await house.fault('microblog', { kind: 'hangAfter' });
    await sendOff(mo, house.lidos, house.mo, [{ itemId, text: 'Eleven degrees.', held: null }]);
    await later(CALL_BACK + 1);
    await later(600_000);
    await later(600_000);
    expect((await answersTo(id)).map(({ body }) => body.text)).toEqual(['Eleven degrees.']);
    expect(await entrySaying(text)).toMatchObject({ state: 'answered', answer: { by: 'user' } });
  });

  it('is not answered again where somebody at the network was faster', async () => {
    const text = words('Are dogs allowed, @ternbaylidos?');
    const id = await note('oldquayhistory', text);
    const { itemId } = (await entrySaying(text))!;
    await house.play({ do: 'answer-note', id, as: 'ternbaylidos', text: 'On the terrace.' });
    await sendOff(mo, house.lidos, house.mo, [{ itemId, text: 'Not in the water.', held: null }]);
    await later(CALL_BACK + 1);
    expect((await answersTo(id)).map(({ body }) => body.text)).toEqual(['On the terrace.']);
  });
});

describe('somebody whose number is that of an outlet', () => {
  it('is still a stranger, where people and outlets are numbered apart', async () => {
    const account = await house.connect('pages');
    const page = await house.outlet('Tern Bay Lidos', account);
    const source = await watchOutlet(house.services, house.lidos, page.id, 'comments');
    const text = words('A comment of a visitor');
    const fields = { text, id: 'c1', person: { id: page.remoteId, name: 'Ana Prata', network: 'pages' } };
    const item = { identity: 'comment:c1', publishedAt: house.clock.now, fields };
    const owner = { id: source, brandId: house.lidos, names: {}, said: 'comment' as const };
    const { ids } = await inTransaction(house.services.pool, (db) =>
      storeArrivals(db, owner, { past: [], fresh: [item], again: [] }, house.clock.now),
    );
    const [entry] = await shownEntries(house.services.pool, house.lidos, ids, house.clock.now);
    expect(entry).toMatchObject({ kind: 'comment', state: 'open', text });
  });
});

const greeting = (): Definition => ({
  schema: 1,
  sources: [
    { id: 'source', watch: mentions },
    // A letter can be written to whoever comments there; whoever mentions the brand is passed over.
    { id: 'comments', watch: comments },
  ],
  steps: [
    { id: 'words', verb: 'compose', name: 'answer', text: 'Thank you, {$person.name}!' },
    { id: 'letter', verb: 'message', outlet: null, where: 'item', to: 'person.id', caption: 'answer' },
    { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
    { id: 'like', verb: 'react', outlet: null, where: 'item', to: 'id', reaction: 'like' },
  ],
});

describe('a workflow over mentions', () => {
  it('answers and likes each once; what cannot be done there is passed over', async () => {
    const text = words('Best pools, @ternbaylidos');
    const id = await note('ternbayswimmers', text);
    await house.settle();
    expect((await answersTo(id)).map(({ body }) => body.text)).toEqual(['Thank you, Tern Bay swimmers!']);
    expect((await notes()).find((each) => each.id === id)!.body.likes).toEqual([Number(outlet.remoteId)]);
    expect(await entrySaying(text)).toMatchObject({ state: 'answered', answer: { by: 'workflow' } });
  });

  it('is not set off by another profile of the brand, whose words wait for nobody either', async () => {
    const text = words('A note to @ternbaylidos from behind the counter');
    const id = await note('moatthelido', text);
    await house.settle();
    const [item] = await idsOfItems(text);
    expect(await entrySaying(text)).toBeUndefined();
    expect(await runsAbout(item!)).toEqual([]);
    expect(await answersTo(id)).toEqual([]);
  });

  it('is not set off by another brand of this Playa; a person can answer that', async () => {
    const account = await house.connect('microblog', house.bakehouse);
    const profiles = await house.things<{ handle: string }>('microblog', 'profile');
    const bakery = profiles.find(({ body }) => body.handle === 'marrambakehouse')!;
    await addOutlet(
      house.services.pool,
      { brandId: house.bakehouse, accountId: account },
      { kind: 'microblog', remoteId: String(bakery.id), name: '@marrambakehouse', address: null, feed: null },
      true,
    );
    const text = words('Buns for @ternbaylidos');
    const id = await note('marrambakehouse', text);
    await house.settle();
    const entry = (await entrySaying(text))!;
    expect(entry).toMatchObject({ state: 'open', person: { name: 'Marram Bakehouse' } });
    expect(await runsAbout(entry.itemId)).toEqual([]);
    expect(await answersTo(id)).toEqual([]);
  });

  it('is set off by somebody whom another brand only watches', async () => {
    const profiles = await house.things<{ handle: string }>('microblog', 'profile');
    const buses = profiles.find(({ body }) => body.handle === 'baybuses')!;
    const [account] = await select<{ id: number }>(
      house.services.pool,
      "SELECT id FROM accounts WHERE brand_id = ? AND kind = 'microblog'",
      [house.bakehouse],
    );
    await addOutlet(
      house.services.pool,
      { brandId: house.bakehouse, accountId: account!.id },
      {
        kind: 'microblog',
        remoteId: String(buses.id),
        name: '@baybuses',
        address: null,
        feed: null,
        details: { watchOnly: true },
      },
      true,
    );
    const followed = (
      await watchableOutlets(house.services, house.bakehouse, await outletsOf(house.services.pool, house.bakehouse))
    ).filter(({ name }) => name === '@baybuses');
    // What others write to them is for themselves.
    expect(followed.map(({ what }) => what)).toEqual(['notes']);
    await expect(watchOutlet(house.services, house.bakehouse, followed[0]!.outlet, 'mentions')).rejects.toThrow(
      'This cannot be watched.',
    );
    const id = await note('baybuses', words('Line 2 stops at @ternbaylidos'));
    await house.settle();
    expect(await answersTo(id)).toHaveLength(1);
  });
});
