// Nothing one sender does stops another: whatever is rotten is set aside with its reason, and what stands beside it goes
// on. Each case alone, then beside a healthy brand.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { change, select } from '../db/database.ts';
import { asideOf, putAsideAway } from '../store/set-aside.ts';
import { openHouse, type House } from '../testing/house.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { workflowsOf } from '../store/workflows.ts';
import { live } from '../testing/workflow.ts';
import { renameSourceField } from '../watch/rename.ts';
import { serve, toldWorkflow, type Told } from '../testing/told.ts';
import { tryRunAgain } from '../workflows/decide.ts';
import { readDeliveries, receive } from '../watch/hooks.ts';
import { performEffects } from './perform-effects.ts';
import { takeRuns } from './take-runs.ts';
import { heldRuns, runsOf } from '../testing/runs-of.ts';

let house: House;
let calls: Awaited<ReturnType<typeof serve>>;
let answer: string;
beforeAll(async () => {
  calls = await serve((_, __, res) => res.writeHead(200, { 'content-type': 'application/json' }).end(answer));
  house = await openHouse({}, [calls.host]);
});
afterAll(async () => {
  calls?.server.close();
  await house?.close();
});
beforeEach(() => (answer = '{}'));

const hello = { id: 'say', verb: 'notify' as const, to: [], text: 'Hello {$title}' };
const nested = (depth: number): unknown => {
  let value: unknown = 'bottom';
  for (let n = 0; n < depth; n++) value = { a: value };
  return value;
};
const send = (told: Told, body: string | Buffer, headers: Record<string, string> = {}) =>
  receive(house.services, told.token, Buffer.from(body), { 'content-type': 'application/json', ...headers });
const statuses = async (told: Told) =>
  (await runsOf(house.services.pool, house.lidos, told.id, 50)).map((run) => run.status).sort();

describe('what is sent to a web hook', () => {
  it.each<[what: string, body: string, says: RegExp]>([
    ['nested 21 deep', JSON.stringify(nested(21)), /nested more than 12 deep/],
    ['of 3,000 brackets', '['.repeat(3000) + ']'.repeat(3000), /nested more than 12 deep/],
    ['of 40,000 values', JSON.stringify(Array.from({ length: 40_000 }, () => 1)), /more than 20,000 values/],
    ['that breaks off', '{"title":', /not JSON/],
  ])('%s is refused with its reason, kept, and shown', async (_, body, says) => {
    const told = await toldWorkflow(house, [hello]);
    const received = await send(told, body);
    expect(received).toMatchObject({ status: 422 });
    expect('says' in received && received.says).toMatch(says);
    await house.settle();
    const [aside] = await asideOf(house.services.pool, house.lidos, 10);
    expect(aside).toMatchObject({ kind: 'delivery', source: 'A hook' });
    expect(aside!.why).toMatch(says);
    // The next one is none the worse for it.
    await told.tell({ title: 'after it' });
    expect(await statuses(told)).toEqual(['done']);
    expect(await putAsideAway(house.services.pool, house.lidos, aside!.id, house.clock.now)).toMatchObject({
      why: aside!.why,
      source: 'A hook',
    });
    expect(await putAsideAway(house.services.pool, house.bakehouse, aside!.id, house.clock.now)).toBeNull();
  });

  it.each<[what: string, body: string]>([
    ['a lone surrogate', '{"title":"sea \\ud83c"}'],
    ['a lone surrogate in a name', '{"title":"x","a\\ud83c":1}'],
    ['an emoji over the edge of an example', JSON.stringify({ title: `${'a'.repeat(199)}🏊` })],
    ['JSON 11 levels deep', JSON.stringify({ title: 'x', deep: nested(10) })],
    ['lists within lists', JSON.stringify({ title: 'x', deep: [[[[[[[[[[1]]]]]]]]]] })],
    ['names of the language itself', '{"title":"x","__proto__":{"a":1},"constructor":{"b":2},"hasOwnProperty":3}'],
    ['a very long text', JSON.stringify({ title: '🏊'.repeat(100_000) })],
    ['a thousand fields', JSON.stringify(Object.fromEntries(Array.from({ length: 1000 }, (_, n) => [`f${n}`, n])))],
    ['zeros', '{"title":"a\\u0000b"}'],
  ])('with %s is taken', async (_, body) => {
    const told = await toldWorkflow(house, [hello]);
    expect(await send(told, body)).toEqual({ status: 202, repeated: false });
    await house.settle();
    expect(await statuses(told)).toEqual(['done']);
  });

  it('and cannot be read at all stops nobody', async () => {
    const rotten = await toldWorkflow(house, [hello]);
    const healthy = await toldWorkflow(house, [hello]);
    await send(rotten, '{"title":"one"}');
    await send(healthy, '{"title":"two"}');
    // Whatever goes wrong with one hook: here its schema was damaged.
    await change(house.services.pool, 'UPDATE hooks SET json_schema = \'{"type":7}\' WHERE watch_id = ?', [
      rotten.watch,
    ]);
    await house.settle();
    expect(await statuses(healthy)).toEqual(['done']);
    expect(await statuses(rotten)).toEqual([]);
    expect(await readDeliveries(house.services)).toBe(0);
    expect((await asideOf(house.services.pool, house.lidos, 1))[0]).toMatchObject({ kind: 'delivery' });
  });

  describe('a second time, by a sender without message ids', () => {
    const HOUR = 3_600_000;
    /** Minutes after a full hour of the first, and minutes until the second; whether it counts as the same. */
    it.each([
      [0, 1, true],
      [59, 2, true], // over the full hour
      [30, 59, true],
      [30, 59.99, true],
      [30, 60.01, false],
      [59.99, 60.02, false],
      [1, 120, false],
    ])('%d min past the hour and %d min later: the same %s', async (past, later, same) => {
      const told = await toldWorkflow(house, [hello]);
      house.clock.now = Math.ceil(house.clock.now / HOUR) * HOUR + past * 60_000;
      expect(await send(told, '{"title":"again"}')).toMatchObject({ repeated: false });
      house.clock.now += later * 60_000;
      expect(await send(told, '{"title":"again"}')).toMatchObject({ repeated: same });
      await house.settle();
      expect(await statuses(told)).toEqual(same ? ['done'] : ['done', 'done']);
    });

    it('at the very same moment is one', async () => {
      const told = await toldWorkflow(house, [hello]);
      const both = await Promise.all(Array.from({ length: 6 }, () => send(told, '{"title":"at once"}')));
      expect(both.filter((each) => 'repeated' in each && !each.repeated)).toHaveLength(1);
    });

    it('with a message id is known by that for ever, and by nothing else', async () => {
      const told = await toldWorkflow(house, [hello]);
      expect(await send(told, '{"title":"a"}', { 'webhook-id': '1' })).toMatchObject({ repeated: false });
      expect(await send(told, '{"title":"a"}', { 'webhook-id': '2' })).toMatchObject({ repeated: false });
      house.clock.now += 7 * 24 * HOUR;
      expect(await send(told, '{"title":"b"}', { 'webhook-id': '1' })).toMatchObject({ repeated: true });
    });
  });
});

describe('a run that cannot be read', () => {
  const wait = { id: 'wait', verb: 'wait' as const, until: { type: 'duration' as const, seconds: 60 } };

  it.each([
    ['whose state another version wrote', `state = '{"status":"resting","root":{}}'`],
    ['whose state is damaged', `state = '{"status":'`],
    ['whose trace is damaged', `trace = '{"say":{"kind":"unheard of"}}'`],
  ])('%s waits for a person, and no other waits for it', async (_, damage) => {
    const rotten = await toldWorkflow(house, [wait, hello]);
    const healthy = await toldWorkflow(house, [wait, hello]);
    await rotten.tell({ title: 'one' });
    await healthy.tell({ title: 'two' });
    const [row] = await select<{ state: string; trace: string }>(
      house.services.pool,
      'SELECT state, trace FROM runs WHERE workflow_id = ?',
      [rotten.id],
    );
    await change(house.services.pool, `UPDATE runs SET ${damage} WHERE workflow_id = ?`, [rotten.id]);
    house.clock.now += 61_000;
    await house.settle();
    expect(await statuses(healthy)).toEqual(['done']);
    const [run] = (await heldRuns(house.services.pool, house.lidos)).filter((each) => each.workflowId === rotten.id);
    expect(run!.trouble).toMatch(/cannot read how far/);
    expect(await takeRuns(house.services)).toBe(0);
    // Once it can be read again, it goes on from there.
    await change(house.services.pool, 'UPDATE runs SET state = ?, trace = ? WHERE workflow_id = ?', [
      row!.state,
      row!.trace,
      rotten.id,
    ]);
    await tryRunAgain(house.services, house.lidos, run!.id);
    await house.settle();
    expect(await statuses(rotten)).toEqual(['done']);
  });

  it('gets what its act came to all the same, once it can be', async () => {
    const rotten = await toldWorkflow(house, [call(), hello]);
    await rotten.tell({ title: 'one' });
    expect(await statuses(rotten)).toEqual(['done']);
    await send(rotten, '{"title":"two"}');
    await readDeliveries(house.services);
    await takeRuns(house.services);
    const [row] = await select<{ id: number; state: string }>(
      house.services.pool,
      "SELECT id, state FROM runs WHERE workflow_id = ? AND status = 'waiting'",
      [rotten.id],
    );
    await change(house.services.pool, "UPDATE runs SET state = '{}' WHERE id = ?", [row!.id]);
    await house.settle();
    expect((await heldRuns(house.services.pool, house.lidos)).some((run) => run.id === row!.id)).toBe(true);
    await change(house.services.pool, 'UPDATE runs SET state = ? WHERE id = ?', [row!.state, row!.id]);
    await tryRunAgain(house.services, house.lidos, row!.id);
    await house.settle();
    expect(await statuses(rotten)).toEqual(['done', 'done']);
  });
});

const call = () => ({
  id: 'call',
  verb: 'call' as const,
  method: 'GET' as const,
  url: `http://${calls.host}/`,
  headers: [],
  body: null,
  keyed: false,
  as: 'answer',
  sample: {},
  again: null,
  whenNot: 'on' as const,
});

describe('a workflow that cannot be read', () => {
  it('keeps no other that shares its source from running, and its own runs wait', async () => {
    const rotten = await toldWorkflow(house, [hello]);
    const definition = { schema: 1, sources: [{ id: 'source', watch: rotten.watch }], steps: [hello] } as Definition;
    const healthy = await live(house, definition);
    await change(house.services.pool, `UPDATE versions SET definition = '{"schema":2}' WHERE workflow_id = ?`, [
      rotten.id,
    ]);
    await rotten.tell({ title: 'one' });
    expect((await runsOf(house.services.pool, house.lidos, healthy, 5)).map((run) => run.status)).toEqual(['done']);
    expect(await statuses(rotten)).toEqual(['held']);
    // Nor do the screens of the brand stop.
    await change(house.services.pool, `UPDATE workflows SET draft = '{"schema":2}' WHERE id = ?`, [rotten.id]);
    const all = await workflowsOf(house.services.pool, house.lidos);
    expect(all.find((each) => each.id === rotten.id)).toMatchObject({ unreadable: true, name: 'A workflow' });
    expect(all.find((each) => each.id === healthy)).not.toHaveProperty('unreadable');
    await expect(renameSourceField(house.services, house.lidos, rotten.watch, 'title', 'heading')).rejects.toThrow();
  });
});

describe('an act that cannot be read', () => {
  it('is put before a person, and no other waits for it', async () => {
    const rotten = await toldWorkflow(house, [call(), hello]);
    const healthy = await toldWorkflow(house, [call(), hello]);
    await send(rotten, '{"title":"one"}');
    await send(healthy, '{"title":"two"}');
    await readDeliveries(house.services);
    await takeRuns(house.services);
    await change(house.services.pool, `UPDATE effects SET input = '{"method":"SING"}' WHERE workflow_id = ?`, [
      rotten.id,
    ]);
    await house.settle();
    expect(await statuses(healthy)).toEqual(['done']);
    expect(await statuses(rotten)).toEqual(['held']);
    expect(await performEffects(house.services)).toBe(0);
  });
});

describe('the answer of a service', () => {
  it.each<[what: string, body: () => string, says: RegExp]>([
    ['nested 30 deep', () => JSON.stringify(nested(30)), /nested more than 12 deep/],
    ['of 30,000 values', () => JSON.stringify(Array.from({ length: 30_000 }, () => 0)), /more than 20,000 values/],
  ])('%s is asked for once, and a person is told', async (_, body, says) => {
    answer = body();
    const told = await toldWorkflow(house, [call(), hello]);
    await told.tell({ title: 'x' });
    expect(await statuses(told)).toEqual(['held']);
    const [effect] = await select<{ trouble: string; status: string }>(
      house.services.pool,
      'SELECT trouble, status FROM effects WHERE workflow_id = ?',
      [told.id],
    );
    expect(effect!.status).toBe('held');
    expect(effect!.trouble).toMatch(says);
    house.clock.now += 3_600_000;
    expect(await performEffects(house.services)).toBe(0);
  });

  it.each<[what: string, body: () => string]>([
    ['with a lone surrogate', () => '{"title":"sea \\ud83c"}'],
    ['that is no JSON', () => 'half a 🏊'],
    ['with an emoji over every edge', () => JSON.stringify({ list: [`${'a'.repeat(79)}🏊`, `${'b'.repeat(199)}🏊`] })],
  ])('%s is taken', async (_, body) => {
    answer = body();
    const each = {
      id: 'each',
      verb: 'foreach' as const,
      list: 'answer.list',
      as: 'one',
      most: null,
      together: true,
      steps: [{ id: 'line', verb: 'compose' as const, name: 'line', text: '{$one}' }],
    };
    const told = await toldWorkflow(house, [call(), each, hello]);
    await told.tell({ title: 'x' });
    expect(await statuses(told)).toEqual(['done']);
  });
});

describe('order and number of runs under way together', () => {
  it('a run that is held lets somebody else’s begin, and not the next of the same person', async () => {
    const hold = { id: 'hold', verb: 'hold' as const, question: 'Go on?', text: null };
    const told = await toldWorkflow(house, [hold, hello], { atOnce: 1, inOrder: 'who' });
    await send(told, '{"who":"ana","n":1}');
    await send(told, '{"who":"ana","n":2}');
    await send(told, '{"who":"bea","n":3}');
    await house.settle();
    const runs = (await runsOf(house.services.pool, house.lidos, told.id, 10)).sort((a, b) => a.id - b.id);
    expect(runs.map(({ status, queued }) => [status, queued])).toEqual([
      ['held', false],
      ['new', true],
      ['held', false],
    ]);
  });
});
