// What starts a workflow besides what appears: a change of chosen columns, and a row that becomes ready.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Trigger } from '@playa/core/triggers/trigger.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';
import { createOutlet } from '../accounts/outlets.ts';
import { change, select } from '../db/database.ts';
import { plannedPosts } from '../store/planned.ts';
import { asideOf } from '../store/set-aside.ts';
import { workflowBy } from '../store/workflows.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { runsOf } from '../testing/runs-of.ts';
import { live, pause as pauseNow } from '../testing/workflow.ts';
import { takeRuns } from '../runner/take-runs.ts';
import { goLive, pause, resume } from '../workflows/go-live.ts';
import { missedWhilePaused } from '../workflows/taking.ts';
import { lookNow } from './look.ts';
import { startTurning } from './turning.ts';
import { watchOutlet } from './watchable.ts';

let house: House;
let watch: number;
let page: number;
let count = 0;
const HOUR = 3_600_000;

let sheets: number;
let tab = 0;

beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  sheets = await house.connect('sheets');
  page = await house.page();
});
afterAll(() => house?.close());
// The clock is set back for each, so each has a table of its own.
beforeEach(async () => {
  house.clock.now = testNow();
  const name = `Ready ${++tab}`;
  const table = await createOutlet(house.services, house.lidos, sheets, 'table', {
    file: 'Plan',
    name,
    columns: 'Caption, Status, At',
  });
  watch = await watchOutlet(house.services, house.lidos, table, 'rows');
  await lookNow(house.services, watch);
});

const READY: Extract<Trigger, { on: 'becomes' }> = {
  on: 'becomes',
  when: {
    type: 'group',
    match: 'all',
    items: [
      { type: 'test', field: 'Status', op: 'is', value: 'ready' },
      { type: 'test', field: 'At', op: 'hasCome' },
    ],
  },
};
const posting = (trigger: Trigger, waits = 0): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch, trigger }],
  steps: [
    ...(waits ? [{ id: 'w', verb: 'wait' as const, until: { type: 'duration' as const, seconds: waits } }] : []),
    { id: 'words', verb: 'compose', name: 'caption', text: '{$Caption}' },
    { id: 'post', verb: 'publish', outlets: [page], caption: 'caption', card: null },
  ],
  settings: { ...NO_SETTINGS, brake: { hour: 10_000, day: 100_000 } },
});

async function look(): Promise<void> {
  await lookNow(house.services, watch);
  await house.settle();
}
async function row(status: string, at: number): Promise<number> {
  const cells = { Caption: `Row ${++count}`, Status: status, At: new Date(at).toISOString() };
  const id = await house.play({ do: 'row', tab: `Ready ${tab}`, cells });
  await look();
  return id;
}
async function edit(id: number, cells: Record<string, string>): Promise<void> {
  await house.play({ do: 'change-row', id, cells });
  await look();
}
/** Lets time pass; the source is looked at when somebody asks for it. */
async function pass(hours: number): Promise<void> {
  house.clock.now += hours * HOUR;
  await house.settle();
  await look();
  house.clock.now += 2000;
  await house.settle();
}
const out = async () => (await house.posts()).map((post) => post.text).filter((text) => text.includes(`Row ${count}`));
const ends = async (workflow: number) =>
  (await runsOf(house.services.pool, house.lidos, workflow, 20)).map((run) => run.status);

describe('a row that becomes ready', () => {
  it('goes out at its moment, without a look', async () => {
    const workflow = await live(house, posting(READY));
    await row('ready', house.clock.now + HOUR);
    const at = house.clock.now + HOUR;
    const planned = () => plannedPosts(house.services.pool, house.lidos, { from: null, to: null, paused: false }, 10);
    // Screens know of it before its run has begun.
    expect(await planned()).toMatchObject([{ runId: null, workflowId: workflow, at, state: 'ahead', sure: true }]);
    await pass(0.9);
    expect(await out()).toEqual([]);
    expect(await ends(workflow)).toEqual([]);
    await pass(0.1);
    expect(await out()).toHaveLength(1);
    expect(await planned()).toEqual([]);
    await pass(5);
    await look();
    expect(await out()).toHaveLength(1);
    await pauseNow(house, workflow);
  });

  it('that is deleted before its moment is planned no more, and never goes out', async () => {
    const workflow = await live(house, posting(READY));
    const id = await row('ready', house.clock.now + HOUR);
    await house.play({ do: 'delete-row', id });
    await look();
    expect(await plannedPosts(house.services.pool, house.lidos, { from: null, to: null, paused: false }, 10)).toEqual(
      [],
    );
    await pass(2);
    expect(await out()).toEqual([]);
    expect(await ends(workflow)).toEqual([]);
    await pauseNow(house, workflow);
  });
  it('waits for whatever is missing: the status, or the time', async () => {
    const workflow = await live(house, posting(READY));
    const id = await row('draft', house.clock.now - HOUR);
    await pass(1);
    expect(await out()).toEqual([]);
    await edit(id, { Status: 'ready' });
    expect(await out()).toHaveLength(1);
    await pauseNow(house, workflow);
  });

  it('whose date cannot be read is put before a person, and goes out once it can be', async () => {
    const workflow = await live(house, posting(READY));
    const id = await row('ready', house.clock.now + HOUR);
    await edit(id, { At: 'after the storm' });
    const aside = await asideOf(house.services.pool, house.lidos, 100);
    expect(aside.map(({ why }) => why)).toContain(
      '“after the storm” in At cannot be read as a date, so that its time never comes.',
    );
    await pass(2);
    expect(await out()).toEqual([]);
    await edit(id, { At: new Date(house.clock.now + HOUR).toISOString() });
    await pass(1);
    expect(await out()).toHaveLength(1);
    await pauseNow(house, workflow);
  });

  it('moved meanwhile goes out at its new moment, once; withdrawn it does not', async () => {
    const workflow = await live(house, posting(READY));
    const id = await row('ready', house.clock.now + HOUR);
    await edit(id, { At: new Date(house.clock.now + 3 * HOUR).toISOString() });
    await pass(2);
    expect(await out()).toEqual([]);
    await pass(1);
    expect(await out()).toHaveLength(1);
    const other = await row('ready', house.clock.now + HOUR);
    await edit(other, { Status: 'draft' });
    await pass(2);
    expect(await out()).toEqual([]);
    await pauseNow(house, workflow);
  });

  it('set back while its run waits ends it, and made ready anew goes out once', async () => {
    const workflow = await live(house, posting(READY, 3600));
    const id = await row('ready', house.clock.now - 1000);
    await edit(id, { Status: 'draft' });
    expect(await ends(workflow)).toEqual(['stopped']);
    await edit(id, { Status: 'ready' });
    await pass(1.1);
    expect(await out()).toHaveLength(1);
    await pass(3);
    expect(await out()).toHaveLength(1);
    await pauseNow(house, workflow);
  });

  it('that went out once says so when it is ready again, and goes out again only where that is wanted', async () => {
    for (const again of [undefined, true] as const) {
      const workflow = await live(house, posting({ ...READY, again }));
      const id = await row('ready', house.clock.now - 1000);
      expect(await out()).toHaveLength(1);
      await edit(id, { Status: 'draft' });
      await edit(id, { Status: 'ready' });
      expect(await out()).toHaveLength(again ? 2 : 1);
      const [last] = await runsOf(house.services.pool, house.lidos, workflow, 1);
      if (!again) {
        expect(last!.status).toBe('stopped');
        expect(last!.trace.source).toMatchObject({ kind: 'stops', why: expect.stringContaining('went out') as string });
      }
      await pauseNow(house, workflow);
    }
  });

  it('before the workflow went live starts nothing; what becomes so afterwards does', async () => {
    await row('ready', house.clock.now - HOUR);
    const soon = await row('ready', house.clock.now + HOUR);
    const workflow = await live(house, posting(READY));
    await house.settle();
    expect(await ends(workflow)).toEqual([]);
    await pass(1);
    expect(await out()).toHaveLength(1);
    expect(await ends(workflow)).toEqual(['done']);
    expect(soon).toBeGreaterThan(0);
    await pauseNow(house, workflow);
  });

  it('in the very moment in which its workflow gets a new version is not lost', async () => {
    const workflow = await live(house, posting(READY));
    await row('ready', house.clock.now + HOUR);
    house.clock.now += HOUR;
    const stored = (await workflowBy(house.services.pool, house.lidos, workflow))!;
    const beginning = { last: 0, every: 0 };
    const request = {
      brandId: house.lidos,
      workflowId: workflow,
      revision: stored.draftRevision,
      userId: null,
      beginning,
    };
    await goLive(house.services, request);
    await house.settle();
    expect(await out()).toHaveLength(1);
    await pauseNow(house, workflow);
  });

  it('while its workflow is paused is asked about, and taken or left as chosen', async () => {
    for (const take of ['all', 'none'] as const) {
      const workflow = await live(house, posting(READY));
      await row('ready', house.clock.now + HOUR);
      await pause(house.services, house.lidos, workflow);
      await pass(2);
      expect(await out()).toEqual([]);
      const stored = (await workflowBy(house.services.pool, house.lidos, workflow))!;
      expect(await missedWhilePaused(house.services.pool, stored, house.clock.now)).toHaveLength(1);
      await resume(house.services, house.lidos, workflow, { take, last: 0, every: 0 });
      await house.settle();
      await pass(1);
      expect(await out()).toHaveLength(take === 'all' ? 1 : 0);
      await pauseNow(house, workflow);
    }
  });

  it('is started by one worker only, whatever they do beside each other', async () => {
    const workflow = await live(house, posting(READY));
    const rows = [];
    for (let each = 0; each < 4; each++) rows.push(await row('ready', house.clock.now + HOUR));
    house.clock.now += HOUR;
    const services = { ...house.services, looksBeside: false };
    await Promise.all([1, 2, 3, 4].map(() => startTurning(services)));
    await startTurning(services);
    expect(await ends(workflow)).toEqual(rows.map(() => 'new'));
    await house.settle();
    await pauseNow(house, workflow);
  });

  it('is not started twice where an earlier run is about to come back', async () => {
    const workflow = await live(house, posting(READY, 3600));
    const id = await row('ready', house.clock.now - 1000);
    await edit(id, { At: new Date(house.clock.now + HOUR).toISOString() });
    expect(await ends(workflow)).toEqual(['stopped']);
    house.clock.now += HOUR - 1;
    // A change is known, and the run that it concerns has not heard of it yet.
    await house.play({ do: 'change-row', id, cells: { Caption: `Row ${count}, better` } });
    await lookNow(house.services, watch);
    house.clock.now += 1;
    expect(await startTurning({ ...house.services, looksBeside: false })).toBe(1);
    while ((await takeRuns(house.services)) > 0);
    await pass(2);
    expect(await out()).toEqual([`Row ${count}, better`]);
    await pauseNow(house, workflow);
  });

  it('that cannot be started holds back no other, and a person is told', async () => {
    const workflow = await live(house, posting(READY));
    await row('ready', house.clock.now + HOUR);
    const [item] = await select<{ id: number; fields: string }>(
      house.services.pool,
      'SELECT id, fields FROM items WHERE watch_id = ? ORDER BY id DESC LIMIT 1',
      [watch],
    );
    await row('ready', house.clock.now + HOUR);
    await change(house.services.pool, "UPDATE items SET fields = '[' WHERE id = ?", [item!.id]);
    house.clock.now += HOUR;
    const services = { ...house.services, looksBeside: false };
    expect(await startTurning(services)).toBe(1);
    expect(await startTurning(services)).toBe(0);
    await change(house.services.pool, 'UPDATE items SET fields = ? WHERE id = ?', [item!.fields, item!.id]);
    await house.settle();
    expect(await out()).toHaveLength(1);
    expect((await asideOf(house.services.pool, house.lidos, 100)).map(({ what }) => what)).toContain(
      `Item ${item!.id}`,
    );
    await pauseNow(house, workflow);
  });
});

describe('a row whose chosen columns change', () => {
  it('starts the workflow then, and not when it appears or another column changes', async () => {
    const workflow = await live(house, posting({ on: 'changes', fields: ['Status'] }));
    const id = await row('draft', house.clock.now);
    expect(await ends(workflow)).toEqual([]);
    await edit(id, { At: new Date(house.clock.now + HOUR).toISOString() });
    expect(await ends(workflow)).toEqual([]);
    await edit(id, { Status: 'ready' });
    expect(await out()).toHaveLength(1);
    await edit(id, { Status: 'draft' });
    expect(await out()).toHaveLength(2);
    await pauseNow(house, workflow);
  });
});
