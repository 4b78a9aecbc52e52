// Posts that take the times of their outlet's timetable: each its own, given back when it is not used, never lost.
import { DateTime } from 'luxon';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { PublishStep } from '@playa/core/steps/publish.ts';
import { rehearse } from '@playa/core/rehearsal/rehearse.ts';
import { NO_TIMETABLE, type Timetable } from '@playa/core/timetable/timetable.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { change, inTransaction, select } from '../db/database.ts';
import { resumeAccount } from '../store/acts-waiting.ts';
import { plannedPosts } from '../store/planned.ts';
import { addRun } from '../store/runs.ts';
import { keepTimetable, timetablesOf } from '../store/timetables.ts';
import { openHouse, type House } from '../testing/house.ts';
import { runsOf } from '../testing/runs-of.ts';
import { live, newVideos, pause as pauseNow } from '../testing/workflow.ts';
import { lookNow } from '../watch/look.ts';
import { itemsById, reviseItem } from '../store/items.ts';
import { markChanged } from '../store/run-changes.ts';
import { movePost } from '../workflows/move-post.ts';
import { itemsOf } from '../store/items-shown.ts';
import { cancelRun } from '../workflows/run-actions.ts';
import { decide } from '../workflows/decide.ts';
import { pause, resume } from '../workflows/go-live.ts';
import { worldOf } from '../world/world.ts';
import { performEffects } from './perform-effects.ts';
import { takeRuns } from './take-runs.ts';
import type { PastItem } from '@playa/core/rehearsal/virtual-run.ts';

let house: House;
let watch: number;
let pages: number[];
let count = 0;
const HOUR = 3_600_000;
const ZONE = 'Europe/Lisbon';
/** A Thursday at noon, in winter and in the brand's zone. */
const THURSDAY = DateTime.fromISO('2031-01-09T12:00', { zone: ZONE }).toMillis();
const daily = (...times: string[]): Timetable => ({ ...NO_TIMETABLE, times: Array.from({ length: 7 }, () => times) });
const say = (moment: number) => DateTime.fromMillis(moment, { zone: ZONE }).toFormat('ccc HH:mm');

beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  watch = await house.watch();
  pages = [await house.page(), await house.page('Gannet Point pool')];
});
afterAll(() => house?.close());
beforeEach(async () => {
  house.clock.now = THURSDAY;
  await change(house.services.pool, "UPDATE workflows SET status = 'paused'");
  await change(
    house.services.pool,
    "UPDATE effects SET status = 'cancelled', due_at = NULL, parked_due_at = NULL WHERE status IN ('planned', 'sending', 'account')",
  );
  await change(house.services.pool, 'DELETE FROM logbook_edits');
  await change(house.services.pool, 'DELETE FROM logbook');
  await change(house.services.pool, 'DELETE FROM timetables');
});

async function timetable(of: Timetable, page = pages[0]!): Promise<void> {
  const { pool } = house.services;
  const before = (await timetablesOf(pool, house.lidos)).get(page)?.revision ?? 0;
  expect(await inTransaction(pool, (db) => keepTimetable(db, house.lidos, page, of, before))).toBe(before + 1);
}
const posting = (more: Partial<PublishStep> = {}, outlets = [pages[0]!]): Definition => {
  const definition = newVideos(watch, outlets, 'Time: {$title}');
  Object.assign(definition.steps[1]!, more);
  return definition;
};
async function films(many: number, description = ''): Promise<string[]> {
  const titles = Array.from({ length: many }, () => `Film ${++count}`);
  for (const title of titles) {
    await house.upload({ title, description });
    await lookNow(house.services, watch);
    await house.settle();
  }
  return titles;
}
const planned = async () =>
  (await plannedPosts(house.services.pool, house.lidos, { from: null, to: null, paused: true }, 100)).filter(
    ({ text }) => text?.startsWith('Time: '),
  );
const times = async () => (await planned()).map(({ at, text }) => `${say(at)} ${text!.replace('Time: ', '')}`);
const out = async () => (await house.posts()).map(({ text }) => text).filter((text) => /^Time: /.test(text));
async function pass(hours: number): Promise<void> {
  house.clock.now += hours * HOUR;
  await house.settle();
}

describe('posts at free times', () => {
  it('each take the next that nobody holds, and go out then', async () => {
    await timetable(daily('09:00', '17:00'));
    const workflow = await live(house, posting({ when: { type: 'free' } }));
    const [a, b, c] = await films(3);
    expect(await times()).toEqual([`Thu 17:00 ${a}`, `Fri 09:00 ${b}`, `Fri 17:00 ${c}`]);
    const before = (await out()).length;
    await pass(4.9);
    expect((await out()).length).toBe(before);
    await pass(0.2);
    expect((await out()).slice(before)).toEqual([`Time: ${a}`]);
    await pass(16);
    expect((await out()).slice(before)).toEqual([`Time: ${a}`, `Time: ${b}`]);
    // The sheet says when the last one goes.
    const runs = await runsOf(house.services.pool, house.lidos, workflow, 5);
    const cell = runs.find((run) => run.status === 'waiting')!.trace.post;
    expect(cell?.kind === 'posts' && say(cell.posts[0]!.at)).toBe('Fri 17:00');
  });

  it('give their time back when they are ended, and the next takes it', async () => {
    await timetable(daily('09:00', '17:00'));
    const workflow = await live(house, posting({ when: { type: 'free' } }));
    const [a, b] = await films(2);
    const first = (await runsOf(house.services.pool, house.lidos, workflow, 5)).at(-1)!;
    await cancelRun(house.services, house.lidos, first.id);
    const [c] = await films(1);
    expect(await times()).toEqual([`Thu 17:00 ${c}`, `Fri 09:00 ${b}`]);
    expect(a).not.toBe(c);
  });

  it('go to the front where that is asked for, and all others move on', async () => {
    await timetable(daily('09:00', '17:00'));
    await live(house, posting({ when: { type: 'free' } }));
    const [a, b] = await films(2);
    await change(house.services.pool, "UPDATE workflows SET status = 'paused'");
    await live(house, posting({ when: { type: 'front' } }));
    const [c] = await films(1);
    expect(await times()).toEqual([`Thu 17:00 ${c}`, `Fri 09:00 ${a}`, `Fri 17:00 ${b}`]);
  });

  it('keep the gap, the most of a day and pauses, also when they go at once', async () => {
    await timetable({
      ...daily('09:00'),
      gap: 1800,
      mostPerDay: 2,
      pauses: [{ from: '2031-01-10', to: '2031-01-10', name: 'Inventory' }],
    });
    await live(house, posting());
    const [a] = await films(1);
    // Lagoon’s clock says when it went out; it is years behind the one of this test.
    await change(house.services.pool, 'UPDATE logbook SET at = ?', [new Date(house.clock.now)]);
    const [b, c] = await films(2);
    // The first went at once, the second half an hour later; the day is full then, and the next one is a pause.
    expect(await times()).toEqual([`Thu 12:30 ${b}`, `Sat 09:00 ${c}`]);
    expect((await out()).at(-1)).toBe(`Time: ${a}`);
    await pass(0.51);
    expect((await out()).at(-1)).toBe(`Time: ${b}`);
  });

  it('at several outlets are each outlet’s own, and apart from one another where that is asked for', async () => {
    await timetable(daily('17:00'));
    await live(house, posting({ when: { type: 'free' }, apart: 600 }, pages));
    await films(1);
    // The second page has no timetable: every moment after the first and ten minutes is free.
    expect((await planned()).map(({ at, outletId }) => [say(at), outletId])).toEqual([
      ['Thu 17:00', pages[0]],
      ['Thu 17:10', pages[1]],
    ]);
  });

  it('at a moment go then, whatever the timetable says; one that cannot be read is asked for', async () => {
    await timetable(daily('17:00'));
    const workflow = await live(house, posting({ when: { type: 'field', field: 'description' } }));
    await films(1, '9.1.2031 15:20');
    expect((await planned()).map(({ at }) => say(at))).toEqual(['Thu 15:20']);
    const [odd] = await films(1, 'when the tide turns');
    const run = (await runsOf(house.services.pool, house.lidos, workflow, 5)).find((each) => each.status === 'held')!;
    expect(run.trace.post).toMatchObject({
      acts: [{ trouble: 'date', says: expect.stringContaining('when the tide turns') as string }],
    });
    const cell = run.trace.post!;
    const key = cell.kind === 'acts' ? cell.acts[0]!.key! : '';
    await decide(house.services, house.lidos, run.id, key, { do: 'retry', text: '10.1.2031 8:00' });
    await house.settle();
    expect(await times()).toContain(`Fri 08:00 ${odd}`);
  });

  it('are as a rehearsal says', async () => {
    await timetable({ ...daily('09:00', '17:00'), gap: 7200 });
    const definition = posting({ when: { type: 'free' } });
    await live(house, definition);
    const titles = await films(4);
    const world = await worldOf(house.services.pool, house.lidos, house.services.connectors);
    const items = (await itemsOf(house.services.pool, house.lidos, [watch], 4)).map((item): PastItem => ({
      ...item,
      watch: item.watchId,
    }));
    const told = [...rehearse(definition, world, items, { noticed: () => house.clock.now })];
    const rehearsed = told.flatMap(({ trace }) =>
      trace.post?.kind === 'posts' ? trace.post.posts.map((post) => post.at) : [],
    );
    expect(rehearsed.sort()).toEqual((await planned()).map(({ at }) => at));
    expect(titles).toHaveLength(4);
  });
});

describe('a post whose item is corrected', () => {
  it('goes out in the new words, when a person has moved it to', async () => {
    await timetable(daily('09:00', '17:00'));
    const workflow = await live(house, posting({ when: { type: 'free' } }));
    const [a] = await films(1);
    const { pool } = house.services;
    const [post] = await planned();
    const saturday = DateTime.fromISO('2031-01-11T09:00', { zone: ZONE }).toMillis();
    const moving = { effect: post!.effectId!, to: saturday, others: 'stay' as const, preview: false };
    await movePost(house.services, house.lidos, moving);
    const item = (await itemsById(pool, [post!.itemId])).get(post!.itemId)!;
    await inTransaction(pool, async (db) => {
      await reviseItem(db, item, { ...item.fields, title: `${a}, corrected` });
      await markChanged(db, item.id, house.clock.now);
    });
    await house.settle();
    expect(await times()).toEqual([`Sat 09:00 ${a}, corrected`]);
    expect((await runsOf(pool, house.lidos, workflow, 5)).map(({ status }) => status)).toEqual(['waiting']);
  });
  it('goes out at its new moment, where its item gives the moment and that alone has changed', async () => {
    await live(house, posting({ when: { type: 'field', field: 'description' } }));
    await films(1, '9.1.2031 15:20');
    const [post] = await planned();
    const { pool } = house.services;
    const item = (await itemsById(pool, [post!.itemId])).get(post!.itemId)!;
    await inTransaction(pool, async (db) => {
      await reviseItem(db, item, { ...item.fields, description: '9.1.2031 16:40' });
      await markChanged(db, item.id, house.clock.now);
    });
    await house.settle();
    expect((await planned()).map(({ at }) => say(at))).toEqual(['Thu 16:40']);
  });
  it('that nothing can place waits for a person, and is not sent in a pause', async () => {
    const never = { from: '2031-01-01', to: '2039-01-01', name: 'Closed' };
    await timetable({ ...daily('17:00'), pauses: [never] });
    const workflow = await live(house, posting({ when: { type: 'free' } }));
    const before = (await out()).length;
    await films(1);
    const [run] = await runsOf(house.services.pool, house.lidos, workflow, 1);
    expect(run!.status).toBe('held');
    expect((await out()).length).toBe(before);
  });
});

describe('a timetable that cannot be read', () => {
  it('stops no other outlet', async () => {
    await timetable(daily('17:00'));
    await timetable(daily('17:00'), pages[1]);
    await change(house.services.pool, "UPDATE timetables SET timetable = '{}' WHERE outlet_id = ?", [pages[1]]);
    await live(house, posting({ when: { type: 'free' } }));
    const [a] = await films(1);
    expect(await times()).toEqual([`Thu 17:00 ${a}`]);
    expect([...(await timetablesOf(house.services.pool, house.lidos)).keys()]).toEqual([pages[0]]);
  });
});

describe('many that have a time of their own', () => {
  it('do not pause their workflow: they come no faster than their times', async () => {
    await timetable(daily('09:00', '17:00'));
    const definition = posting({ when: { type: 'free' } });
    definition.settings = { ...definition.settings!, brake: { hour: 2, day: 3 } };
    const workflow = await live(house, definition);
    await films(5);
    expect(await planned()).toHaveLength(5);
    const [row] = await select<{ status: string }>(house.services.pool, 'SELECT status FROM workflows WHERE id = ?', [
      workflow,
    ]);
    expect(row!.status).toBe('live');
  });
  it('keep it when their account is connected again, and what was due goes at once', async () => {
    await timetable(daily('17:00'));
    await live(house, posting({ when: { type: 'free' } }));
    await films(2);
    const { pool } = house.services;
    await change(pool, "UPDATE effects SET status = 'account', due_at = NULL WHERE status = 'planned'");
    const [account] = await select<{ id: number }>(pool, 'SELECT account_id AS id FROM outlets WHERE id = ?', [
      pages[0],
    ]);
    await change(
      pool,
      "UPDATE effects SET planned_at = NULL, slot_at = NULL WHERE status = 'account' ORDER BY id LIMIT 1",
    );
    expect(await resumeAccount(pool, house.lidos, account!.id, house.clock.now)).toBe(2);
    const due = await select<{ at: Date }>(
      pool,
      "SELECT due_at AS at FROM effects WHERE status = 'planned' ORDER BY due_at",
    );
    expect(due.map(({ at }) => say(at.getTime()))).toEqual(['Thu 12:00', 'Fri 17:00']);
  });
});

describe('a time that has passed', () => {
  it.each([
    ['send', 0],
    ['free', 1],
    ['hold', 0],
  ] as const)('%s: as the outlet says', async (then, left) => {
    await timetable({ ...daily('17:00'), late: { after: 900, then } });
    const workflow = await live(house, posting({ when: { type: 'free' } }));
    const [a] = await films(1);
    const before = (await out()).length;
    // Nobody works for six hours.
    await pass(6);
    expect((await planned()).map(({ at }) => say(at))).toEqual(left ? ['Fri 17:00'] : []);
    expect((await out()).length - before).toBe(then === 'send' ? 1 : 0);
    const [run] = await runsOf(house.services.pool, house.lidos, workflow, 1);
    if (then === 'hold') {
      expect(run!.trace.post).toMatchObject({
        posts: [{ status: 'held', says: expect.stringContaining('Its time passed 1 h ago') as string }],
      });
      const cell = run!.trace.post!;
      const key = cell.kind === 'posts' ? cell.posts[0]!.key! : '';
      await decide(house.services, house.lidos, run!.id, key, { do: 'retry' });
      await house.settle();
      expect((await out()).at(-1)).toBe(`Time: ${a}`);
    }
  });
  it('by a little is none', async () => {
    await timetable({ ...daily('17:00'), late: { after: 900, then: 'hold' } });
    await live(house, posting({ when: { type: 'free' } }));
    const before = (await out()).length;
    await films(1);
    await pass(5.2);
    expect((await out()).length).toBe(before + 1);
  });
  it('in a pause takes another when the workflow goes on', async () => {
    await timetable({ ...daily('17:00'), late: { after: 900, then: 'free' } });
    const workflow = await live(house, posting({ when: { type: 'free' } }));
    await films(1);
    await pause(house.services, house.lidos, workflow);
    const before = (await out()).length;
    await pass(10);
    await resume(house.services, house.lidos, workflow);
    await house.settle();
    expect((await planned()).map(({ at }) => say(at))).toEqual(['Fri 17:00']);
    expect((await out()).length).toBe(before);
  });
});

describe('many workers', () => {
  it('never take the same time, and lose none', async () => {
    await timetable(daily('08:00', '10:00', '12:30', '17:00'));
    const workflow = await live(house, posting({ when: { type: 'free' } }));
    await pauseNow(house, workflow);
    const { pool } = house.services;
    const items = await itemsOf(pool, house.lidos, [watch], 1000);
    const item = items[0]!;
    await change(pool, "UPDATE workflows SET status = 'live' WHERE id = ?", [workflow]);
    const [stored] = await select<{ version: number }>(
      pool,
      'SELECT live_version AS version FROM workflows WHERE id = ?',
      [workflow],
    );
    for (let occurrence = 100; occurrence < 180; occurrence++)
      await addRun(pool, {
        brandId: house.lidos,
        workflowId: workflow,
        version: stored!.version,
        itemId: item.id,
        itemRevision: item.revision,
        occurrence,
        dueAt: house.clock.now,
        now: house.clock.now,
      });
    const worker = async () => {
      for (let idle = 0; idle < 5;) idle = (await takeRuns(house.services, undefined, 7)) > 0 ? 0 : idle + 1;
    };
    await Promise.all([worker(), worker(), worker(), worker(), performEffects(house.services)]);
    const rows = await select<{ slot: Date }>(
      pool,
      "SELECT slot_at AS slot FROM effects WHERE workflow_id = ? AND status = 'planned' ORDER BY slot_at",
      [workflow],
    );
    const moments = rows.map((row) => row.slot.getTime());
    expect(moments).toHaveLength(80);
    expect(new Set(moments).size).toBe(80);
    // Eighty in a row, without a hole: four a day for twenty days.
    expect(moments.at(-1)! - moments[0]!).toBeLessThan(20 * 24 * HOUR);
  });
});
