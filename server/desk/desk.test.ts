// The desk on a real database and a real Lagoon: what people wrote comes to it, and is answered once.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { USUAL_POLICY, type Policy } from '@playa/core/desk/policy.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { change, select } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { deskEntry, noteAnswer, noteAnsweredThere } from '../store/desk.ts';
import { openEntry } from '../store/desk-tending.ts';
import { conversationWith, deskPage, shownEntries, type DeskAsked } from '../store/desk-shown.ts';
import { countDesk } from '../store/desk-counts.ts';
import { addOwnThings } from '../store/own-things.ts';
import { outletsOf } from '../store/outlets.ts';
import { noticesFor } from '../store/notices.ts';
import { addMembership, addUser, policyOf } from '../store/users.ts';
import { keepPolicy, tryPolicy } from './policy.ts';
import { hastenDesk } from '../store/watch-times.ts';
import { leaveAlone } from '../store/contacts.ts';
import { contactBy } from '../store/contacts-shown.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { live, pause } from '../testing/workflow.ts';
import { lookNow } from '../watch/look.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { decide } from '../workflows/decide.ts';
import { CALL_BACK, callBack, DeskTrouble, sendOff } from './send.ts';
import { deskSources, listenAt } from './sources.ts';
import { tendDesk } from './tend.ts';

let house: House;
let mo: Services;
let ana: number;
let reviews: number;
let comments: number;
let messages: number;
let count = 0;

beforeAll(async () => {
  house = await openHouse();
  await house.connect('listings');
  await house.connect('photos');
  const { pool } = house.services;
  ana = await addUser(pool, { email: 'ana@ternbay.example', name: 'Ana', passwordHash: 'x' });
  await addMembership(pool, ana, house.lidos);
  mo = { ...house.services, actor: { kind: 'person', userId: house.mo } };
  const listing = await house.outlet('Tern Bay Lido');
  reviews = await watchOutlet(house.services, house.lidos, listing.id, 'reviews');
  const photos = await house.outlet('@ternbaylidos');
  comments = await watchOutlet(house.services, house.lidos, photos.id, 'comments');
  messages = await watchOutlet(house.services, house.lidos, photos.id, 'messages');
  for (const each of [reviews, comments, messages]) await lookNow(house.services, each);
});
afterAll(() => house?.close());
beforeEach(() => {
  house.clock.now = testNow();
});

const asked: DeskAsked = { shelf: 'open', order: 'oldest' };
const page = (changes: Partial<DeskAsked> = {}, most = 200) =>
  deskPage(
    house.services.pool,
    house.lidos,
    { ...asked, ...changes },
    { after: undefined, most, now: house.clock.now },
  );
const entry = async (itemId: number) =>
  (await shownEntries(house.services.pool, house.lidos, [itemId], house.clock.now))[0]!;
/** The item of what was said in these words. */
async function itemSaying(text: string): Promise<number> {
  const [row] = await select<{ id: number }>(
    house.services.pool,
    "SELECT id FROM items WHERE brand_id = ? AND JSON_VALUE(fields, '$.text') = ? AND JSON_VALUE(fields, '$.answer.text') IS NULL",
    [house.lidos, text],
  );
  return row!.id;
}
const words = (about: string) => `${about}, number ${++count}.`;
async function review(stars = 5, text = words('Lovely'), by = 'Ana Prata') {
  const id = await house.play({ do: 'review', location: 'Tern Bay Lido', by, stars, text });
  await lookNow(house.services, reviews);
  await house.settle();
  return { id, text, item: await itemSaying(text) };
}
async function message(text = words('Hello'), by = 'Tom Ridley') {
  const id = await house.play({ do: 'message', profile: 'ternbaylidos', by, text });
  await lookNow(house.services, messages);
  await house.settle();
  return { id, text, item: await itemSaying(text) };
}
const replyTo = async (id: number) =>
  (await house.things<{ reply: { text: string } | null }>('listings', 'review')).find((each) => each.id === id)?.body
    .reply?.text ?? null;
const sentMessages = async () =>
  (await house.things<{ text: string; byUs?: boolean }>('photos', 'message')).map(({ body }) => body.text);
const send = (item: number, text: string, held: { runId: number; key: string } | null = null) =>
  sendOff(mo, house.lidos, house.mo, [{ itemId: item, text, held }]);
async function later(milliseconds: number) {
  house.clock.now += milliseconds;
  await house.settle();
}
const holding = (): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch: reviews }],
  steps: [
    { id: 'words', verb: 'compose', name: 'answer', text: 'Thank you, {$person.name}!' },
    { id: 'hold', verb: 'hold', question: 'Good?', text: 'answer' },
    { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
  ],
});

describe('what people wrote', () => {
  it('comes to the desk with who said it, where, and how it sounds', async () => {
    const { item, text } = await review(
      2,
      words('The changing rooms were disgusting and cold, a terrible visit'),
      'Tom Ridley',
    );
    expect(await entry(item)).toMatchObject({
      kind: 'review',
      text,
      stars: 2,
      state: 'open',
      tone: 'cross',
      language: 'en',
      form: 'sentences',
      question: false,
      person: { name: 'Tom Ridley', network: 'listings' },
      outletId: (await house.outlet('Tern Bay Lido')).id,
      answer: null,
      held: null,
    });
    expect((await page({ words: 'DISGUSTING' })).map(({ itemId }) => itemId)).toEqual([item]);
    expect((await page({ words: 'ridley', stars: 2 })).map(({ itemId }) => itemId)).toEqual([item]);
    expect(await page({ words: '100%_' })).toEqual([]);
  });

  it('is one person at one network, with everything they wrote', async () => {
    const first = await message(words('Is it open'), 'Bea Lund');
    const second = await message(words('And on Sunday'), 'Bea Lund');
    const { contactId } = await entry(first.item);
    expect((await entry(second.item)).contactId).toBe(contactId);
    const conversation = await conversationWith(house.services.pool, house.lidos, contactId!, {
      now: house.clock.now,
      most: 50,
    });
    expect(conversation.map(({ text }) => text).slice(-2)).toEqual([first.text, second.text]);
    expect(await contactBy(house.services.pool, house.lidos, contactId!)).toMatchObject({ name: 'Bea Lund' });
  });

  it('from before Playa looked waits only while it is new, and not where it is answered', async () => {
    const rows = await select<{ state: string; days: number; answered: number }>(
      house.services.pool,
      `SELECT d.state, TIMESTAMPDIFF(DAY, d.said_at, ?) AS days, JSON_VALUE(i.fields, '$.answered') = 'true' OR JSON_VALUE(i.fields, '$.answered') = '1' AS answered
       FROM desk_entries d JOIN items i ON i.id = d.item_id WHERE i.past = 1`,
      [new Date(house.clock.now)],
    );
    expect(rows.length).toBeGreaterThan(0);
    for (const row of rows) expect(row.state).toBe(Number(row.answered) ? 'answered' : row.days >= 14 ? 'old' : 'open');
  });

  it('under a post of Playa’s own is no post of Playa’s own, and starts workflows', async () => {
    const workflow = await live(house, {
      schema: 1,
      sources: [{ id: 'source', watch: comments }],
      steps: [{ id: 'tell', verb: 'notify', to: [], text: 'A comment' }],
    });
    const comment = async (text: string) => {
      await house.play({ do: 'comment', profile: 'ternbaylidos', by: 'Nell Harker', text });
      await lookNow(house.services, comments);
      await house.settle();
      return itemSaying(text);
    };
    const before = await comment(words('On somebody’s photo'));
    // Playa published what it stands under.
    const { link } = await entry(before);
    const { pool } = house.services;
    const outletId = (await house.outlet('@ternbaylidos')).id;
    const own = { brandId: house.lidos, workflowId: workflow, outletId, remoteId: 'p1', url: link, wrote: null };
    await addOwnThings(pool, [own], house.clock.now);
    const item = await comment(words('On our photo'));
    expect(await entry(item)).toMatchObject({ state: 'open', kind: 'comment' });
    const runs = await select(pool, "SELECT id FROM runs WHERE item_id = ? AND status = 'done'", [item]);
    expect(runs).toHaveLength(1);
    await pause(house, workflow);
  });

  it('comes in pages that neither repeat nor leave out, in every order', async () => {
    for (let each = 0; each < 5; each++) await review((each % 5) + 1);
    for (const order of ['oldest', 'newest', 'atRisk'] as const) {
      const all = await page({ order });
      const seen: number[] = [];
      for (let after: { risk: number; at: number; id: number } | undefined; ;) {
        const some = await deskPage(
          house.services.pool,
          house.lidos,
          { ...asked, order },
          { after, most: 2, now: house.clock.now },
        );
        seen.push(...some.map(({ itemId }) => itemId));
        const last = some.at(-1);
        if (!last) break;
        after = { risk: last.risk, at: last.saidAt, id: last.itemId };
      }
      expect(seen).toEqual(all.map(({ itemId }) => itemId));
      expect(new Set(seen).size).toBe(seen.length);
    }
    const risk = (await page({ order: 'atRisk' })).map((each) => each.risk);
    expect(risk).toEqual([...risk].sort());
  });

  it('is taken off when it is deleted there, and says so when an answer comes too late', async () => {
    const { id, item } = await review();
    await send(item, 'Thank you!');
    await house.play({ do: 'delete-review', id });
    await later(CALL_BACK);
    expect((await entry(item)).state).toBe('gone');
    expect(await send(item, 'Thank you!')).toEqual([{ itemId: item, why: 'What this answers has been deleted.' }]);
  });
});

describe('an answer from the desk', () => {
  it('waits while it can be called back, and goes once', async () => {
    const { id, item } = await review();
    expect(await send(item, ' Thank you from Mo. ')).toEqual([]);
    expect((await entry(item)).sending).toMatchObject({ text: 'Thank you from Mo.', userId: house.mo });
    expect(await send(item, 'Twice')).toEqual([{ itemId: item, why: 'An answer to this is on its way already.' }]);
    await later(CALL_BACK - 1);
    expect(await replyTo(id)).toBeNull();
    await later(1);
    expect(await replyTo(id)).toBe('Thank you from Mo.');
    expect(await entry(item)).toMatchObject({
      state: 'answered',
      answer: { by: 'user', user: house.mo, text: 'Thank you from Mo.' },
      draft: null,
      sending: null,
    });
    const written = (await house.things<{ replies?: { text: string }[] }>('listings', 'review')).find(
      (each) => each.id === id,
    );
    expect(written?.body.replies).toHaveLength(1);
  });

  it('that is called back does not go, and its words are kept', async () => {
    const { id, item } = await review();
    await send(item, 'Too quick');
    expect(await callBack(mo, house.lidos, [item])).toEqual([item]);
    await later(10 * CALL_BACK);
    expect(await replyTo(id)).toBeNull();
    expect(await entry(item)).toMatchObject({ state: 'open', draft: 'Too quick', sending: null });
    // Once it is gone there is nothing to call back.
    await send(item, 'On purpose');
    await later(CALL_BACK);
    expect(await callBack(mo, house.lidos, [item])).toEqual([]);
    expect(await replyTo(id)).toBe('On purpose');
  });

  it('is sent by one of several workers only', async () => {
    const { id, item } = await review();
    await send(item, 'Once only');
    house.clock.now += CALL_BACK;
    await Promise.all([house.settle(), house.settle(), house.settle()]);
    await house.settle();
    const written = (await house.things<{ replies?: { text: string }[] }>('listings', 'review')).find(
      (each) => each.id === id,
    );
    expect(written?.body.replies?.map(({ text }) => text)).toEqual(['Once only']);
  });

  it('goes on with what a workflow holds, in these words, and counts as a person’s', async () => {
    const workflow = await live(house, holding());
    const { id, item } = await review();
    const { held } = await entry(item);
    expect(held).toMatchObject({ text: 'Thank you, Ana Prata!', says: 'Good?' });
    await send(item, 'Thank you, Ana. See you in spring.', { runId: held!.runId, key: held!.key! });
    await later(CALL_BACK);
    expect(await replyTo(id)).toBe('Thank you, Ana. See you in spring.');
    expect(await entry(item)).toMatchObject({
      state: 'answered',
      answer: { by: 'user', user: house.mo },
      held: null,
    });
    await pause(house, workflow);
  });

  it('says so where somebody was faster with what was held, and keeps the words', async () => {
    const workflow = await live(house, holding());
    const { id, item } = await review();
    const { held } = await entry(item);
    await send(item, 'From the desk', { runId: held!.runId, key: held!.key! });
    await decide(mo, house.lidos, held!.runId, held!.key!, { do: 'end' });
    await later(CALL_BACK);
    expect(await replyTo(id)).toBeNull();
    expect(await entry(item)).toMatchObject({
      state: 'open',
      draft: 'From the desk',
      trouble: 'This no longer waits for you; somebody may have been faster.',
    });
    await pause(house, workflow);
  });

  it('is refused when it was answered, or changed, after somebody looked; and kept back in its ten seconds', async () => {
    const answering = (item: number, text: string, seen: { text: string; answered: boolean }) =>
      sendOff(mo, house.lidos, house.mo, [{ itemId: item, text, held: null, seen }]);
    const first = await message(words('Are you there'), 'Nell Harker');
    await send(first.item, 'Yes.');
    await later(CALL_BACK);
    const looked = { text: first.text, answered: false };
    expect(await answering(first.item, 'Yes!', looked)).toEqual([
      { itemId: first.item, why: 'Somebody has answered this meanwhile.' },
    ]);
    expect(await answering(first.item, 'Yes!', { text: 'Other words', answered: true })).toMatchObject([
      { why: 'They have changed what they wrote. Read it again before you answer.' },
    ]);
    const second = await message(words('And now'), 'Nell Harker');
    await answering(second.item, 'Too late', { text: second.text, answered: false });
    house.clock.now += 5000;
    await noteAnsweredThere(house.services.pool, second.item, house.clock.now);
    await later(CALL_BACK);
    expect(await sentMessages()).not.toContain('Too late');
    expect(await entry(second.item)).toMatchObject({
      draft: 'Too late',
      trouble: 'Somebody has answered this meanwhile.',
    });
    // Also where the network says that it was before the answer was sent off, and Playa only sees it now.
    const third = await message(words('And then'), 'Nell Harker');
    const before = house.clock.now - 60_000;
    await answering(third.item, 'Too late as well', { text: third.text, answered: false });
    await noteAnsweredThere(house.services.pool, third.item, before);
    await later(CALL_BACK);
    expect(await sentMessages()).not.toContain('Too late as well');
    expect(await entry(third.item)).toMatchObject({ trouble: 'Somebody has answered this meanwhile.' });
  });

  it.each([
    ['is being sent', "e.status = 'sending', e.lease = 'another worker'"],
    ['may have arrived', "e.status = 'planned', e.unsure = 1"],
  ])('does not go beside a workflow’s that %s: its words wait until that is known', async (_, standing) => {
    const { pool } = house.services;
    const workflow = await live(house, {
      ...holding(),
      steps: holding().steps.filter(({ verb }) => verb !== 'hold'),
    });
    const text = words('Lovely');
    const id = await house.play({ do: 'review', location: 'Tern Bay Lido', by: 'Ana Prata', stars: 5, text });
    await lookNow(house.services, reviews);
    await house.fault('listings', { kind: 'error', status: 503 }, 1000);
    await house.settle();
    const item = await itemSaying(text);
    // A worker has it, and its claim lasts longer than the moment in which the answer can be called back.
    const [{ effect, run }] = (await select<{ effect: number; run: number }>(
      pool,
      "SELECT e.id AS effect, r.id AS run FROM effects e JOIN runs r ON r.id = e.run_id WHERE r.item_id = ? AND e.action = 'reply'",
      [item],
    )) as [{ effect: number; run: number }];
    await change(pool, `UPDATE effects e SET ${standing}, e.due_at = ? WHERE e.id = ?`, [
      new Date(house.clock.now + CALL_BACK + 60_000),
      effect,
    ]);
    await send(item, 'From the desk');
    await later(CALL_BACK);
    expect(await entry(item)).toMatchObject({
      state: 'open',
      draft: 'From the desk',
      trouble:
        'An answer to this is on its way, or may have arrived already. Look again in a minute before you send yours.',
    });
    expect((await deskEntry(pool, house.lidos, item))!.answerItem).toBeNull();
    expect(await select(pool, 'SELECT status FROM runs WHERE id = ?', [run])).toMatchObject([{ status: 'waiting' }]);
    await house.behave();
    await change(pool, "UPDATE effects SET status = 'planned', unsure = 0, lease = NULL, due_at = ? WHERE id = ?", [
      new Date(house.clock.now),
      effect,
    ]);
    await house.settle();
    expect(await replyTo(id)).toBe('Thank you, Ana Prata!');
    expect(await entry(item)).toMatchObject({ state: 'answered' });
    await pause(house, workflow);
  });

  it('that Playa stumbles over keeps its words, and stops no other', async () => {
    const workflow = await live(house, holding());
    const bad = await review();
    const { held } = await entry(bad.item);
    await pause(house, workflow);
    // Its version is not there any more: the run cannot be taken further.
    await change(house.services.pool, 'UPDATE runs SET version = 999 WHERE id = ?', [held!.runId]);
    const good = await review();
    await send(bad.item, 'Stumbles', { runId: held!.runId, key: held!.key! });
    await send(good.item, 'Goes');
    await later(CALL_BACK);
    expect(await replyTo(good.id)).toBe('Goes');
    expect(await replyTo(bad.id)).toBeNull();
    expect(await entry(bad.item)).toMatchObject({
      draft: 'Stumbles',
      sending: null,
      trouble: 'Playa itself stumbled over this answer. Its words are kept; send it again.',
    });
    await change(house.services.pool, "UPDATE runs SET status = 'cancelled' WHERE id = ?", [held!.runId]);
  });

  it('ends what workflows were about to answer to the same', async () => {
    const workflow = await live(house, {
      ...holding(),
      steps: [
        { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 3600 } },
        ...holding().steps.filter(({ id }) => id !== 'hold'),
      ],
    });
    const { id, item } = await review();
    await send(item, 'By hand, first');
    await later(CALL_BACK);
    await later(3_700_000);
    expect(await replyTo(id)).toBe('By hand, first');
    const runs = await select<{ status: string }>(
      house.services.pool,
      'SELECT status FROM runs WHERE item_id = ? AND workflow_id = ?',
      [item, workflow],
    );
    expect(runs).toEqual([{ status: 'cancelled' }]);
    await pause(house, workflow);
  });

  it('is held when it was answered there meanwhile, and goes over it only when somebody says so', async () => {
    const { id, item } = await review();
    await send(item, 'From the desk');
    await house.play({ do: 'answer-review', id, text: 'At the counter.' });
    await later(CALL_BACK);
    expect(await replyTo(id)).toBe('At the counter.');
    const { held } = await entry(item);
    expect(held).toMatchObject({ trouble: 'outdated', says: 'Answered meanwhile: “At the counter.”' });
    await send(item, 'From the desk, after all', { runId: held!.runId, key: held!.key! });
    await later(CALL_BACK);
    expect(await replyTo(id)).toBe('From the desk, after all');
  });

  it('of a comment or a message is known here when it was given at the network', async () => {
    const text = words('Is there soup');
    const comment = await house.play({ do: 'comment', profile: 'ternbaylidos', by: 'Nell Harker', text });
    await lookNow(house.services, comments);
    const first = await message(words('Do you sell caps'), 'Bea Lund');
    const second = await message(words('And goggles'), 'Bea Lund');
    const other = await message(words('Still unanswered'), 'Priya Marsh');
    expect((await entry(await itemSaying(text))).state).toBe('open');
    await house.play({ do: 'answer-comment', at: 'photos', id: comment, text: 'Leek and potato.' });
    await house.play({ do: 'answer-message', id: second.id, text: 'Both, by the till.' });
    for (const each of [comments, messages]) await lookNow(house.services, each);
    for (const item of [await itemSaying(text), first.item, second.item])
      expect(await entry(item)).toMatchObject({ state: 'answered', answer: { by: 'there' } });
    expect((await entry(other.item)).state).toBe('open');
  });

  it('to one comment is none to the comment that it stands under', async () => {
    const [above, below] = [words('When do you open'), words('And when do you close')];
    await house.play({ do: 'comment', profile: 'ternbaylidos', by: 'Tom Ridley', text: above });
    await house.play({ do: 'comment', profile: 'ternbaylidos', by: 'Nell Harker', text: below, under: 'Tom Ridley' });
    await lookNow(house.services, comments);
    await send(await itemSaying(below), 'At dusk.');
    await later(CALL_BACK);
    await lookNow(house.services, comments);
    expect(await entry(await itemSaying(below))).toMatchObject({ state: 'answered', answer: { by: 'user' } });
    expect((await entry(await itemSaying(above))).state).toBe('open');
    await send(await itemSaying(above), 'At seven.');
    await later(CALL_BACK);
    expect(await entry(await itemSaying(above))).toMatchObject({ state: 'answered', answer: { by: 'user' } });
  });

  it('is whose it was, also when the network shows it before it is written down here', async () => {
    const { item } = await message(words('Which door'), 'Ilse Barrow');
    await send(item, 'The blue one.');
    await later(CALL_BACK);
    await lookNow(house.services, messages);
    expect(await entry(item)).toMatchObject({ state: 'answered', answer: { by: 'user' } });
    const raced = await review();
    const { outletId } = await entry(raced.item);
    const at = house.clock.now;
    await noteAnsweredThere(house.services.pool, raced.item, at - 5);
    const given = { brandId: house.lidos, outletId, itemId: raced.item, act: 'reply' as const, to: 'x' };
    await noteAnswer(house.services.pool, { ...given, text: 'Thank you.', by: 'workflow', at });
    expect(await entry(raced.item)).toMatchObject({ answer: { by: 'workflow' } });
    // An answer of long ago at the network stays theirs.
    const old = await review();
    await noteAnsweredThere(house.services.pool, old.item, at - 3_600_000);
    await noteAnswer(house.services.pool, { ...given, itemId: old.item, text: 'Thanks.', by: 'workflow', at });
    expect(await entry(old.item)).toMatchObject({ answer: { by: 'there' } });
  });

  it('to a message answers everything that this person had written before', async () => {
    const first = await message(words('Do you have lockers'), 'Jonas Fell');
    const second = await message(words('Or a shelf'), 'Jonas Fell');
    const other = await message(words('Unanswered'), 'Priya Marsh');
    await send(second.item, 'Both, at the gate.');
    await later(CALL_BACK);
    expect((await sentMessages()).filter((text) => text === 'Both, at the gate.')).toHaveLength(1);
    expect((await entry(first.item)).state).toBe('answered');
    expect((await entry(second.item)).state).toBe('answered');
    expect((await entry(other.item)).state).toBe('open');
  });

  it('is refused without words, when it is too long, and where it cannot be', async () => {
    const { item } = await review();
    expect(await send(item, '  ')).toEqual([{ itemId: item, why: 'Write some words first.' }]);
    expect((await send(item, 'x'.repeat(20_000)))[0]?.why).toMatch(/too long|characters|long/i);
    expect(await send(999_999_999, 'Hello')).toEqual([{ itemId: 999_999_999, why: 'This is no longer here.' }]);
    const bakehouse = await sendOff(mo, house.bakehouse, house.mo, [{ itemId: item, text: 'Not yours', held: null }]);
    expect(bakehouse).toEqual([{ itemId: item, why: 'This is no longer here.' }]);
  });

  it('fifty at once go in one action, each once', async () => {
    const all: { id: number; text: string; item: number }[] = [];
    for (let each = 0; each < 50; each++) {
      const text = words('Fifty');
      const id = await house.play({ do: 'review', location: 'Tern Bay Lido', by: 'Ana Prata', stars: 5, text });
      all.push({ id, text, item: 0 });
    }
    await lookNow(house.services, reviews);
    for (const each of all) each.item = await itemSaying(each.text);
    const answers = all.map(({ item }) => ({ itemId: item, text: `Thank you ${item}`, held: null }));
    expect(await sendOff(mo, house.lidos, house.mo, answers)).toEqual([]);
    await later(CALL_BACK);
    const written = await house.things<{ replies?: { text: string }[] }>('listings', 'review');
    for (const { id, item } of all)
      expect(written.find((each) => each.id === id)?.body.replies?.map(({ text }) => text)).toEqual([
        `Thank you ${item}`,
      ]);
  });
});

describe('the desk', () => {
  it('lets go what needs no answer, takes it up again, and puts it off until its moment', async () => {
    const { item } = await review();
    const before = await countDesk(house.services.pool, house.lidos, house.clock.now);
    expect(await tendDesk(mo, house.lidos, [item], { do: 'snooze', until: house.clock.now + 3_600_000 })).toEqual([
      item,
    ]);
    const put = await countDesk(house.services.pool, house.lidos, house.clock.now);
    expect([put.open, put.later]).toEqual([before.open - 1, before.later + 1]);
    expect((await page({ shelf: 'later' })).map(({ itemId }) => itemId)).toContain(item);
    house.clock.now += 3_600_001;
    expect((await page()).map(({ itemId }) => itemId)).toContain(item);
    await tendDesk(mo, house.lidos, [item], { do: 'ignore' });
    expect((await page()).map(({ itemId }) => itemId)).not.toContain(item);
    expect((await page({ shelf: 'left' })).map(({ itemId }) => itemId)).toContain(item);
    await tendDesk(mo, house.lidos, [item], { do: 'reopen' });
    expect((await entry(item)).state).toBe('open');
    const past = tendDesk(mo, house.lidos, [item], { do: 'snooze', until: house.clock.now - 1 });
    await expect(past).rejects.toThrow(DeskTrouble);
    const stranger = tendDesk(mo, house.lidos, [item], { do: 'assign', to: 999_999 });
    await expect(stranger).rejects.toThrow('They do not work for this brand.');
    await tendDesk(mo, house.lidos, [item], { do: 'assign', to: ana });
    expect((await page({ assignedTo: ana })).map(({ itemId }) => itemId)).toEqual([item]);
    expect(await tendDesk(mo, house.bakehouse, [item], { do: 'ignore' })).toEqual([]);
  });

  it('that leaves something without an answer ends what was held for it', async () => {
    const workflow = await live(house, holding());
    const { id, item } = await review();
    expect((await entry(item)).held).not.toBeNull();
    await tendDesk(mo, house.lidos, [item], { do: 'ignore' });
    await later(60_000);
    expect((await entry(item)).held).toBeNull();
    expect(await replyTo(id)).toBeNull();
    await pause(house, workflow);
  });

  it('shows who has something open, until they are gone for a while', async () => {
    const { item } = await review();
    const { pool } = house.services;
    const now = house.clock.now;
    const open = (userId: number, at: number, over = false) =>
      openEntry(pool, house.lidos, item, { userId, now: at, until: at + 60_000, over });
    expect(await open(house.mo, now)).toBe(house.mo);
    expect(await open(ana, now + 1000)).toBe(house.mo);
    expect((await entry(item)).openedBy).toBe(house.mo);
    expect(await open(ana, now + 1000, true)).toBe(ana);
    expect(await open(house.mo, now + 62_000)).toBe(house.mo);
    house.clock.now = now + 200_000;
    expect((await entry(item)).openedBy).toBeNull();
  });

  it('listens where it is told to, whether or not a workflow does', async () => {
    const listing = await house.outlet('Gannet Point Pool').catch(() => house.outlet('Gannet Point'));
    const found = (
      await deskSources(house.services, house.lidos, await outletsOf(house.services.pool, house.lidos))
    ).filter(({ outletId }) => outletId === listing.id);
    expect(found).toMatchObject([{ what: 'reviews', kind: 'review', listens: false, used: false }]);
    await listenAt(house.services, house.lidos, { outletId: listing.id, what: 'reviews', listens: true });
    const [watch] = await select<{ id: number; due_at: Date | null; desk: number }>(
      house.services.pool,
      'SELECT * FROM watches WHERE brand_id = ? AND desk = 1',
      [house.lidos],
    );
    expect(watch?.due_at).not.toBeNull();
    await lookNow(house.services, watch!.id);
    const text = words('Cold at Gannet Point');
    await house.play({ do: 'review', location: listing.name, by: 'Ana Prata', stars: 4, text });
    await lookNow(house.services, watch!.id);
    expect(await entry(await itemSaying(text))).toMatchObject({ outletId: listing.id, state: 'open' });
    // After a look at which nothing had changed it is still looked at.
    const [after] = await select<{ due_at: Date | null }>(
      house.services.pool,
      'SELECT due_at FROM watches WHERE id = ?',
      [watch!.id],
    );
    expect(after?.due_at).not.toBeNull();
    // Whoever has the desk open has it looked at sooner, and no more often than it may be.
    expect(await hastenDesk(house.services.pool, house.lidos, house.clock.now + 600_000)).toBeGreaterThan(0);
    expect(await hastenDesk(house.services.pool, house.bakehouse, house.clock.now + 600_000)).toBe(0);
    await listenAt(house.services, house.lidos, { outletId: listing.id, what: 'reviews', listens: false });
    const sources = await deskSources(house.services, house.lidos, await outletsOf(house.services.pool, house.lidos));
    expect(sources.find(({ outletId }) => outletId === listing.id)?.listens).toBe(false);
  });
});

describe('somebody who asks to be left alone', () => {
  it('gets nothing more from any workflow, by a word or by a colleague', async () => {
    const workflow = await live(house, {
      schema: 1,
      sources: [{ id: 'source', watch: messages }],
      steps: [
        { id: 'words', verb: 'compose', name: 'answer', text: 'Dear {$person.name}, thank you' },
        { id: 'send', verb: 'message', outlet: null, where: 'item', to: 'person.id', caption: 'answer' },
      ],
    });
    const before = await message(words('Hello'), 'Sefa Quill');
    expect((await sentMessages()).filter((text) => text === 'Dear Sefa Quill, thank you')).toHaveLength(1);
    await message('STOP!', 'Sefa Quill');
    const { contactId } = await entry(before.item);
    expect((await contactBy(house.services.pool, house.lidos, contactId!))?.leftAlone).toBe('They wrote “STOP!”.');
    await message(words('Hello again'), 'Sefa Quill');
    expect((await sentMessages()).filter((text) => text === 'Dear Sefa Quill, thank you')).toHaveLength(1);
    // Somebody who merely uses the word is written to.
    await message(words('Does the bus stop here'), 'Wanda Oake');
    expect((await sentMessages()).filter((text) => text === 'Dear Wanda Oake, thank you')).toHaveLength(1);
    // A colleague may write to them by hand, and take it back.
    const again = await message(words('Please answer after all'), 'Sefa Quill');
    await send(again.item, 'Of course, Sefa.');
    await later(CALL_BACK);
    expect(await sentMessages()).toContain('Of course, Sefa.');
    await leaveAlone(house.services.pool, house.lidos, contactId!, null, house.clock.now);
    await message(words('Hello at last'), 'Sefa Quill');
    expect((await sentMessages()).filter((text) => text === 'Dear Sefa Quill, thank you')).toHaveLength(2);
    await pause(house, workflow);
  });

  it('gets no public answer either', async () => {
    const workflow = await live(house, { ...holding(), steps: holding().steps.filter(({ id }) => id !== 'hold') });
    const first = await review(5, words('One'), 'Ilse Barrow');
    expect(await replyTo(first.id)).toBe('Thank you, Ilse Barrow!');
    const { contactId } = await entry(first.item);
    await leaveAlone(house.services.pool, house.lidos, contactId!, 'She rang.', house.clock.now);
    const second = await review(5, words('Two'), 'Ilse Barrow');
    expect(await replyTo(second.id)).toBeNull();
    expect(await deskEntry(house.services.pool, house.lidos, second.item)).toMatchObject({ state: 'open' });
    await change(house.services.pool, 'UPDATE contacts SET left_alone_at = NULL WHERE id = ?', [contactId]);
    await pause(house, workflow);
  });
});

describe('who may answer alone', () => {
  const answering = (): Definition => ({ ...holding(), steps: holding().steps.filter(({ id }) => id !== 'hold') });
  it('is what is usual until somebody says otherwise: few stars wait, the others are answered', async () => {
    const workflow = await live(house, answering());
    const glad = await review(5);
    const cross = await review(2);
    expect(await replyTo(glad.id)).toBe('Thank you, Ana Prata!');
    expect(await replyTo(cross.id)).toBeNull();
    const { held } = await entry(cross.item);
    expect(held).toMatchObject({ text: 'Thank you, Ana Prata!', says: 'Held: 2 stars', trouble: 'asks' });
    await send(cross.item, 'We are sorry, Ana.', { runId: held!.runId, key: held!.key! });
    await later(CALL_BACK);
    expect(await replyTo(cross.id)).toBe('We are sorry, Ana.');
    await pause(house, workflow);
  });

  it('is as the brand says: at one place otherwise than at others, and copied to a colleague', async () => {
    const workflow = await live(house, answering());
    const { pool } = house.services;
    const here = (await house.outlet('Tern Bay Lido')).id;
    const rows: Policy['rows'] = [
      { id: 'a', words: 'refund', does: 'ignore' },
      { id: 'b', outlet: here + 1, does: 'hold' },
      { id: 'c', outlet: here, mostStars: 5, does: 'post' },
    ];
    await keepPolicy(mo, house.lidos, { rows, otherwise: 'hold', copyTo: [ana] });
    const alone = await review(1);
    const never = await review(5, words('I want a refnud'));
    expect(await replyTo(alone.id)).toBe('Thank you, Ana Prata!');
    expect(await replyTo(never.id)).toBeNull();
    expect((await entry(never.item)).held).toBeNull();
    const copies = await noticesFor(pool, house.lidos, ana, 10);
    expect(copies.map(({ text }) => text).filter((text) => text !== 'A comment')).toEqual([
      `Ana Prata, 1 of 5 stars, “${alone.text}”. We answered: “Thank you, Ana Prata!”`,
    ]);
    await change(pool, 'UPDATE brands SET policy = NULL WHERE id = ?', [house.lidos]);
    await keepPolicy(mo, house.lidos, USUAL_POLICY);
    await pause(house, workflow);
  });

  it('is tried on what people wrote, against what holds now, and keeps nothing', async () => {
    const { pool } = house.services;
    await review(2, words('Tried'));
    const strict: Policy = { rows: [], otherwise: 'hold', copyTo: [] };
    const tried = await tryPolicy(pool, house.lidos, strict, house.clock.now);
    expect(tried.length).toBeGreaterThan(20);
    expect(new Set(tried.map(({ does }) => does))).toEqual(new Set(['hold']));
    for (const { stars, was } of tried) expect(was).toBe(stars !== null && stars <= 3 ? 'hold' : 'post');
    expect(await policyOf(pool, house.lidos)).toEqual(USUAL_POLICY);
    expect(await tryPolicy(pool, house.bakehouse, strict, house.clock.now)).toEqual([]);
    // One that cannot be read lets nothing go alone.
    await change(pool, `UPDATE brands SET policy = '{"rows": 7}' WHERE id = ?`, [house.lidos]);
    expect((await policyOf(pool, house.lidos))?.otherwise).toBe('hold');
    await keepPolicy(mo, house.lidos, USUAL_POLICY);
  });
});
