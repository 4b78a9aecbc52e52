import type { IncomingMessage, Server, ServerResponse } from 'node:http';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { slotsIn } from '@playa/core/model/state.ts';
import type { Step } from '@playa/core/steps/index.ts';
import { NO_TIMETABLE } from '@playa/core/timetable/timetable.ts';
import { CONNECTORS } from '../connectors/index.ts';
import { NetworkTrouble, type Connector } from '../connectors/connector.ts';
import { change, inTransaction, select } from '../db/database.ts';
import { addLogEntries, logEntriesSince } from '../store/logbook.ts';
import { noticesFor } from '../store/notices.ts';
import { findContacts } from '../store/contacts.ts';
import { runBy, type Run } from '../store/runs.ts';
import { thinRuns } from '../store/run-changes.ts';
import { keepSecret } from '../store/secrets.ts';
import { keepTimetable } from '../store/timetables.ts';
import { addVersion } from '../store/versions.ts';
import { workflowBy } from '../store/workflows.ts';
import { openHouse, type House } from '../testing/house.ts';
import { serve, toldWorkflow, type Told } from '../testing/told.ts';
import { decide } from '../workflows/decide.ts';
import { cancelRun, moveRuns, rerun, sentAgain } from '../workflows/run-actions.ts';
import { secretOwner } from './call-service.ts';
import { performEffects } from './perform-effects.ts';
import { takeRuns } from './take-runs.ts';
import { runsOf } from '../testing/runs-of.ts';

// The live driver on a real MariaDB: waits, nested steps, what runs have a say in together, calls, decisions.
let house: House;
let page: number;
let service: { server: Server; host: string };
/** What the service answers, and what it was asked. */
let answer: (req: IncomingMessage, body: string, res: ServerResponse) => void;
let asked: { method: string; url: string; headers: IncomingMessage['headers']; body: string }[] = [];
/** What the made-up network was asked to do. */
let acts: { action: string; outlet: string; input: unknown; key: string }[] = [];
let refuse: NetworkTrouble | null = null;

const act = (action: string) => ({
  repeats: 'keyed' as const,
  send: async (_session: unknown, outlet: string, input: unknown, key: string) => {
    if (refuse) throw refuse;
    if (!acts.some((each) => each.key === key)) acts.push({ action, outlet, input, key });
    const id = `${action}-${acts.findIndex((each) => each.key === key) + 1}`;
    return {
      remoteId: id,
      url: `https://net.example/${id}`,
      at: house.clock.now,
      ...(action === 'draft' ? { result: { text: 'As drafted' } } : {}),
    };
  },
});
const connectors: Record<string, Connector> = {
  ...CONNECTORS,
  pages: {
    ...CONNECTORS.pages,
    acts: Object.fromEntries(
      ['publish', 'reply', 'message', 'react', 'revise', 'record', 'draft'].map((name) => [name, act(name)]),
    ),
  },
};
beforeAll(async () => {
  service = await serve((req, body, res) => {
    asked.push({ method: req.method!, url: req.url!, headers: req.headers, body });
    answer(req, body, res);
  });
  house = await openHouse({ connectors: connectors as typeof CONNECTORS }, [service.host]);
  await house.connect('pages');
  page = await house.page();
  await keepTimetable(house.services.pool, house.lidos, page, { ...NO_TIMETABLE, sameWords: 0 }, 0);
});
afterAll(async () => {
  await house?.close();
  service?.server.close();
});
beforeEach(() => {
  acts = [];
  asked = [];
  refuse = null;
  answer = (_req, _body, res) => res.writeHead(200, { 'content-type': 'application/json' }).end('{"name":"Ines"}');
});

const compose = (text: string, id = 'words', name = 'caption'): Step => ({ id, verb: 'compose', name, text });
const publish = (id = 'post'): Step => ({
  id,
  verb: 'publish',
  outlets: [page],
  caption: 'caption',
  card: null,
  as: 'post',
});
const asks = (field: string, op: 'yes' | 'filled' | 'is', value?: string) => ({
  type: 'group' as const,
  match: 'all' as const,
  items: [{ type: 'test' as const, field, op, value }],
});
const runs = async (told: Told): Promise<Run[]> =>
  (await runsOf(house.services.pool, house.lidos, told.id, 100)).sort((a, b) => a.id - b.id);
const texts = () => acts.map((each) => (each.input as { text: string }).text);
async function later(milliseconds: number) {
  house.clock.now += milliseconds;
  await house.settle();
}

describe('waits', () => {
  it('end at their moment, on whichever worker, once', async () => {
    const told = await toldWorkflow(house, [
      { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 600 } },
      compose('After {$n}'),
      publish(),
    ]);
    await told.tell({ n: 1 });
    expect(acts).toEqual([]);
    expect((await runs(told))[0]).toMatchObject({ status: 'waiting', dueAt: house.clock.now + 600_000 });
    await later(599_000);
    expect(acts).toEqual([]);
    house.clock.now += 1000;
    await Promise.all([takeRuns(house.services), takeRuns(house.services), takeRuns(house.services)]);
    await house.settle();
    expect(texts()).toEqual(['After 1']);
  });
  it('neither lose nor double anything when the clock jumps an hour either way', async () => {
    for (const jump of [3_600_000, -3_600_000]) {
      acts = [];
      const told = await toldWorkflow(house, [
        { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 600 } },
        compose(`Jump ${jump}`),
        publish(),
      ]);
      const start = house.clock.now;
      await told.tell({ n: jump });
      house.clock.now = start + jump;
      await house.settle();
      house.clock.now = start + 601_000;
      await house.settle();
      await later(3_700_000);
      expect(texts()).toEqual([`Jump ${jump}`]);
      expect((await runs(told))[0]!.status).toBe('done');
    }
  });
});

describe('nested steps', () => {
  it('every element on its own, gathered into one', async () => {
    const told = await toldWorkflow(house, [
      {
        id: 'each',
        verb: 'foreach',
        list: 'pools',
        as: 'pool',
        most: null,
        together: true,
        steps: [
          {
            id: 'find',
            verb: 'call',
            method: 'GET',
            url: `http://${service.host}/pools/{$pool}`,
            headers: [],
            body: null,
            as: 'seen',
            sample: {},
            keyed: false,
            again: null,
            whenNot: 'on',
          },
          compose('{$pool}: {$seen.name}', 'line', 'line'),
        ],
      },
      {
        id: 'all',
        verb: 'gather',
        from: { type: 'each', step: 'each' },
        take: 'line',
        as: 'list',
        between: '; ',
        order: null,
        most: null,
        whenEmpty: 'stop',
      },
      compose('{$list}'),
      publish(),
    ]);
    answer = (req, _body, res) =>
      res.writeHead(200).end(JSON.stringify({ name: req.url!.split('/').at(-1)!.toUpperCase() }));
    await told.tell({ pools: ['a', 'b', 'c'] });
    expect(asked.map(({ url }) => url).sort()).toEqual(['/pools/a', '/pools/b', '/pools/c']);
    expect(texts()).toEqual(['a: A; b: B; c: C']);
    expect(Object.keys((await runs(told))[0]!.trace).filter((place) => place.startsWith('line'))).toHaveLength(3);
  });
});

describe('calls', () => {
  const call = (more: Partial<Extract<Step, { verb: 'call' }>> = {}): Step => ({
    id: 'call',
    verb: 'call',
    method: 'GET',
    url: `http://${service.host}/people/{$who}`,
    headers: [],
    body: null,
    as: 'person',
    sample: {},
    keyed: false,
    again: null,
    whenNot: 'on',
    ...more,
  });
  it('send secrets from the vault, which are nowhere else', async () => {
    await keepSecret(
      house.services.pool,
      house.lidos,
      'directory',
      house.services.vault.seal('Bearer s3cret-word', secretOwner(house.lidos, 'directory')),
      house.clock.now,
    );
    const told = await toldWorkflow(house, [
      call({ headers: [{ name: 'Authorization', secret: 'directory' }] }),
      compose('Hi {$person.name}'),
      publish(),
    ]);
    await told.tell({ who: 'a/b' });
    expect(asked[0]).toMatchObject({ url: '/people/a%2Fb', headers: { authorization: 'Bearer s3cret-word' } });
    expect(texts()).toEqual(['Hi Ines']);
    const stored = await select<{ text: string }>(
      house.services.pool,
      'SELECT CONCAT(state, trace) AS text FROM runs WHERE workflow_id = ? UNION ALL SELECT input FROM effects WHERE workflow_id = ?',
      [told.id, told.id],
    );
    expect(stored.map(({ text }) => text).join()).not.toContain('s3cret');
  });
  it('are asked again until something holds, at their moments', async () => {
    const told = await toldWorkflow(house, [
      call({ again: { until: asks('person.ready', 'yes'), every: 600, times: 4 } }),
      compose('{$person.name}'),
      publish(),
    ]);
    let tries = 0;
    answer = (_req, _body, res) =>
      ++tries < 3 ? res.writeHead(404).end() : res.writeHead(200).end('{"ready":true,"name":"Found"}');
    await told.tell({ who: 'x' });
    await later(600_000);
    expect(tries).toBe(2);
    expect(texts()).toEqual([]);
    await later(600_000);
    expect(texts()).toEqual(['Found']);
  });
  it('that change something are not repeated when nobody knows what became of them', async () => {
    const told = await toldWorkflow(house, [
      call({ method: 'POST', body: { type: 'json', text: '{"who":"{$who}"}' } }),
      compose('x'),
      publish(),
    ]);
    answer = (req) => req.socket.destroy();
    await told.tell({ who: 'x' });
    await later(120_000);
    const [run] = await runs(told);
    expect(run!.status).toBe('held');
    expect(asked).toHaveLength(1);
    const [slot] = slotsIn(run!.state!);
    expect(slot).toMatchObject({ trouble: 'unknown' });
    // A person changes what is sent, and has it sent anew.
    answer = (_req, _body, res) => res.writeHead(200).end('{}');
    await decide(house.services, house.lidos, run!.id, slot!.key, {
      do: 'retry',
      input: { ...slot!.input, body: { type: 'json', text: '{"who":"y"}' } },
    });
    await house.settle();
    expect(asked.at(-1)!.body).toBe('{"who":"y"}');
    expect(texts()).toEqual(['x']);
    await expect(decide(house.services, house.lidos, run!.id, slot!.key, { do: 'retry' })).rejects.toThrow(
      'no longer waits',
    );
  });
  it('that only ask are repeated, and those with a key carry it', async () => {
    const told = await toldWorkflow(house, [call({ method: 'POST', keyed: true }), compose('x'), publish()]);
    let tries = 0;
    answer = (req, _body, res) => (++tries === 1 ? void req.socket.destroy() : void res.writeHead(200).end('{}'));
    await told.tell({ who: 'x' });
    await later(60_000);
    const keys = asked.map(({ headers }) => headers['idempotency-key']);
    expect(keys).toHaveLength(2);
    expect(keys[0]).toBe(keys[1]);
  });
  it('refused for good are held with a reason', async () => {
    const told = await toldWorkflow(house, [call(), compose('x'), publish()]);
    answer = (_req, _body, res) => res.writeHead(403).end();
    await told.tell({ who: 'x' });
    expect(slotsIn((await runs(told))[0]!.state!)[0]!.says).toContain('refuses it (403)');
  });
});

describe('acts of Playa’s own, and of networks', () => {
  it('label people, find them, tell colleagues; each once', async () => {
    const find: Step = {
      id: 'find',
      verb: 'find',
      what: 'person',
      outlet: null,
      by: 'id',
      value: '{$who}',
      as: 'known',
      whenNone: 'on',
      whenSeveral: 'first',
    };
    const told = await toldWorkflow(house, [
      find,
      { id: 'label', verb: 'label', person: 'who', name: 'name', add: ['greeted'], remove: ['new'] },
      { id: 'tell', verb: 'notify', to: [], text: '{$name} was known: {$known.found}' },
    ]);
    await told.tell({ who: 'p1', name: 'Mo' }, 'one');
    await told.tell({ who: 'p1', name: 'Mo Okoro' }, 'two');
    await told.tell({ who: 'p1', name: 'Mo Okoro' }, 'two');
    expect(await findContacts(house.services.pool, house.lidos, 'id', 'p1')).toMatchObject([
      { name: 'Mo Okoro', labels: ['greeted'] },
    ]);
    expect(await findContacts(house.services.pool, house.lidos, 'label', 'greeted')).toHaveLength(1);
    expect(await findContacts(house.services.pool, house.bakehouse, 'id', 'p1')).toEqual([]);
    const notices = await noticesFor(house.services.pool, house.lidos, house.mo, 20);
    expect(notices.map(({ text }) => text)).toEqual(['Mo Okoro was known: true', 'Mo was known: false']);
  });
  it('drafts, replies, likes, rows and revisions reach the network with their targets', async () => {
    const told = await toldWorkflow(house, [
      {
        id: 'draft',
        verb: 'draft',
        outlet: page,
        name: 'caption',
        instruction: 'Answer',
        about: '{$said}',
        longest: 100,
        variety: 0,
      },
      { id: 'reply', verb: 'reply', outlet: page, to: 'comment', caption: 'caption' },
      { id: 'like', verb: 'react', outlet: page, to: 'comment', reaction: 'like' },
      publish(),
      {
        id: 'row',
        verb: 'record',
        outlet: page,
        match: null,
        values: [{ column: 'Link', value: '{$post.url}' }],
        as: 'row',
      },
      { id: 'pin', verb: 'revise', change: 'pin', of: 'post', caption: null },
    ]);
    await told.tell({ said: 'Lovely', comment: 'c1' });
    expect(acts.map((each) => each.action)).toEqual(['draft', 'reply', 'react', 'publish', 'record', 'revise']);
    expect(acts[1]!.input).toEqual({ to: 'c1', text: 'As drafted' });
    expect(acts[4]!.input).toEqual({ match: null, values: { Link: 'https://net.example/publish-4' } });
    expect(acts[5]!.input).toEqual({ post: 'publish-4', change: 'pin', text: null });
    const log = (await logEntriesSince(house.services.pool, house.lidos, 0, 100)).filter(
      (entry) => entry.workflowId === told.id,
    );
    expect(log.map((entry) => entry.action).sort()).toEqual(['publish', 'react', 'record', 'reply', 'revise']);
  });
  it('an earlier post can be found by its words', async () => {
    await addLogEntries(house.services.pool, [
      {
        key: 'old.1',
        brandId: house.lidos,
        workflowId: 1,
        runId: 1,
        action: 'publish',
        place: 'p',
        outletId: page,
        text: 'Storm warning',
        card: null,
        url: null,
        remoteId: 'r9',
        at: house.clock.now,
      },
    ]);
    const told = await toldWorkflow(house, [
      {
        id: 'find',
        verb: 'find',
        what: 'post',
        outlet: null,
        by: 'text',
        value: 'Storm warning',
        as: 'old',
        whenNone: 'stop',
        whenSeveral: 'first',
      },
      { id: 'drop', verb: 'revise', change: 'delete', of: 'old', caption: null },
    ]);
    await told.tell({ n: 1 });
    expect(acts).toMatchObject([{ action: 'revise', input: { post: 'r9', change: 'delete' } }]);
  });
});

describe('the rules of a workflow', () => {
  it('once per person, however many workers and messages at once', async () => {
    const told = await toldWorkflow(house, [compose('Hello {$who}'), publish()], { once: { by: 'who', within: null } });
    const { receive } = await import('../watch/hooks.ts');
    await Promise.all(
      Array.from({ length: 12 }, (_, n) =>
        receive(house.services, told.token, Buffer.from(JSON.stringify({ who: n % 3, n })), { 'webhook-id': `m${n}` }),
      ),
    );
    await Promise.all(Array.from({ length: 4 }, () => house.settle()));
    expect(texts().sort()).toEqual(['Hello 0', 'Hello 1', 'Hello 2']);
  });
  it('wordings take turns, over many workers', async () => {
    const told = await toldWorkflow(house, [
      { id: 'words', verb: 'compose', name: 'caption', text: 'One', others: ['Two', 'Three'] },
      publish(),
    ]);
    for (let count = 0; count < 8; count++) await told.tell({ n: count });
    const said = (await runs(told)).map((run) => (run.trace.words?.kind === 'text' ? run.trace.words.text : ''));
    for (let n = 1; n < said.length; n++) expect(said[n]).not.toBe(said[n - 1]);
  });
  it('pace keeps a distance between what is sent', async () => {
    const told = await toldWorkflow(house, [compose('{$n}'), publish()], {
      pace: { workflow: { gap: 60, jitter: 0 }, account: null, outlet: null },
    });
    for (let n = 0; n < 3; n++) await told.tell({ n });
    expect(texts()).toEqual(['0']);
    await later(60_000);
    expect(texts()).toEqual(['0', '1']);
    await later(60_000);
    expect(texts()).toEqual(['0', '1', '2']);
  });
  it('only so many at once, in order per person, nothing left behind', async () => {
    const wait: Step = { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 60 } };
    const told = await toldWorkflow(house, [wait, compose('{$who}{$n}'), publish()], { atOnce: 2, inOrder: 'who' });
    for (const [who, n] of [
      ['a', 1],
      ['a', 2],
      ['b', 1],
      ['c', 1],
      ['a', 3],
    ] as const)
      await told.tell({ who, n });
    expect((await runs(told)).map((run) => run.queued)).toEqual([false, true, false, true, true]);
    for (let round = 0; round < 4; round++) await later(60_000);
    expect(texts()).toHaveLength(5);
    const order = texts().filter((text) => text.startsWith('a'));
    expect(order).toEqual(['a1', 'a2', 'a3']);
    expect(texts().slice(0, 2).sort()).toEqual(['a1', 'b1']);
  });
  it('failures in a row pause the workflow, and everybody is told', async () => {
    const told = await toldWorkflow(house, [compose('{$n}'), publish()], { stopAfter: 2 });
    await told.tell({ n: 'fine' });
    refuse = new NetworkTrouble('fix', 'It says no.', { definite: true });
    await told.tell({ n: 1 });
    expect((await workflowBy(house.services.pool, house.lidos, told.id))!.status).toBe('live');
    await told.tell({ n: 2 });
    expect(await workflowBy(house.services.pool, house.lidos, told.id)).toMatchObject({
      status: 'paused',
      pausedBecause: 'Paused by itself: 2 runs in a row have failed.',
    });
    expect((await noticesFor(house.services.pool, house.lidos, house.mo, 5))[0]!.text).toContain('Paused by itself');
  });
  it('gathers over many runs, whichever worker takes them', async () => {
    const told = await toldWorkflow(house, [
      compose('{$n}', 'line', 'line'),
      {
        id: 'all',
        verb: 'gather',
        from: { type: 'runs', group: null, closing: { at: null, count: 4, silence: 3600 } },
        take: 'line',
        as: 'list',
        between: ' ',
        order: { by: 'n', direction: 'up' },
        most: null,
        whenEmpty: 'stop',
      },
      compose('All: {$list}'),
      publish(),
    ]);
    for (const n of [3, 1, 2]) await told.tell({ n });
    expect(texts()).toEqual([]);
    await told.tell({ n: 4 });
    expect(texts()).toEqual(['All: 1 2 3 4']);
    await told.tell({ n: 9 });
    await later(3_000_000);
    await told.tell({ n: 8 });
    await later(3_599_000);
    expect(texts()).toHaveLength(1);
    await later(1000);
    expect(texts()).toEqual(['All: 1 2 3 4', 'All: 8 9']);
    expect((await runs(told)).map((run) => run.status)).toEqual([
      'done',
      'stopped',
      'stopped',
      'stopped',
      'done',
      'stopped',
    ]);
  });
});

describe('limits of a network', () => {
  it('a 429 slows its account only', async () => {
    const other = await house.connect('pages', house.bakehouse);
    const told = await toldWorkflow(house, [compose('{$n}'), publish()]);
    refuse = new NetworkTrouble('wait', 'It asks to go slower.', { retryAfter: 60_000, limited: true });
    await told.tell({ n: 1 });
    refuse = null;
    await told.tell({ n: 2 });
    // The second was not even tried.
    expect(texts()).toEqual([]);
    const [row] = await select<{ number: number }>(
      house.services.pool,
      'SELECT COUNT(*) AS number FROM buckets WHERE scope = ?',
      [`account ${other}`],
    );
    expect(Number(row!.number)).toBe(0);
    await later(90_000);
    expect(texts().sort()).toEqual(['1', '2']);
  });
  it('tokens are shared by all workers', async () => {
    connectors.pages = { ...connectors.pages!, limits: { account: { capacity: 3, perSecond: 0.1 } } };
    try {
      const told = await toldWorkflow(house, [compose('{$n}'), publish()]);
      const { receive } = await import('../watch/hooks.ts');
      for (let count = 0; count < 8; count++)
        await receive(house.services, told.token, Buffer.from(JSON.stringify({ n: count })), {
          'webhook-id': `t${count}`,
        });
      const { readDeliveries } = await import('../watch/hooks.ts');
      await readDeliveries(house.services);
      await takeRuns(house.services);
      await Promise.all(Array.from({ length: 4 }, () => performEffects(house.services, { most: 3 })));
      await house.settle();
      expect(acts).toHaveLength(3);
      await later(20_000);
      expect(acts).toHaveLength(5);
      await later(30_000);
      expect(acts).toHaveLength(8);
    } finally {
      connectors.pages = { ...connectors.pages! };
      delete (connectors.pages as { limits?: unknown }).limits;
    }
  });
});

describe('a whole run', () => {
  const steps = (): Step[] => [
    compose('{$n}'),
    publish('first'),
    { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 60 } },
    publish('second'),
  ];
  it('is ended by a person: nothing more is sent', async () => {
    const told = await toldWorkflow(house, steps());
    await told.tell({ n: 1 });
    const [run] = await runs(told);
    await cancelRun(house.services, house.lidos, run!.id);
    await later(120_000);
    expect(texts()).toEqual(['1']);
    expect((await runs(told))[0]!.status).toBe('cancelled');
    await expect(cancelRun(house.services, house.lidos, run!.id)).rejects.toThrow('already ended');
    await expect(cancelRun(house.services, house.bakehouse, run!.id)).rejects.toThrow('gone');
  });
  it('runs again from a step; what would be sent twice is said first', async () => {
    const told = await toldWorkflow(house, steps());
    await told.tell({ n: 1 });
    await later(60_000);
    const [run] = await runs(told);
    expect((await sentAgain(house.services, house.lidos, run!.id, 'second')).map((each) => each.step)).toEqual([
      'second',
    ]);
    expect(await sentAgain(house.services, house.lidos, run!.id, 'words')).toHaveLength(2);
    await rerun(house.services, house.lidos, run!.id, 'second');
    await house.settle();
    expect(acts.map((each) => each.key.split('.').slice(1).join('.'))).toEqual([
      `first.${page}.1`,
      `second.${page}.1`,
      `second.${page}.2`,
    ]);
    expect((await runs(told))[0]!.status).toBe('done');
    await expect(rerun(house.services, house.lidos, run!.id, 'nowhere')).rejects.toThrow('cannot run again');
  });
  it('waits on its own version, or moves to the new one', async () => {
    const told = await toldWorkflow(house, steps());
    await told.tell({ n: 1 });
    await told.tell({ n: 2 });
    const workflow = (await workflowBy(house.services.pool, house.lidos, told.id))!;
    const next = {
      ...workflow.draft,
      steps: [
        compose('new {$n}'),
        publish('first'),
        workflow.draft.steps[2]!,
        compose('Second of {$n}', 'again'),
        publish('second'),
      ],
    };
    const [first] = await runs(told);
    await cancelRun(house.services, house.lidos, first!.id);
    await inTransaction(house.services.pool, (db) => addVersion(db, workflow, next, house.mo, house.clock.now));
    expect(await moveRuns(house.services, house.lidos, told.id)).toEqual({ moved: 1, kept: 0 });
    await later(60_000);
    expect(texts()).toEqual(['1', '2', 'Second of 2']);
  });
  it('stays on its version when its step is gone from the new one', async () => {
    const told = await toldWorkflow(house, steps());
    await told.tell({ n: 1 });
    const workflow = (await workflowBy(house.services.pool, house.lidos, told.id))!;
    await inTransaction(house.services.pool, (db) =>
      addVersion(
        db,
        workflow,
        { ...workflow.draft, steps: [compose('x'), publish('only')] },
        house.mo,
        house.clock.now,
      ),
    );
    expect(await moveRuns(house.services, house.lidos, told.id)).toEqual({ moved: 0, kept: 1 });
    await later(60_000);
    expect(texts()).toEqual(['1', '1']);
  });
  it('is thinned when it is old, and the log of what went out is kept', async () => {
    const told = await toldWorkflow(house, [compose('{$n}'), publish()]);
    await told.tell({ n: 1 }, 'same');
    const [run] = await runs(told);
    await inTransaction(house.services.pool, (db) => thinRuns(db, house.clock.now + 1000, 10_000));
    const thinned = (await runBy(house.services.pool, house.lidos, run!.id))!;
    expect(thinned).toMatchObject({ thinned: true, trace: {}, state: null, status: 'done' });
    expect(
      (await logEntriesSince(house.services.pool, house.lidos, 0, 500)).some((entry) => entry.runId === run!.id),
    ).toBe(true);
    // What it ran for is still known: the same message starts nothing.
    await told.tell({ n: 1 }, 'same');
    expect(await runs(told)).toHaveLength(1);
    await expect(rerun(house.services, house.lidos, run!.id, 'words')).rejects.toThrow('let go');
  });
  it('that waited when an older Playa stored it goes on', async () => {
    const told = await toldWorkflow(house, [compose('{$n}'), publish()]);
    refuse = new NetworkTrouble('retry', 'Away.');
    await told.tell({ n: 'old' });
    const [run] = await runs(told);
    const [slot] = slotsIn(run!.state!);
    const old = { status: 'waiting', at: 1, texts: { caption: 'old' }, slots: [slot] };
    await change(house.services.pool, 'UPDATE runs SET state = ? WHERE id = ?', [JSON.stringify(old), run!.id]);
    refuse = null;
    await later(30_000);
    expect(texts()).toEqual(['old']);
    expect((await runs(told))[0]!.status).toBe('done');
  });
});
