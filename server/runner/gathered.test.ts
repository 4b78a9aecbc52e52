// What is gathered over many runs is about each of its things as it is now: corrected, withdrawn, deleted, before it is
// complete and as long as it has not gone out. Nobody else's words are lost by it.
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { slotsIn } from '@playa/core/model/state.ts';
import type { Step } from '@playa/core/steps/index.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS, type Settings } from '@playa/core/workflow/settings.ts';
import { createOutlet } from '../accounts/outlets.ts';
import { select } from '../db/database.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { keptAndRebuilt } from '../testing/records.ts';
import { runsOf } from '../testing/runs-of.ts';
import { live, pause } from '../testing/workflow.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { lookNow } from '../watch/look.ts';
import { decide } from '../workflows/decide.ts';
import { cancelRun } from '../workflows/run-actions.ts';

let house: House;
let watch: number;
let pages: number[];
let workflow: number;
let mark = 0;
const HOUR = 3_600_000;

beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  const sheets = await house.connect('sheets');
  const table = await createOutlet(house.services, house.lidos, sheets, 'table', {
    file: 'Plan',
    name: 'Digest',
    columns: 'Caption, Status',
  });
  watch = await watchOutlet(house.services, house.lidos, table, 'rows');
  await lookNow(house.services, watch);
  pages = [await house.page('Tern Bay Lidos'), await house.page('Gannet Point pool')];
});
afterAll(() => house?.close());
beforeEach(() => {
  house.clock.now = testNow();
  mark++;
});
afterEach(() => pause(house, workflow));

/** Ready rows of this test, gathered until an hour is silent; what is after the gathering. */
async function digest(
  after: Step[],
  settings: Partial<Settings> = {},
  goesOn?: 'last',
  before: Step[] = [],
): Promise<void> {
  const steps: Step[] = [
    {
      id: 'ready',
      verb: 'check',
      condition: { type: 'group', match: 'all', items: [{ type: 'test', field: 'Status', op: 'is', value: 'ready' }] },
    },
    { id: 'line', verb: 'compose', name: 'line', text: '{$Caption}' },
    ...before,
    {
      id: 'all',
      verb: 'gather',
      from: { type: 'runs', group: null, closing: { at: null, count: null, silence: 3600 }, goesOn },
      take: 'line',
      as: 'lines',
      between: ', ',
      order: null,
      most: null,
      whenEmpty: 'stop',
    },
    ...after,
  ];
  const definition: Definition = {
    schema: 1,
    sources: [{ id: 'source', watch }],
    steps,
    settings: { ...NO_SETTINGS, ...settings },
  };
  workflow = await live(house, definition);
}
const publish = (id: string, page: number): Step => ({
  id,
  verb: 'publish',
  outlets: [page],
  caption: 'lines',
  card: null,
});
const wait: Step = { id: 'later', verb: 'wait', until: { type: 'duration', seconds: 7200 } };

async function look(): Promise<void> {
  await lookNow(house.services, watch);
  await house.settle();
}
/** Rows called 1a, 1b … in the first test. */
async function rows(names: string): Promise<number[]> {
  const ids = [];
  for (const name of names) {
    const cells = { Caption: `${mark}${name}`, Status: 'ready' };
    ids.push(await house.play({ do: 'row', tab: 'Digest', cells }));
    await look();
  }
  return ids;
}
async function edit(id: number, cells: Record<string, string>): Promise<void> {
  await house.play({ do: 'change-row', id, cells });
  await look();
}
async function hours(count: number): Promise<void> {
  for (let passed = 0; passed < count; passed++) {
    house.clock.now += HOUR + 1000;
    await house.settle();
    await look();
    house.clock.now += 3000;
    await house.settle();
  }
}
const ofThisTest = (posts: { text: string }[]) =>
  posts.map((post) => post.text).filter((text) => text.includes(`${mark}a`) || text.includes(`${mark}b`));
const out = async () => ofThisTest(await house.posts());
const gatherings = async () =>
  Number((await select<{ n: number }>(house.services.pool, 'SELECT COUNT(*) AS n FROM gatherings'))[0]!.n);

describe.each([
  ['before it is complete', 0],
  ['while what was gathered waits to go out', 2],
])('something gathered that changes %s', (_when, passed) => {
  const after = () => [wait, publish('post', pages[0]!)];

  it.each([
    ['the one that carries the others', 0, ['A', 'b', 'c']],
    ['another', 1, ['a', 'B', 'c']],
  ])('goes out corrected, with all the others and once: %s', async (_which, index, expected) => {
    await digest(after());
    const ids = await rows('abc');
    await hours(passed);
    await edit(ids[index]!, { Caption: `${mark}${'ABC'[index]}` });
    await hours(4);
    const said = (await house.posts()).map((post) => post.text).filter((text) => text.includes(`${mark}c`));
    expect(said).toEqual([expected.map((each) => `${mark}${each}`).join(', ')]);
    expect(await gatherings()).toBe(0);
  });

  it.each([
    ['the one that carries the others', 0, 'b, c'],
    ['another', 1, 'a, c'],
    ['the last', 2, 'a, b'],
  ])('and is set back to draft, or deleted, leaves the others alone: %s', async (_which, index, expected) => {
    for (const act of ['draft', 'delete']) {
      mark++;
      await digest(after());
      const ids = await rows('abc');
      await hours(passed);
      if (act === 'draft') await edit(ids[index]!, { Status: 'draft' });
      else await house.play({ do: 'delete-row', id: ids[index]! });
      await look();
      await hours(4);
      expect(await out(), act).toEqual([expected.replace(/[a-c]/g, (each) => `${mark}${each}`)]);
      expect(await gatherings()).toBe(0);
      await pause(house, workflow);
    }
  });

  it('and then none are left: nothing goes out', async () => {
    await digest(after());
    const ids = await rows('ab');
    await hours(passed);
    for (const id of ids) await edit(id, { Status: 'draft' });
    await hours(4);
    expect(await out()).toEqual([]);
    expect(await gatherings()).toBe(0);
  });

  it('and comes back is in it again', async () => {
    await digest(after());
    const [first, second] = await rows('ab');
    await hours(passed);
    for (const id of [first!, second!]) {
      await edit(id, { Status: 'draft' });
      await edit(id, { Status: 'ready' });
    }
    await hours(5);
    expect((await out()).join(', ').split(', ').sort()).toEqual([`${mark}a`, `${mark}b`]);
  });

  it('goes out as it was where changes are to be let be, and does not go out at all where they end it', async () => {
    await digest(after(), { whileOpen: 'keep' });
    const ids = await rows('ab');
    await hours(passed);
    await edit(ids[1]!, { Caption: `${mark}b!` });
    await hours(4);
    expect(await out()).toEqual([`${mark}a, ${mark}b`]);
    await pause(house, workflow);
    mark++;
    await digest(after(), { whileOpen: 'end' });
    const others = await rows('ab');
    await hours(passed);
    await edit(others[0]!, { Caption: `${mark}a!` });
    await hours(4);
    expect(await out()).toEqual([`${mark}b`]);
  });

  it('waits with it while the workflow is paused, and keeps the records right', async () => {
    await digest(after());
    const [first] = await rows('ab');
    await hours(passed);
    await edit(first!, { Status: 'draft' });
    const { kept, rebuilt } = await keptAndRebuilt(house.services);
    expect(kept).toEqual(rebuilt);
    await hours(4);
    expect(await out()).toEqual([`${mark}b`]);
  });
});

it('what was gathered and is out at one outlet goes out corrected at the next, and nowhere twice', async () => {
  await digest([publish('one', pages[0]!), wait, publish('two', pages[1]!)]);
  const ids = await rows('ab');
  await hours(1);
  expect(await out()).toEqual([`${mark}a, ${mark}b`]);
  await edit(ids[1]!, { Caption: `${mark}b, corrected` });
  await edit(ids[0]!, { Status: 'draft' });
  await hours(4);
  expect(await out()).toEqual([`${mark}a, ${mark}b`]);
  const next = ofThisTest(await house.posts('gannet-point'));
  // The first row's run was ended by its row: what it had begun to say is said, and not begun again by another.
  expect(next.length).toBeLessThanOrEqual(1);
  expect(next.join()).not.toContain(`${mark}a`);
});

it('a person who ends the one that carries the others ends no others', async () => {
  await digest([publish('post', pages[0]!)]);
  await rows('abc');
  const runs = (await runsOf(house.services.pool, house.lidos, workflow, 10)).sort((a, b) => a.id - b.id);
  await cancelRun(house.services, house.lidos, runs[0]!.id);
  await hours(3);
  expect(await out()).toEqual([`${mark}b, ${mark}c`]);
  expect(await gatherings()).toBe(0);
});

describe('gathered, and going on with the last that came', () => {
  const after = () => [wait, publish('post', pages[0]!)];
  const carriers = async () =>
    (await runsOf(house.services.pool, house.lidos, workflow, 10))
      .sort((a, b) => a.id - b.id)
      .map((run) => (run.trace.post ? 'goes on' : run.trace.all?.kind));

  it('is said once, by the last', async () => {
    await digest(after(), {}, 'last');
    await rows('abc');
    await hours(5);
    expect(await out()).toEqual([`${mark}a, ${mark}b, ${mark}c`]);
    expect(await carriers()).toEqual(['joined', 'joined', 'goes on']);
    expect(await gatherings()).toBe(0);
  });
  it.each([0, 2])('is carried on by the one before it when the last is withdrawn, %s hours later', async (passed) => {
    await digest(after(), {}, 'last');
    const ids = await rows('abc');
    await hours(passed);
    await edit(ids[2]!, { Status: 'draft' });
    await edit(ids[0]!, { Caption: `${mark}a, corrected` });
    await hours(5);
    expect(await out()).toEqual([`${mark}a, corrected, ${mark}b`]);
    expect(await carriers()).toEqual(['joined', 'goes on', undefined]);
  });
});

describe('something gathered that is asked about anew before it comes to the whole again', () => {
  const ask: Step = { id: 'ask', verb: 'hold', question: 'Good?', text: 'line' };
  const inOrder = async () =>
    (await runsOf(house.services.pool, house.lidos, workflow, 10)).sort((a, b) => a.id - b.id);
  async function decideAll(what: 'retry' | 'end'): Promise<void> {
    for (const run of await inOrder())
      for (const slot of run.state ? slotsIn(run.state).filter(({ status }) => status === 'held') : [])
        await decide(house.services, house.lidos, run.id, slot.key, { do: what });
    await house.settle();
  }

  it('is out at one outlet once, and at the next in the words that were said yes to', async () => {
    await digest([publish('one', pages[0]!), wait, publish('two', pages[1]!)], {}, undefined, [ask]);
    const [first] = await rows('ab');
    await decideAll('retry');
    await hours(1);
    expect(await out()).toEqual([`${mark}a, ${mark}b`]);
    await edit(first!, { Caption: `${mark}a, corrected` });
    // The run that carries it waits for a yes again; nobody else says it meanwhile.
    await hours(1);
    expect(await out()).toHaveLength(1);
    await decideAll('retry');
    await hours(3);
    expect(await out()).toEqual([`${mark}a, ${mark}b`]);
    expect(ofThisTest(await house.posts('gannet-point'))).toEqual([`${mark}a, corrected, ${mark}b`]);
    expect(await gatherings()).toBe(0);
  });

  it('and is ended by a person then: the others go out without it', async () => {
    await digest([wait, publish('post', pages[0]!)], {}, undefined, [ask]);
    const [first] = await rows('ab');
    await decideAll('retry');
    await hours(1);
    await edit(first!, { Caption: `${mark}a, corrected` });
    await decideAll('end');
    await hours(4);
    expect(await out()).toEqual([`${mark}b`]);
    expect(await gatherings()).toBe(0);
  });
});
