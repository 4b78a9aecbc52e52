// Posts by hand on a real database and a real Lagoon: what people decide is what goes out, once.
import { DateTime } from 'luxon';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { newPost, type WrittenPost } from '@playa/core/posts/written.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { stepsSending } from '@playa/core/workflow/uses.ts';
import { change as query, select } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { markChanged } from '../store/run-changes.ts';
import { addMembership, addUser } from '../store/users.ts';
import { plannedPosts } from '../store/planned.ts';
import { writtenPostBy, type PostState } from '../store/written-posts.ts';
import { standingOf } from '../store/written-standing.ts';
import { workflowsOf } from '../store/workflows.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { worldOf } from '../world/world.ts';
import { cancelRun } from '../workflows/run-actions.ts';
import { movePost } from '../workflows/move-post.ts';
import { writtenInCalendar } from './in-calendar.ts';
import { postsUsing } from './uses.ts';
import { approvePost, askAgain, changePost, deletePost, makePost, moveWritten, setApproval } from './keep-post.ts';
import { PostTrouble } from './check-post.ts';

const ZONE = 'Europe/Lisbon';
const HOUR = 3_600_000;
let house: House;
let page: number;
let other: number;
let mo: Services;
let ana: Services;
beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  page = await house.page();
  other = await house.page('Gannet Point pool');
  const { pool } = house.services;
  const colleague = await addUser(pool, { email: 'ana@ternbay.example', name: 'Ana', passwordHash: 'x' });
  await addMembership(pool, colleague, house.lidos);
  mo = { ...house.services, actor: { kind: 'person', userId: house.mo } };
  ana = { ...house.services, actor: { kind: 'person', userId: colleague } };
});
afterAll(() => house?.close());
beforeEach(async () => {
  house.clock.now = Math.ceil(testNow() / 60_000) * 60_000;
  await setApproval(mo, house.lidos, 'nobody');
});

const wall = (at: number) => DateTime.fromMillis(at, { zone: ZONE }).toFormat("yyyy-MM-dd'T'HH:mm");
function saying(text: string, inHours: number | null = 1, outlets = [page]): WrittenPost {
  const post = newPost(outlets, inHours === null ? null : wall(house.clock.now + inHours * HOUR));
  return { ...post, compose: { ...post.compose, text } };
}
let count = 0;
/** Words that no other test says. */
const words = (about: string) => `${about} ${++count}.${Math.floor(house.clock.now / 1000)}`;
const write = (post: WrittenPost, state: PostState = 'ready', who = mo) => makePost(who, house.lidos, { state, post });
const kept = async (id: number) => (await writtenPostBy(house.services.pool, house.lidos, id))!;
const change = async (id: number, post: WrittenPost, state: PostState = 'ready', who = mo) =>
  changePost(who, house.lidos, id, (await kept(id)).revision, { state, post });
const said = async (text: string, slug?: string) =>
  (await house.posts(slug)).filter((post) => post.text === text).length;
async function later(hours: number) {
  house.clock.now += hours * HOUR;
  await house.settle();
}
const plannedFor = async (id: number) => {
  const { itemId } = await kept(id);
  const all = await plannedPosts(house.services.pool, house.lidos, { from: null, to: null, paused: true }, 500);
  return all.filter((post) => post.itemId === itemId && post.effectId !== null);
};
const inCalendar = async () => {
  const world = await worldOf(house.services.pool, house.lidos, house.services.connectors);
  const now = house.clock.now;
  return writtenInCalendar(house.services.pool, house.lidos, world, {
    from: now - 48 * HOUR,
    to: now + 500 * HOUR,
    now,
    most: 500,
  });
};
const stage = async (id: number) => {
  const { chips, shelf } = await inCalendar();
  return chips.find((chip) => chip.post === id)?.stage ?? shelf.find((each) => each.post === id)?.stage ?? null;
};
const why = (work: Promise<unknown>) =>
  work.then(
    () => 'done',
    (error: unknown) => (error instanceof PostTrouble ? error.why : String(error)),
  );

describe('a post by hand', () => {
  it('waits as an idea and a draft, and goes out once, at its time, when it is ready', async () => {
    const text = words('Cold water');
    const id = await write(saying(text), 'idea');
    expect(await stage(id)).toBe('idea');
    await change(id, saying(text), 'draft');
    await later(0);
    expect(await plannedFor(id)).toEqual([]);
    await change(id, saying(text));
    await house.settle();
    expect((await plannedFor(id)).map(({ at, outletId }) => [at - house.clock.now, outletId])).toEqual([[HOUR, page]]);
    expect(await stage(id)).toBeNull();
    await later(0.9);
    expect(await said(text)).toBe(0);
    await later(0.2);
    expect(await said(text)).toBe(1);
    await later(5);
    expect(await said(text)).toBe(1);
    expect(await why(change(id, saying(text), 'draft'))).toBe('out');
    expect(await why(deletePost(mo, house.lidos, id))).toBe('out');
  });
  it('goes out in the words that were written last, and in none before', async () => {
    const [old, corrected] = [words('Old'), words('New')];
    const id = await write(saying(old));
    await house.settle();
    await change(id, saying(corrected));
    // Nobody has told its run yet, and its time comes.
    house.clock.now += HOUR + 1000;
    await house.settle();
    expect([await said(old), await said(corrected)]).toEqual([0, 1]);
  });
  it('says new words where it has not gone, and keeps what is out', async () => {
    const [old, corrected] = [words('Old'), words('New')];
    const post = saying(old, 1, [page, other]);
    const when = {
      type: 'moment' as const,
      at: wall(house.clock.now + HOUR),
      own: [{ outlet: other, at: wall(house.clock.now + 3 * HOUR) }],
    };
    const id = await write({ ...post, publish: { ...post.publish, when } });
    await house.settle();
    await later(1.1);
    expect(await said(old)).toBe(1);
    const next = saying(corrected, 1, [page, other]);
    await change(id, { ...next, publish: { ...next.publish, when } });
    await later(3);
    expect([await said(old), await said(corrected)]).toEqual([1, 0]);
    expect(await said(corrected, 'gannet-point')).toBe(1);
    expect(await why(change(id, { ...next, publish: { ...next.publish, when } }))).toBe('out');
  });
  it('is taken back while nothing is out, and goes once when it is ready again', async () => {
    const text = words('Back and forth');
    const id = await write(saying(text));
    await house.settle();
    await change(id, saying(text), 'draft');
    await later(2);
    expect(await said(text)).toBe(0);
    expect(await stage(id)).toBe('draft');
    for (const state of ['ready', 'draft', 'ready', 'idea', 'ready'] as const) {
      await change(id, saying(text), state);
      if (state !== 'idea') await house.settle();
    }
    await later(2);
    expect(await said(text)).toBe(1);
  });
  it('can be ended by a person, and is planned anew when somebody says it is ready', async () => {
    const text = words('Ended');
    const id = await write(saying(text));
    await house.settle();
    const run = (await standingOf(house.services.pool, house.lidos, [(await kept(id)).itemId!]))(
      (await kept(id)).itemId,
    ).run!;
    await cancelRun(mo, house.lidos, run.id);
    expect(await stage(id)).toBe('ended');
    await later(2);
    expect(await said(text)).toBe(0);
    await change(id, saying(text));
    await later(2);
    expect(await said(text)).toBe(1);
  });
  it('is moved in the outbox and says so: a correction afterwards goes at the new time', async () => {
    const [old, corrected] = [words('Old'), words('New')];
    const id = await write(saying(old, 1, [page, other]));
    await house.settle();
    const [mine] = (await plannedFor(id)).filter(({ outletId }) => outletId === other);
    const to = house.clock.now + 4 * HOUR;
    await movePost(mo, house.lidos, { effect: mine!.effectId!, to, others: 'stay', preview: false });
    expect((await kept(id)).post.publish.when).toMatchObject({ own: [{ outlet: other, at: wall(to) }] });
    const { post } = await kept(id);
    await change(id, { ...post, compose: { ...post.compose, text: corrected } });
    await house.settle();
    expect((await plannedFor(id)).map(({ at, outletId }) => [outletId, (at - house.clock.now) / HOUR])).toEqual([
      [page, 1],
      [other, 4],
    ]);
    await later(5);
    expect([await said(old), await said(corrected), await said(corrected, 'gannet-point')]).toEqual([0, 1, 1]);
  });
  it('lacks what it lacks, and is not ready before', async () => {
    const reasons = (work: Promise<unknown>) =>
      work.then(
        () => [],
        (error: PostTrouble) => error.reasons,
      );
    expect(await reasons(write(saying('', null, [])))).toEqual([
      'It says nothing yet.',
      'It has nowhere to go yet.',
      'It has no time yet.',
    ]);
    expect(await reasons(write(saying(words('Late'), -2)))).toEqual(['Its time has passed.']);
    const id = await write(saying('', null, []), 'idea');
    expect((await inCalendar()).shelf.find((each) => each.post === id)?.missing).toHaveLength(3);
  });
  it('is not overwritten by somebody who saw it before a change', async () => {
    const id = await write(saying(words('Mine'), 5), 'draft');
    const { revision } = await kept(id);
    await change(id, saying('Ana’s', 5), 'draft', ana);
    expect(await why(changePost(mo, house.lidos, id, revision, { state: 'draft', post: saying('Mo’s', 5) }))).toBe(
      'stale',
    );
    expect((await kept(id)).post.compose.text).toBe('Ana’s');
  });
  it('is deleted before it goes, and then does not', async () => {
    const text = words('Deleted');
    const id = await write(saying(text));
    await house.settle();
    await deletePost(mo, house.lidos, id);
    await later(2);
    expect(await said(text)).toBe(0);
    expect(await why(approvePost(mo, house.lidos, id, 1))).toBe('gone');
  });
  it('is dragged about as a draft, and goes where it was dragged', async () => {
    const text = words('Dragged');
    const id = await write(saying(text), 'draft');
    await moveWritten(mo, house.lidos, id, { outlet: page, at: house.clock.now + 3 * HOUR });
    await change(id, (await kept(id)).post);
    await house.settle();
    expect((await plannedFor(id)).map(({ at }) => (at - house.clock.now) / HOUR)).toEqual([3]);
  });
  it('runs on one workflow of the brand’s, which people do not have to know', async () => {
    const own = (await workflowsOf(house.services.pool, house.lidos)).filter((workflow) => workflow.own);
    expect(own).toHaveLength(1);
    const many = await Promise.all(Array.from({ length: 8 }, () => write(saying(words('At once'), 9))));
    expect(new Set(many).size).toBe(8);
    // Another brand's first post, by two people at once.
    const first = () => makePost(mo, house.bakehouse, { state: 'draft', post: newPost() });
    await Promise.all([first(), first()]);
    const watches = await select<{ n: number }>(
      house.services.pool,
      "SELECT COUNT(*) AS n FROM watches WHERE kind = 'written'",
    );
    expect(Number(watches[0]!.n)).toBe(1);
  });
});

describe('a post in trouble', () => {
  it('can be corrected while its account has to be connected again, and goes in the new words afterwards', async () => {
    const [old, corrected] = [words('Old'), words('New')];
    const id = await write(saying(old, 1));
    await house.settle();
    const status = (to: string) => query(house.services.pool, 'UPDATE accounts SET status = ?', [to]);
    await status('reconnect');
    expect(await why(write(saying(words('Another'), 1)))).toBe('missing');
    await change(id, saying(corrected, 1));
    await house.settle();
    await status('ok');
    await later(2);
    expect([await said(old), await said(corrected)]).toEqual([0, 1]);
  });
  it('that somebody left out everywhere is not said to be out, and can be planned anew', async () => {
    const text = words('Left out');
    const id = await write(saying(text, 1));
    await house.settle();
    const { itemId } = await kept(id);
    // As it is when somebody leaves out what was held.
    await query(
      house.services.pool,
      "UPDATE effects SET status = 'cancelled', due_at = NULL WHERE run_id IN (SELECT id FROM runs WHERE item_id = ?)",
      [itemId],
    );
    await query(house.services.pool, "UPDATE runs SET status = 'done', due_at = NULL WHERE item_id = ?", [itemId]);
    expect(await stage(id)).toBe('ended');
    await change(id, saying(text, 2));
    await later(3);
    expect(await said(text)).toBe(1);
  });
});

describe('a yes', () => {
  it('is needed where the brand asks for one: nothing goes out before, and nothing but what it was given to', async () => {
    await setApproval(mo, house.lidos, 'another');
    const [text, sneaked] = [words('Asked'), words('Sneaked in')];
    const id = await write(saying(text));
    await later(0);
    expect(await stage(id)).toBe('approval');
    expect(await plannedFor(id)).toEqual([]);
    // Not by whoever wrote it, and not to a state that somebody did not see.
    expect(await why(approvePost(mo, house.lidos, id, (await kept(id)).revision))).toBe('yes');
    expect(await why(approvePost(ana, house.lidos, id, (await kept(id)).revision + 1))).toBe('stale');
    await approvePost(ana, house.lidos, id, (await kept(id)).revision);
    await house.settle();
    expect(await plannedFor(id)).toHaveLength(1);
    // Another time needs no other yes; other words do.
    await change(id, saying(text, 2));
    await house.settle();
    expect(await plannedFor(id)).toHaveLength(1);
    await change(id, saying(sneaked, 2));
    await later(3);
    expect([await said(text), await said(sneaked)]).toEqual([0, 0]);
    expect(await stage(id)).toBe('approval');
    // Its time has passed meanwhile.
    expect(await why(approvePost(ana, house.lidos, id, (await kept(id)).revision))).toBe('missing');
    await change(id, saying(text, 2));
    await later(3);
    expect([await said(text), await said(sneaked)]).toEqual([1, 0]);
  });
  it('is asked for again when a snippet of the post says something else', async () => {
    await setApproval(mo, house.lidos, 'another');
    const text = words('With a snippet');
    const id = await write(saying(text));
    await approvePost(ana, house.lidos, id, (await kept(id)).revision);
    await house.settle();
    expect(await plannedFor(id)).toHaveLength(1);
    await askAgain(mo, house.lidos, () => []);
    expect((await kept(id)).approval?.holds).toBe(true);
    await askAgain(mo, house.lidos, ({ steps }) => steps);
    await later(0.5);
    expect([await stage(id), await plannedFor(id)]).toEqual(['approval', []]);
    await approvePost(ana, house.lidos, id, (await kept(id)).revision);
    await later(1);
    expect(await said(text)).toBe(1);
  });
  it('is taken as given for what goes already when a brand begins to ask, and is no longer needed when it stops', async () => {
    const [going, asked] = [words('Going'), words('Asked')];
    const first = await write(saying(going, 3));
    await setApproval(mo, house.lidos, 'another');
    const second = await write(saying(asked, 3));
    const late = await write(saying(words('Late'), 1));
    await house.settle();
    expect([await stage(first), await stage(second)]).toEqual([null, 'approval']);
    expect((await kept(first)).approval).toMatchObject({ by: house.mo, holds: true });
    await later(2);
    await setApproval(mo, house.lidos, 'nobody');
    expect((await kept(late)).state).toBe('draft');
    await later(2);
    expect([await said(going), await said(asked)]).toEqual([1, 1]);
  });
});

describe('what a post that is ready is made of', () => {
  it('is not deleted under it', async () => {
    const post = saying('Towels', 5);
    post.publish.media = [{ type: 'picture', from: '', file: 77, alt: '' }];
    const id = await write({ ...post, compose: { ...post.compose, text: words('Towels') } }, 'draft');
    const using = (definition: Definition) => stepsSending(definition, 77);
    expect(await postsUsing(house.services.pool, house.lidos, using)).toEqual([]);
    const next = await kept(id);
    await change(id, { ...next.post, publish: { ...next.post.publish, media: undefined } });
    expect(await postsUsing(house.services.pool, house.lidos, using)).toEqual([]);
    expect(await postsUsing(house.services.pool, house.lidos, ({ steps }) => steps)).toContainEqual(
      expect.stringMatching(/^Towels/),
    );
    await deletePost(mo, house.lidos, id);
  });
  it('asks for a colleague’s yes only where there is one', async () => {
    expect(await why(setApproval(mo, house.bakehouse, 'another'))).toBe('yes');
    await setApproval(mo, house.bakehouse, 'anybody');
  });
});

describe('people, a worker and the clock at the same time', () => {
  it('post each text at most once, and only the last that was ready', async () => {
    // Seeds of their own, so that a failure can be tried again.
    let seed = 7;
    const random = (below: number) => (seed = (seed * 48_271) % 2_147_483_647) % below;
    for (let round = 0; round < 12; round++) {
      const versions: string[] = [];
      const next = () => {
        versions.push(words(`Round ${round}`));
        return saying(versions.at(-1)!, 1);
      };
      const id = await write(next());
      let ready = true;
      for (let step = 0; step < 6; step++) {
        const doing = random(5);
        if (doing === 0) await house.settle();
        else if (doing === 1) {
          const post = next();
          ready = (await why(change(id, post, 'ready'))) === 'done' ? true : ready;
        } else if (doing === 2) {
          const post = next();
          ready = (await why(change(id, post, 'draft'))) === 'done' ? false : ready;
        } else if (doing === 3) await Promise.all([house.settle(), why(change(id, next(), ready ? 'ready' : 'draft'))]);
        else house.clock.now += 60_000;
      }
      const wanted = await kept(id);
      await later(2);
      const all = await house.posts();
      const out = versions.map((text) => all.filter((post) => post.text === text).length);
      const expected = versions.map((text) => (wanted.state === 'ready' && text === wanted.post.compose.text ? 1 : 0));
      expect(out, `round ${round}`).toEqual(expected);
    }
  });
  it('leave no run that waits for news of a post for ever', async () => {
    const id = await write(saying(words('News'), 1));
    await house.settle();
    await markChanged(house.services.pool, (await kept(id)).itemId!, house.clock.now);
    await later(2);
    const open = await select(house.services.pool, 'SELECT id FROM runs WHERE item_id = ? AND changed = 1', [
      (await kept(id)).itemId,
    ]);
    expect(open).toEqual([]);
  });
});
