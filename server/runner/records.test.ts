// What the engine keeps for screens: what is held, what is planned, how many; and that it can be made again.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { change, inTransaction, select } from '../db/database.ts';
import { workflowCounts } from '../store/counts.ts';
import { countHeld, heldOf } from '../store/held.ts';
import { addLogEntries } from '../store/logbook.ts';
import { plannedPosts } from '../store/planned.ts';
import { dropBackfill } from '../store/run-times.ts';
import { lockRun, type Run } from '../store/runs.ts';
import type { Services } from '../base/services.ts';
import { lookNow } from '../watch/look.ts';
import { setStatus } from '../store/workflow-state.ts';
import { openHouse, type House } from '../testing/house.ts';
import { keptAndRebuilt } from '../testing/records.ts';
import { runsOf } from '../testing/runs-of.ts';
import { live, newVideos, pause, uploadNow } from '../testing/workflow.ts';
import { decide, tryRunAgain } from '../workflows/decide.ts';
import { Batch } from './apply.ts';
import { takeRuns } from './take-runs.ts';
import { recordUnseen } from './rebuild-records.ts';
import { keepHouse } from '../work.ts';

let house: House;
let watch: number;
let page: number;
beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  watch = await house.watch();
  page = await house.page();
});
afterAll(() => house?.close());

const held = (workflow: number) =>
  heldOf(house.services.pool, house.lidos, 50).then((all) => all.filter((each) => each.workflowId === workflow));
const planned = async (workflow: number) =>
  (await plannedPosts(house.services.pool, house.lidos, { from: null, to: null, paused: true }, 50)).filter(
    (each) => each.workflowId === workflow,
  );
const counts = async (workflow: number) => (await workflowCounts(house.services.pool, house.lidos)).get(workflow);
const asking = () => {
  const definition = newVideos(watch, [page]);
  definition.steps.splice(1, 0, { id: 'ask', verb: 'hold', question: 'Is it good?', text: 'caption' });
  return definition;
};
const waiting = (seconds: number) => {
  const definition = newVideos(watch, [page], 'Later: {$title}');
  definition.steps.unshift({ id: 'wait', verb: 'wait', until: { type: 'duration', seconds } });
  return definition;
};

describe('what is held', () => {
  it('is there as soon as it is, with what would be done, and gone when it is decided', async () => {
    const workflow = await live(house, asking());
    await uploadNow(house, watch, 'A film to be asked about');
    const [thing] = await held(workflow);
    expect(thing).toMatchObject({
      trouble: 'asks',
      says: 'Is it good?',
      paused: false,
      act: { action: 'hold', input: { text: 'New: A film to be asked about' } },
    });
    const before = await countHeld(house.services.pool, house.lidos);
    await decide(house.services, house.lidos, thing!.runId, thing!.key!, { do: 'retry' });
    await house.settle();
    expect(await held(workflow)).toEqual([]);
    expect(await countHeld(house.services.pool, house.lidos)).toBe(before - 1);
    await pause(house, workflow);
  });
  it('is seen also when a worker of an older version has written it', async () => {
    const workflow = await live(house, asking());
    await uploadNow(house, watch, 'A film that an older worker met');
    const [thing] = await held(workflow);
    // As an older one would have left it.
    await change(house.services.pool, 'DELETE FROM held WHERE run_id = ?', [thing!.runId]);
    expect(await held(workflow)).toEqual([]);
    await keepHouse(house.services);
    expect(await held(workflow)).toMatchObject([{ key: thing!.key, says: thing!.says }]);
    expect(await recordUnseen(house.services)).toBe(0);
    await pause(house, workflow);
  });
});

describe('a run that Playa stumbles over', () => {
  it('is seen as stuck, and counted as held, and as done once it goes on', async () => {
    const workflow = await live(house, newVideos(watch, [page], 'Stumbled: {$title}'));
    const { programs } = house.services;
    const stumbling: Services = {
      ...house.services,
      programs: {
        get: (db, run, epochs) =>
          run.workflowId === workflow ? Promise.reject(new Error('gone')) : programs.get(db, run, epochs),
      },
    };
    await house.upload({ title: 'A film to stumble over' });
    await lookNow(house.services, watch);
    while ((await takeRuns(stumbling)) > 0);
    expect(await held(workflow)).toMatchObject([{ key: null, act: null, trouble: 'run' }]);
    expect(await counts(workflow)).toMatchObject({ runs: 1, held: 1, waiting: 0 });
    const [run] = await runsOf(house.services.pool, house.lidos, workflow, 1);
    await tryRunAgain(house.services, house.lidos, run!.id);
    await house.settle();
    expect(await held(workflow)).toEqual([]);
    expect(await counts(workflow)).toMatchObject({ runs: 1, held: 0, posts: 1 });
    await pause(house, workflow);
  });
  it('and that goes on within the same batch, stays counted once', async () => {
    const workflow = await live(house, waiting(3600));
    await uploadNow(house, watch, 'A film that stumbles and goes on');
    const [{ id: runId }] = (await runsOf(house.services.pool, house.lidos, workflow, 1)) as [Run];
    const { pool, programs, clock } = house.services;
    let stumbles = true;
    const once = {
      get: ((db, run, epochs) => {
        if (!stumbles) return programs.get(db, run, epochs);
        stumbles = false;
        return Promise.reject(new Error('gone'));
      }) as Services['programs']['get'],
    };
    await inTransaction(pool, async (db) => {
      const run = (await lockRun(db, runId))!;
      const batch = new Batch(db, clock(), once);
      await batch.takeOrHold(run, { type: 'woke' }, () => undefined);
      await batch.takeOrHold(run, { type: 'cancelled' }, () => undefined);
      await batch.flush();
    });
    await house.settle();
    expect(await held(workflow)).toEqual([]);
    expect(await counts(workflow)).toMatchObject({ runs: 1, held: 0, waiting: 0 });
    await pause(house, workflow);
  });
});

describe('what went out', () => {
  it('is written down and counted once, by whoever and however often it is told', async () => {
    const workflow = await live(house, newVideos(watch, [page], 'Told: {$title}'));
    const entry = {
      key: 'told.post.1.1',
      brandId: house.lidos,
      workflowId: workflow,
      runId: 1,
      action: 'publish',
      place: 'post',
      outletId: page,
      text: 'Told',
      card: null,
      url: null,
      remoteId: '1',
      at: house.clock.now,
    };
    await addLogEntries(house.services.pool, [entry, { ...entry }]);
    await addLogEntries(house.services.pool, [entry]);
    expect(await counts(workflow)).toMatchObject({ posts: 1 });
    await pause(house, workflow);
  });
});

describe('what is planned', () => {
  it('is what waits for a moment, also while its workflow is paused, until it is out', async () => {
    const workflow = await live(house, waiting(3600));
    await uploadNow(house, watch, 'A film for later');
    const [post] = await planned(workflow);
    expect(post).toMatchObject({ step: 'post', outletId: page, state: 'ahead', sure: true, text: null });
    expect(post!.at - house.clock.now).toBeGreaterThan(3_500_000);
    await inTransaction(house.services.pool, (db) => setStatus(db, house.lidos, workflow, 'paused', house.clock.now));
    expect((await planned(workflow))[0]).toMatchObject({ state: 'paused', at: post!.at });
    await inTransaction(house.services.pool, (db) => setStatus(db, house.lidos, workflow, 'live', house.clock.now));
    house.clock.now += 3_700_000;
    await house.settle();
    await house.settle();
    expect(await planned(workflow)).toEqual([]);
    expect(await counts(workflow)).toMatchObject({ runs: 1, posts: 1, waiting: 0, held: 0 });
    await pause(house, workflow);
  });
  it('is found behind any number of things that are paused, or post nothing', async () => {
    const paused = await live(house, waiting(600));
    const silent = await live(house, {
      ...waiting(600),
      steps: [
        { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 600 } },
        { id: 'tell', verb: 'notify', to: [house.mo], text: 'A film' },
      ],
    });
    const going = await live(house, waiting(1200));
    await uploadNow(house, watch, 'A film behind others');
    await inTransaction(house.services.pool, (db) => setStatus(db, house.lidos, paused, 'paused', house.clock.now));
    const next = await plannedPosts(house.services.pool, house.lidos, { from: null, to: null, paused: false }, 1);
    expect(next.map(({ workflowId }) => workflowId)).toEqual([going]);
    // And only within the time that is asked for.
    const at = next[0]!.at;
    const within = (from: number, to: number) =>
      plannedPosts(house.services.pool, house.lidos, { from, to, paused: false }, 50);
    expect(await within(at, at + 1)).toHaveLength(1);
    expect(await within(at + 1, at + 2)).toEqual([]);
    for (const workflow of [silent, going]) await pause(house, workflow);
  });
  it('in the outbox says when it goes, what it says, and that it waits for its account', async () => {
    const definition = newVideos(watch, [page], 'In the outbox: {$title}');
    const workflow = await live(house, definition);
    await house.fault('pages', { kind: 'error', status: 401 }, 5);
    await uploadNow(house, watch, 'A film that cannot be sent');
    expect(await planned(workflow)).toMatchObject([
      { state: 'account', sure: true, text: 'In the outbox: A film that cannot be sent', outletId: page },
    ]);
    await house.behave();
    await house.connect('pages');
    await house.settle();
    await house.settle();
    expect(await planned(workflow)).toEqual([]);
    expect(await counts(workflow)).toMatchObject({ posts: 1 });
    await pause(house, workflow);
  });
  it('is the part of the past that has yet to begin, and less when that is let go', async () => {
    const workflow = await live(house, newVideos(watch, [page], 'Again: {$title}'), { last: 3, every: 60 });
    expect((await planned(workflow)).filter(({ state }) => state === 'ahead')).toHaveLength(3);
    expect(await counts(workflow)).toMatchObject({ runs: 3, new: 3 });
    await inTransaction(house.services.pool, (db) => dropBackfill(db, house.lidos, workflow));
    expect(await planned(workflow)).toEqual([]);
    expect(await counts(workflow)).toMatchObject({ runs: 0, new: 0 });
    expect(await runsOf(house.services.pool, house.lidos, workflow, 5)).toEqual([]);
  });
});

it('is made again just as it was kept, and counts the days of the brand', async () => {
  const { kept, rebuilt } = await keptAndRebuilt(house.services);
  expect(rebuilt).toEqual(kept);
  const days = await select<{ day: string }>(
    house.services.pool,
    "SELECT DISTINCT CAST(day AS CHAR) AS day FROM counts WHERE brand_id = ? AND day <> '1000-01-01'",
    [house.lidos],
  );
  expect(days.length).toBeGreaterThan(0);
});
