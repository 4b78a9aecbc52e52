// A row is corrected, or its run ended, just while its post is on its way, and the try fails: what was not sent is not sent in
// the old words.
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { createOutlet } from '../accounts/outlets.ts';
import { NetworkTrouble, type Connector } from '../connectors/connector.ts';
import { change, select } from '../db/database.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { runsOf } from '../testing/runs-of.ts';
import { live, pause, plannedRows } from '../testing/workflow.ts';
import { lookNow } from '../watch/look.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { cancelRun } from '../workflows/run-actions.ts';
import { leaseOf, performEffects } from './perform-effects.ts';
import { takeRuns } from './take-runs.ts';

let house: House;
let watch: number;
let page: number;
let account: number;
let workflow: number;
let count = 0;
const HOUR = 3_600_000;
type Send = NonNullable<Connector['acts']['publish']>['send'];
let send: Send;

beforeAll(async () => {
  house = await openHouse();
  account = await house.connect('pages');
  const sheets = await house.connect('sheets');
  const columns = 'Caption, Status, At';
  const table = await createOutlet(house.services, house.lidos, sheets, 'table', {
    file: 'Plan',
    name: 'Now',
    columns,
  });
  watch = await watchOutlet(house.services, house.lidos, table, 'rows');
  await lookNow(house.services, watch);
  page = await house.page();
  send = house.services.connectors.pages.acts.publish!.send;
});
afterAll(() => house?.close());
beforeEach(async () => {
  house.clock.now = testNow();
  workflow = await live(house, plannedRows(watch, [page]));
});
afterEach(async () => {
  house.services.connectors.pages.acts.publish!.send = send;
  await pause(house, workflow);
});

/** Does something while the next post is on its way, which then ends as `end` says. */
function meanwhile(work: () => Promise<void>, end: NetworkTrouble | 'sent' | 'died'): void {
  house.services.connectors.pages.acts.publish!.send = async (...given) => {
    house.services.connectors.pages.acts.publish!.send = send;
    await work();
    if (end === 'sent') return send(...given);
    if (end === 'died') throw new Error('The process died.');
    throw end;
  };
}
async function row(): Promise<{ id: number; caption: string }> {
  const caption = `Under way ${++count}`;
  const cells = { Caption: caption, Status: 'ready', At: new Date(house.clock.now + HOUR).toISOString() };
  const id = await house.play({ do: 'row', tab: 'Now', cells });
  await lookNow(house.services, watch);
  await house.settle();
  house.clock.now += HOUR + 1000;
  await lookNow(house.services, watch);
  while ((await takeRuns(house.services)) > 0);
  return { id, caption };
}
async function edit(id: number, cells: Record<string, string>): Promise<void> {
  await house.play({ do: 'change-row', id, cells });
  await lookNow(house.services, watch);
  while ((await takeRuns(house.services)) > 0);
}
async function later(hours = 2): Promise<void> {
  house.clock.now += hours * HOUR;
  await house.settle();
  // A run that wakes waits for a look at its source.
  await lookNow(house.services, watch);
  house.clock.now += 2000;
  await house.settle();
}
const out = async () => (await house.posts()).map(({ text }) => text).filter((text) => text.includes(`way ${count}`));
const run = async () => (await runsOf(house.services.pool, house.lidos, workflow, 1))[0]!;

const FAILURES: [string, NetworkTrouble][] = [
  ['is put off', new NetworkTrouble('retry', 'Unwell.', { definite: true })],
  ['is asked to wait', new NetworkTrouble('wait', 'Slower, please.', { definite: true, retryAfter: 60_000 })],
  ['is refused', new NetworkTrouble('fix', 'Not such words.', { definite: true })],
];

describe('a row that is corrected while its post is on its way', () => {
  it.each(FAILURES)('goes out in the new words alone when the try %s', async (_, trouble) => {
    const { id, caption } = await row();
    meanwhile(() => edit(id, { Caption: `${caption}, corrected` }), trouble);
    await performEffects(house.services);
    await later();
    expect(await out()).toEqual([`${caption}, corrected`]);
    expect((await run()).status).toBe('done');
  });

  it('does not go out when it was set back, and the try fails', async () => {
    const { id } = await row();
    meanwhile(() => edit(id, { Status: 'draft' }), FAILURES[0]![1]);
    await performEffects(house.services);
    await later();
    expect(await out()).toEqual([]);
    expect((await run()).status).toBe('stopped');
  });

  it('goes out at its new time when it was moved, and the try fails', async () => {
    const { id, caption } = await row();
    const moved = new Date(house.clock.now + 5 * HOUR).toISOString();
    meanwhile(() => edit(id, { At: moved }), FAILURES[0]![1]);
    await performEffects(house.services);
    await later(2);
    expect(await out()).toEqual([]);
    await later(4);
    expect(await out()).toEqual([caption]);
  });

  it('is out as it was, once, when the try succeeds', async () => {
    const { id, caption } = await row();
    meanwhile(() => edit(id, { Caption: `${caption}, corrected` }), 'sent');
    await performEffects(house.services);
    await later();
    expect(await out()).toEqual([caption]);
    expect((await run()).status).toBe('done');
  });

  it('waits for its account with the new words, not with the old', async () => {
    const { id, caption } = await row();
    meanwhile(() => edit(id, { Caption: `${caption}, corrected` }), new NetworkTrouble('reconnect', 'Sign in again.'));
    await performEffects(house.services);
    await later();
    expect(await out()).toEqual([]);
    expect(await house.connect('pages')).toBe(account);
    await later();
    expect(await out()).toEqual([`${caption}, corrected`]);
  });

  it('goes out in the new words when the worker died before it sent anything, where that is known', async () => {
    const { publish } = house.services.connectors.pages.acts;
    publish!.repeats = 'blind';
    try {
      const { id, caption } = await row();
      meanwhile(() => edit(id, { Caption: `${caption}, corrected` }), 'died');
      await performEffects(house.services);
      // It had claimed the act, and not come to noting that it sends.
      await change(house.services.pool, "UPDATE effects SET unsure = 0 WHERE status = 'sending'");
      house.clock.now += leaseOf(house.services) + 1000;
      await later();
      expect(await out()).toEqual([`${caption}, corrected`]);
    } finally {
      publish!.repeats = 'keyed';
    }
  });

  it('goes out once, as it was, where a dead worker may have sent it; also when the next try fails', async () => {
    const { id, caption } = await row();
    meanwhile(async () => {
      await edit(id, { Caption: `${caption}, corrected` });
    }, 'died');
    await performEffects(house.services);
    house.clock.now += leaseOf(house.services) + 1000;
    // Whoever takes it up meets a network that is down: that says nothing about the first try.
    meanwhile(async () => undefined, new NetworkTrouble('retry', 'Down.'));
    await performEffects(house.services);
    await edit(id, { Caption: `${caption}, corrected twice` });
    await later();
    expect(await out()).toEqual([caption]);
  });
});

describe('a run that is ended while its post is on its way', () => {
  it.each(FAILURES)('sends nothing afterwards when the try %s', async (_, trouble) => {
    await row();
    const of = (await run()).id;
    meanwhile(() => cancelRun(house.services, house.lidos, of).then(() => undefined), trouble);
    await performEffects(house.services);
    await later();
    expect(await out()).toEqual([]);
    expect((await run()).status).toBe('cancelled');
    const left = await select(
      house.services.pool,
      "SELECT id FROM effects WHERE run_id = ? AND status NOT IN ('cancelled', 'done')",
      [of],
    );
    expect(left).toEqual([]);
    // Nor is it shown as on its way for ever.
    expect(JSON.stringify((await run()).trace)).not.toContain('"sending"');
  });

  it('sends nothing when its row is deleted, and the try fails', async () => {
    const { id } = await row();
    meanwhile(async () => {
      await house.play({ do: 'delete-row', id });
      await lookNow(house.services, watch);
      while ((await takeRuns(house.services)) > 0);
    }, FAILURES[0]![1]);
    await performEffects(house.services);
    await later();
    expect(await out()).toEqual([]);
    expect((await run()).status).toBe('stopped');
  });

  it('and what was held before it changed is asked about in the new words', async () => {
    const { id, caption } = await row();
    meanwhile(async () => undefined, FAILURES[2]![1]);
    await performEffects(house.services);
    const held = await run();
    expect(held.status).toBe('held');
    await edit(id, { Caption: `${caption}, corrected` });
    await later();
    expect(await out()).toEqual([`${caption}, corrected`]);
  });
});
