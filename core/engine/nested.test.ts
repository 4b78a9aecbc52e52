import { describe, expect, it } from 'vitest';
import type { Fields } from '../items/item.ts';
import { rehearse } from '../rehearsal/rehearse.ts';
import type { PastItem } from '../rehearsal/virtual-run.ts';
import { VirtualTables } from '../rehearsal/virtual.ts';
import { stepSchema, type Step } from '../steps/index.ts';
import { definitionSchema, type Definition } from '../workflow/definition.ts';
import { NO_SETTINGS, type Settings } from '../workflow/settings.ts';
import type { World } from '../model/world.ts';
import { advance } from './advance.ts';
import { cellsOf, stepOf } from '../model/cells.ts';
import { chanceOf, nextInRotation } from './chance.ts';
import { closesAt } from './gathering.ts';
import { compile, ONCE } from './program.ts';
import { missingStep } from './rerun.ts';
import { askerOf } from './slots.ts';
import { nextWake, runStateSchema, slotsIn } from '../model/state.ts';
import { upgradeState } from './upgrade.ts';
import { Driven } from '../testing/driven.ts';

const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map(
    [1, 2, 3].map((id) => [
      id,
      { id, kind: id === 3 ? ('broadcast' as const) : ('page' as const), name: `Page ${id}`, accountId: id },
    ]),
  ),
  watches: new Map([[1, { id: 1, name: 'Hook', things: 'messages' }]]),
  secrets: ['key'],
  colleagues: new Map([[1, 'Mo']]),
};
const NOON = Date.UTC(2026, 10, 23, 12);
const asks = (field: string, op: 'yes' | 'filled' | 'contains' | 'is' | 'equals', value?: string | number) => ({
  type: 'group' as const,
  match: 'all' as const,
  items: [{ type: 'test' as const, field, op, value }],
});
const define = (steps: Step[], settings: Partial<Settings> = {}, more: Partial<Definition> = {}): Definition =>
  definitionSchema.parse({
    schema: 1,
    sources: [{ id: 'src', watch: 1 }],
    steps,
    settings: { ...NO_SETTINGS, ...settings },
    ...more,
  });
const compose = (text: string, id = 'words', name = 'caption'): Step => ({ id, verb: 'compose', name, text });
const publish = (id = 'post', outlets = [1], as?: string): Step => ({
  id,
  verb: 'publish',
  outlets,
  caption: 'caption',
  card: null,
  as,
});

const drive = (definition: Definition, fields: Fields = {}) =>
  new Driven(definition, fields, world).take({ type: 'arrived' });
const pools = {
  pools: [
    { name: 'Tern Bay', open: true },
    { name: 'Old Quay', open: false },
    { name: 'Gannet Point', open: true },
  ],
};
const loop = (steps: Step[], together = true): Step => ({
  id: 'each',
  verb: 'foreach',
  list: 'pools',
  as: 'pool',
  most: null,
  together,
  steps,
});

describe('Split', () => {
  const steps: Step[] = [
    {
      id: 'way',
      verb: 'split',
      by: 'asks',
      cases: [{ id: 'a', name: 'Rough', when: asks('rough', 'yes'), share: 1, steps: [compose('Rough sea')] }],
      otherwise: [compose('Calm sea', 'calm')],
    },
    publish(),
  ];
  it('takes the first case that holds, or otherwise, and what is made there is known after it', () => {
    const rough = drive(define(steps), { rough: true });
    expect(rough.trace.way).toMatchObject({ kind: 'takes', branch: 'a', label: 'Rough' });
    expect(rough.performs()[0]!.input).toMatchObject({ text: 'Rough sea' });
    expect(rough.trace.calm).toBeUndefined();
    expect(drive(define(steps), { rough: false }).performs()[0]!.input).toMatchObject({ text: 'Calm sea' });
  });
  it('stops the run when a case stops it', () => {
    const stopping = define([
      {
        ...steps[0]!,
        cases: [
          {
            id: 'a',
            name: '',
            when: asks('rough', 'yes'),
            share: 1,
            steps: [{ id: 'no', verb: 'end', why: 'too rough' }],
          },
        ],
      } as Step,
      publish(),
    ]);
    const run = drive(stopping, { rough: true });
    expect(run.state!.status).toBe('stopped');
    expect(run.trace.no).toEqual({ kind: 'stops', why: 'too rough' });
  });
  it('by chance goes by its shares, and always the same for the same item', () => {
    const cases = ['a', 'b', 'c'].map((id, index) => ({
      id,
      name: id,
      when: asks('x', 'filled'),
      share: [1, 0, 3][index]!,
      steps: [],
    }));
    const program = compile(
      define([{ id: 'way', verb: 'split', by: 'chance', cases, otherwise: [] }, compose('x'), publish()]),
      world,
    );
    const taken = (identity: string) => {
      const item = { identity, publishedAt: null, fields: {} };
      const cell = advance(program, null, { type: 'arrived' }, { item, now: 0, run: 'r' }).trace.way;
      return cell?.kind === 'takes' ? cell.branch : null;
    };
    const counts: Record<string, number> = {};
    for (let n = 0; n < 4000; n++) counts[taken(`id:${n}`)!] = (counts[taken(`id:${n}`)!] ?? 0) + 1;
    expect(counts.b).toBeUndefined();
    expect(counts.c! / counts.a!).toBeGreaterThan(2.6);
    expect(counts.c! / counts.a!).toBeLessThan(3.4);
    expect(taken('id:7')).toBe(taken('id:7'));
  });
});

describe('For each and Gather', () => {
  const line: Step = compose('{$pool.name}', 'line', 'line');
  const gather: Step = {
    id: 'all',
    verb: 'gather',
    from: { type: 'each', step: 'each' },
    take: 'line',
    as: 'list',
    between: ', ',
    order: null,
    most: null,
    whenEmpty: 'stop',
  };
  it('makes one of many; an element that is stopped is left out', () => {
    const only: Step = { id: 'open', verb: 'check', condition: asks('pool.open', 'yes') };
    const run = drive(define([loop([only, line]), gather, compose('Open: {$list} ({$list.count})'), publish()]), pools);
    expect(run.performs()[0]!.input).toMatchObject({ text: 'Open: Tern Bay, Gannet Point (2)' });
    expect(run.trace['open#1']).toMatchObject({ kind: 'stops' });
    expect(cellsOf(run.trace, 'line').map(({ place }) => place)).toEqual(['line#0', 'line#2']);
    expect(run.trace.each).toMatchObject({
      kind: 'elements',
      labels: ['Tern Bay', 'Old Quay', 'Gannet Point'],
      left: 0,
    });
  });
  it('orders, limits, and says when there is nothing', () => {
    const ordered: Step = { ...gather, order: { by: 'pool.name', direction: 'down' }, most: 2 } as Step;
    expect(
      drive(define([loop([line]), ordered, compose('{$list}'), publish()]), pools).performs()[0]!.input,
    ).toMatchObject({ text: 'Tern Bay, Old Quay' });
    // What has nothing to be ordered by comes last, whichever way the others go.
    const some = {
      pools: [
        { name: 'B', id: 'b' },
        { name: '', id: 'none' },
        { name: 'A', id: 'a' },
      ],
    };
    for (const [direction, text] of [
      ['up', 'a, b, none'],
      ['down', 'b, a, none'],
    ] as const) {
      const all = { ...gather, order: { by: 'pool.name', direction } } as Step;
      const run = drive(
        define([loop([compose('{$pool.id}', 'line', 'line')]), all, compose('{$list}'), publish()]),
        some,
      );
      expect(run.performs()[0]!.input).toMatchObject({ text });
    }
    expect(drive(define([loop([line]), gather, publish()]), { pools: [] }).state!.status).toBe('stopped');
    const on: Step = { ...gather, whenEmpty: 'on' } as Step;
    expect(
      drive(define([loop([line]), on, { ...compose('none{$list}'), gaps: { all: 'send' } } as Step, publish()]), {
        pools: [],
      }).performs()[0]!.input,
    ).toMatchObject({ text: 'none' });
  });
  it('keeps formatting and links of what is gathered, also inside other words', () => {
    const formatted: Step = compose('{#bold}{$pool.name}{/bold} {#link to=$pool.page}look{/link}', 'line', 'line');
    const some = {
      pools: [
        { name: 'Tern Bay', page: 'https://pools.example/1' },
        { name: 'Old Quay', page: 'https://pools.example/2' },
      ],
    };
    const program = define([loop([formatted]), gather, compose('Open: {$list}!'), publish('post', [3])]);
    const run = drive(program, some);
    const input = run.performs()[0]!.input;
    expect(input).toMatchObject({
      markup:
        'Open: <b>Tern Bay</b> <a href="https://pools.example/1">look</a>, <b>Old Quay</b> <a href="https://pools.example/2">look</a>!',
    });
  });
  it.each([
    ['as it is', [], 'Tern Bay!, Old Quay!', 'TERN BAY, OLD QUAY'],
    [
      'inside other words',
      [compose('Open: {$list}', 'whole', 'whole')],
      'Open: Tern Bay!, Old Quay!',
      'Open: TERN BAY, OLD QUAY',
    ],
  ])('keeps what single outlets say instead, %s', (_name, more, forAll, own) => {
    const line = {
      ...compose('{$pool.name}!', 'line', 'line'),
      own: [{ outlet: 2, text: '{$pool.name :upper}{$pool.sign}' }],
    } as Step;
    const some = { pools: [{ name: 'Tern Bay' }, { name: 'Old Quay' }] };
    const caption = more.length > 0 ? 'whole' : 'list';
    const post = { ...publish('post', [1, 2]), caption } as Step;
    const run = drive(define([loop([line]), gather, ...more, post]), some);
    const said = Object.fromEntries(
      run.performs().map(({ outlet, input }) => [outlet, (input as { text: string }).text]),
    );
    expect(said).toEqual({ 1: forAll, 2: own });
  });
  it('leaves out what has no words at one outlet, and sends nothing where none have any', () => {
    const line = {
      ...compose('{$pool.name}', 'line', 'line'),
      own: [
        { outlet: 2, text: '{$pool.sign}' },
        { outlet: 3, text: '{$pool.none}' },
      ],
    } as Step;
    const some = {
      pools: [
        { name: 'Tern Bay', sign: '' },
        { name: 'Old Quay', sign: 'Q' },
      ],
    };
    const post = { ...publish('post', [1, 2, 3]), caption: 'list' } as Step;
    const run = drive(define([loop([line]), gather, post]), some);
    expect(run.performs().map(({ outlet, input }) => [outlet, (input as { text: string }).text])).toEqual([
      [1, 'Tern Bay, Old Quay'],
      [2, 'Q'],
    ]);
    expect(run.held()).toMatchObject([{ trouble: 'empty' }]);
  });
  it('gathers in the order in which things appeared, however their runs overtook one another', () => {
    const over: Step = {
      ...gather,
      from: { type: 'runs', group: null, closing: { at: null, count: 3, silence: null } },
    } as Step;
    const program = compile(define([compose('{$title}', 'line', 'line'), over, compose('{$list}'), publish()]), world);
    const tables = new VirtualTables('Europe/Lisbon');
    const joined = ([title, publishedAt]: [string, number]) => {
      const item = { identity: title, publishedAt, fields: { title } };
      const { effects } = advance(program, null, { type: 'arrived' }, { item, watch: 1, now: NOON, run: title });
      const ask = effects.find((effect) => effect.do === 'ask')!;
      if (ask.do === 'ask') tables.answer(ask.ask, NOON, askerOf(ask.key));
    };
    for (const each of [
      ['third', 3],
      ['first', 1],
      ['second', 2],
    ] as [string, number][])
      joined(each);
    const closed = tables.answer({ of: 'close', step: over.id, group: '' }, NOON, `third.${over.id}`);
    const { prepared } = program.root.nodes[1]!;
    const plan = prepared.answered!({ fields: {} } as never, closed);
    expect(plan).toMatchObject({ go: 'on', values: { list: 'first, second, third' } });
  });
  it('posts for all elements together, or one after another', () => {
    const steps = (together: boolean) => define([loop([compose('{$pool.name}'), publish()], together)]);
    const together = drive(steps(true), pools);
    expect(together.performs().map((effect) => effect.place)).toEqual(['post#0', 'post#1', 'post#2']);
    expect(new Set(together.performs().map((effect) => effect.key)).size).toBe(3);
    const turn = drive(steps(false), pools);
    expect(turn.performs().map((effect) => effect.place)).toEqual(['post#0']);
    expect(
      turn
        .doneAll()
        .performs()
        .map((effect) => effect.place),
    ).toEqual(['post#1']);
    expect(turn.doneAll().doneAll().state!.status).toBe('done');
  });
  it('goes on with the others when one is held', () => {
    const run = drive(define([loop([compose('{$pool.word}'), publish()])]), {
      pools: [{ word: 'one' }, { word: '' }, { word: 'three' }],
    });
    expect(run.state!.status).toBe('held');
    run.doneAll();
    expect(run.state!.status).toBe('held');
    expect(run.held().map((slot) => slot.key)).toEqual(['r.post#1.1.1']);
    run.take({ type: 'decided', key: run.held()[0]!.key, decision: { do: 'retry', text: 'two' } });
    expect(run.doneAll().state!.status).toBe('done');
  });
  it('takes lists by JSONPath too, at most so many', () => {
    const by = { ...loop([compose('{$pool}'), publish()]), list: '$.pools[?@.open==true].name', most: 1 } as Step;
    const run = drive(define([by]), pools);
    expect(run.performs().map((effect) => effect.input)).toMatchObject([{ text: 'Tern Bay' }]);
    expect(run.trace.each).toMatchObject({ why: '1 more left out' });
  });
});

describe('Wait', () => {
  const steps = (until: Extract<Step, { verb: 'wait' }>['until']) =>
    define([{ id: 'wait', verb: 'wait', until }, compose('Now'), publish()]);
  it('goes on at its moment, not before, and once', () => {
    const run = drive(steps({ type: 'duration', seconds: 60 }));
    expect(nextWake(run.state!)).toBe(NOON + 60_000);
    run.now += 59_999;
    expect(run.take({ type: 'woke' }).performs()).toEqual([]);
    run.now += 1;
    expect(run.take({ type: 'woke' }).performs()).toHaveLength(1);
    expect(run.take({ type: 'woke' }).performs()).toEqual([]);
    expect(run.trace.wait).toMatchObject({ kind: 'waits', over: true });
  });
  it('a clock that jumps an hour either way neither loses nor doubles it', () => {
    for (const jump of [3_600_000, -3_600_000]) {
      const run = drive(steps({ type: 'duration', seconds: 60 }));
      run.now += jump;
      run.take({ type: 'woke' });
      const early = run.performs().length;
      run.now = NOON + 61_000;
      run.take({ type: 'woke' });
      expect(early + run.performs().length).toBe(1);
    }
  });
  it('for a field’s moment, before or after it; a person is asked about one that cannot be read', () => {
    const run = drive(steps({ type: 'field', field: 'starts', offset: -3600 }), { starts: '2026-11-23T15:00:00Z' });
    expect(nextWake(run.state!)).toBe(Date.UTC(2026, 10, 23, 14));
    expect(
      drive(steps({ type: 'field', field: 'starts', offset: 0 }), { starts: '2020-01-01T00:00:00Z' }).performs(),
    ).toHaveLength(1);
    const asked = drive(steps({ type: 'field', field: 'starts', offset: 0 }), { starts: 'soon' });
    expect(asked.state!.status).toBe('held');
    const decide = (text: string) => {
      const key = slotsIn(asked.state!)[0]!.key;
      asked.take({ type: 'decided', key, decision: { do: 'retry', text } });
    };
    decide('later');
    expect(asked.trace.wait).toMatchObject({
      acts: [{ status: 'held', says: expect.stringContaining('“later”') as string }],
    });
    // As the brand writes it, in its time zone.
    decide('24.11.2026 9:00');
    expect(nextWake(asked.state!)).toBe(Date.UTC(2026, 10, 24, 9));
  });
  it('for the opening hours', () => {
    const hours = [1, 2, 3, 4, 5, 6, 7].map(() => [{ from: '15:00', to: '16:00' }]);
    expect(nextWake(drive(steps({ type: 'hours', hours })).state!)).toBe(Date.UTC(2026, 10, 23, 15));
  });
});

describe('Call', () => {
  const call = (more: Partial<Extract<Step, { verb: 'call' }>> = {}): Step => ({
    id: 'call',
    verb: 'call',
    method: 'GET',
    url: 'https://lookups.example/people/{$who}?q={$q}',
    headers: [
      { name: 'X-For', value: '{$who}\nEvil: 1' },
      { name: 'Authorization', secret: 'key' },
    ],
    body: null,
    as: 'person',
    sample: { name: 'Mo' },
    keyed: false,
    again: null,
    whenNot: 'on',
    ...more,
  });
  it('asks with every field encoded in its place, and names secrets without knowing them', () => {
    const run = drive(define([call()]), { who: 'a/b c', q: 'ä&b=c' });
    expect(run.performs()[0]!.input).toEqual({
      method: 'GET',
      url: 'https://lookups.example/people/a%2Fb%20c?q=%C3%A4%26b%3Dc',
      headers: [
        { name: 'X-For', value: 'a/b c Evil: 1' },
        { name: 'Authorization', secret: 'key' },
      ],
      body: null,
      keyed: false,
    });
  });
  it('sends JSON that no value can break, and keeps types', () => {
    const body = {
      type: 'json' as const,
      text: '{"title":"{$who}!","count":"{$n}","list":"{$list}","fixed":[1,true]}',
    };
    const input = drive(define([call({ method: 'POST', body })]), {
      who: '"},{',
      q: '',
      n: 3,
      list: ['a', 'b'],
    }).performs()[0]!.input as { body: { text: string } };
    expect(JSON.parse(input.body.text)).toEqual({ title: '"},{!', count: 3, list: ['a', 'b'], fixed: [1, true] });
    const form = drive(define([call({ method: 'POST', body: { type: 'form', text: 'a={$who}\nb=x' } })]), {
      who: 'x&b=2',
      q: '',
    });
    expect((form.performs()[0]!.input as typeof input).body.text).toBe('a=x%26b%3D2&b=x');
  });
  it('what is answered is known to later steps', () => {
    const run = drive(define([call(), compose('Hello {$person.name}, {$person.status}'), publish()]), {
      who: '1',
      q: '',
    });
    run.doneAll({ result: { status: 200, body: { name: 'Ines' } } });
    expect(run.performs()[0]!.input).toMatchObject({ text: 'Hello Ines, 200' });
  });
  it('asks again until something holds, each time under another key, and then goes on without', () => {
    const again = { until: asks('person.name', 'filled'), every: 600, times: 3 };
    const run = drive(define([call({ again }), compose('{$person.name} {$person.found}'), publish()]), {
      who: '1',
      q: '',
    });
    const keys = new Set<string>();
    for (let n = 0; n < 3; n++) {
      const [asked] = run.performs();
      keys.add(asked!.key);
      run.done(asked!.key, { result: { status: 404, body: {} } });
      if (n < 2) {
        expect(nextWake(run.state!)).toBe(run.now + 600_000);
        run.now += 600_000;
        run.take({ type: 'woke' });
      }
    }
    expect(keys.size).toBe(3);
    expect(run.performs()[0]!.input).toMatchObject({ text: 'false' });
  });
  it.each([
    ['stop', 'stopped'],
    ['hold', 'held'],
  ] as const)('when it is not found it can %s', (whenNot, status) => {
    const run = drive(define([call({ whenNot }), publish()]), { who: '1', q: '' });
    run.doneAll({ result: { status: 404, body: {} } });
    expect(run.state!.status).toBe(status);
  });
  it('an address that cannot be one stops with the reason', () => {
    expect(drive(define([call({ url: 'ftp://x' })]), {}).trace.call).toEqual({
      kind: 'stops',
      why: 'The address must begin with https:// and the name of the service.',
    });
    expect(drive(define([call({ method: 'POST', body: { type: 'json', text: '{' } })]), {}).trace.call).toMatchObject({
      kind: 'stops',
    });
  });
});

describe('Find, Hold, Label, Notify, Record, Reply, Revise, Draft', () => {
  const find = (more: object = {}): Step =>
    ({
      id: 'find',
      verb: 'find',
      what: 'person',
      outlet: null,
      by: 'id',
      value: '{$who}',
      as: 'known',
      whenNone: 'on',
      whenSeveral: 'first',
      ...more,
    }) as Step;
  const found = (...rows: Fields[]) => ({ result: { rows } });
  it('none and several are outcomes', () => {
    const run = (step: Step, ...rows: Fields[]) =>
      drive(define([step, compose('{$known.name}{$known.count}'), publish()]), { who: 'p7' }).doneAll(found(...rows));
    expect(run(find()).performs()[0]!.input).toMatchObject({ text: '0' });
    expect(run(find(), { name: 'Mo' }).performs()[0]!.input).toMatchObject({ text: 'Mo1' });
    expect(run(find({ whenNone: 'stop' })).state!.status).toBe('stopped');
    expect(run(find({ whenSeveral: 'stop' }), { name: 'A' }, { name: 'B' }).trace.find).toEqual({
      kind: 'stops',
      why: '2 were found',
    });
    const asked = run(find({ whenNone: 'hold' }));
    expect(asked.held()[0]).toMatchObject({ trouble: 'none' });
    asked.take({ type: 'decided', key: asked.held()[0]!.key, decision: { do: 'retry' } });
    expect(asked.performs()[0]!.input).toMatchObject({ text: '0' });
  });
  it('a Hold shows the words, takes others with the yes, and ends with a no', () => {
    const definition = define([
      compose('As drafted'),
      { id: 'yes', verb: 'hold', question: 'For {$who}?', text: 'caption' },
      publish(),
    ]);
    const yes = drive(definition, { who: 'Mo' });
    expect(yes.held()[0]).toMatchObject({ says: 'For Mo?', trouble: 'asks', input: { text: 'As drafted' } });
    yes.take({ type: 'decided', key: yes.held()[0]!.key, decision: { do: 'retry', text: 'As changed' } });
    expect(yes.performs()[0]!.input).toMatchObject({ text: 'As changed' });
    const no = drive(definition, { who: 'Mo' });
    no.take({ type: 'decided', key: no.held()[0]!.key, decision: { do: 'skip' } });
    expect(no.state!.status).toBe('stopped');
    expect(no.trace.yes).toEqual({ kind: 'stops', why: 'a person said no' });
  });
  it('words go where they belong, and nowhere without a target', () => {
    const steps: Step[] = [
      compose('Thank you'),
      { id: 'reply', verb: 'reply', outlet: 1, to: 'comment.id', caption: 'caption' },
      { id: 'like', verb: 'react', outlet: 1, to: 'comment.id', reaction: 'like' },
      { id: 'write', verb: 'message', outlet: 2, to: 'person', caption: 'caption' },
    ];
    const run = drive(define(steps), { comment: { id: 'c9' }, person: '' });
    expect(run.performs()[0]).toMatchObject({ action: 'reply', outlet: 1, input: { to: 'c9', text: 'Thank you' } });
    expect(run.doneAll().performs()[0]).toMatchObject({ action: 'react', input: { to: 'c9', reaction: 'like' } });
    run.doneAll();
    expect(run.held()[0]).toMatchObject({ trouble: 'empty', says: 'Person does not say who it is for.' });
  });
  it('a post can be revised at every outlet it went to', () => {
    const steps: Step[] = [
      compose('First'),
      publish('post', [1, 2], 'mine'),
      compose('Second', 'new', 'better'),
      { id: 'fix', verb: 'revise', change: 'edit', of: 'mine', caption: 'better' },
    ];
    const run = drive(define(steps));
    const [one, two] = run.performs();
    run.done(one!.key, { remoteId: 'a' }).done(two!.key, { remoteId: 'b' });
    expect(run.performs().map(({ outlet, input }) => [outlet, input])).toEqual([
      [1, { post: 'a', change: 'edit', text: 'Second' }],
      [2, { post: 'b', change: 'edit', text: 'Second' }],
    ]);
  });
  it('rows, labels, notices and drafts carry what they are made of', () => {
    const steps: Step[] = [
      {
        id: 'draft',
        verb: 'draft',
        outlet: 1,
        name: 'caption',
        instruction: 'Answer {$who}',
        about: '{$said}',
        longest: 200,
        variety: 0.5,
      },
      {
        id: 'row',
        verb: 'record',
        outlet: 2,
        match: { column: 'Who', value: '{$who}' },
        values: [{ column: 'Answer', value: '{$caption}' }],
        as: 'row',
      },
      { id: 'label', verb: 'label', person: 'who', name: '', add: ['answered'], remove: ['new'] },
      { id: 'tell', verb: 'notify', to: [1], text: 'Answered {$who}: {$row.id}' },
    ];
    const run = drive(define(steps), { who: 'Mo', said: 'Lovely water' });
    expect(run.performs()[0]).toMatchObject({
      action: 'draft',
      input: { instruction: 'Answer Mo', about: 'Lovely water', longest: 200 },
    });
    expect(drive(define(steps), { who: 'Mo', said: 'x' }).performs()[0]!.input).toMatchObject({
      seed: (run.performs()[0]!.input as { seed: number }).seed,
    });
    run.doneAll({ result: { text: 'Come again!' } });
    expect(run.performs()[0]!.input).toEqual({
      match: { column: 'Who', value: 'Mo' },
      values: { Answer: 'Come again!' },
    });
    run.doneAll({ remoteId: 'row12' });
    expect(run.performs()[0]!.input).toEqual({ person: 'Mo', name: 'Mo', add: ['answered'], remove: ['new'] });
    run.doneAll();
    expect(run.performs()[0]!.input).toEqual({ to: [1], text: 'Answered Mo: row12' });
    expect(run.doneAll().state!.status).toBe('done');
  });
});

describe('wordings in turn', () => {
  const steps: Step[] = [{ ...compose('One'), others: ['Two', 'Three'] } as Step, publish()];
  const items = Array.from({ length: 60 }, (_, n): PastItem => ({
    id: n + 1,
    watch: 1,
    identity: `id:${n}`,
    publishedAt: n * 1000,
    seenAt: n * 1000,
    fields: {},
  }));
  const texts = () =>
    [...rehearse(define(steps), world, items)].map(({ trace }) =>
      trace.words?.kind === 'text' ? trace.words.text : '',
    );
  it('never repeat at once, use all, and come out the same every time', () => {
    const first = texts();
    for (let n = 1; n < first.length; n++) expect(first[n]).not.toBe(first[n - 1]);
    expect(new Set(first)).toEqual(new Set(['One', 'Two', 'Three']));
    expect(texts()).toEqual(first);
  });
  it('chance depends on its seed alone and spreads evenly', () => {
    const values = Array.from({ length: 10_000 }, (_, n) => chanceOf(`seed ${n}`));
    expect(values.reduce((sum, value) => sum + value, 0) / values.length).toBeCloseTo(0.5, 1);
    expect(Math.max(...values)).toBeLessThan(1);
    expect(nextInRotation(1, 0, 0.9)).toBe(0);
    for (let n = 0; n < 100; n++) expect(nextInRotation(3, 1, n / 100)).not.toBe(1);
  });
});

describe('the rules of a workflow', () => {
  it('once: after the first checks, for ever or within a period', () => {
    const check: Step = { id: 'check', verb: 'check', condition: asks('said', 'contains', 'timetable') };
    const past = (n: number, who: string, said: string, at: number): PastItem => ({
      id: n,
      watch: 1,
      identity: `id:${n}`,
      publishedAt: at,
      seenAt: at,
      fields: { who, said },
    });
    const items = [
      past(1, 'mo', 'hello', 0),
      past(2, 'mo', 'timetable', 1000),
      past(3, 'mo', 'timetable', 2000),
      past(4, 'ines', 'timetable', 3000),
      past(5, 'mo', 'timetable', 90_000_000),
    ];
    const outcomes = (within: number | null) =>
      [...rehearse(define([check, compose('Here'), publish()], { once: { by: 'who', within } }), world, items)]
        .sort((a, b) => a.item - b.item)
        .map(({ outcome, endedAt }) => endedAt ?? outcome);
    expect(outcomes(null)).toEqual(['check', 'done', ONCE, 'done', ONCE]);
    expect(outcomes(86_400)).toEqual(['check', 'done', ONCE, 'done', 'done']);
  });
  it('opening hours hold back what reaches people, and nothing else', () => {
    const hours = [1, 2, 3, 4, 5, 6, 7].map(() => [{ from: '15:00', to: '16:00' }]);
    const run = drive(define([{ id: 'tell', verb: 'notify', to: [], text: 'x' }, compose('y'), publish()], { hours }));
    expect(run.performs()[0]!.action).toBe('notify');
    run.doneAll();
    expect(run.performs()).toEqual([]);
    expect(run.trace.post).toMatchObject({ kind: 'waits', why: 'for the opening hours' });
    run.now = Date.UTC(2026, 10, 23, 15);
    expect(run.take({ type: 'woke' }).performs()[0]!.action).toBe('publish');
  });
  const failing = (onFailure: Settings['onFailure']) => {
    const run = drive(
      define([compose('x'), publish('post', [1, 2]), { id: 'tell', verb: 'notify', to: [], text: 'after' }], {
        onFailure,
      }),
    );
    const [one, two] = run.performs();
    run.take({ type: 'failed', key: one!.key, says: 'no', unknown: false });
    return run.done(two!.key);
  };
  it('what fails is held, left out, or ends the run, once the rest is settled', () => {
    expect(failing({ do: 'hold' }).state!.status).toBe('held');
    expect(failing({ do: 'skip' }).performs()[0]).toMatchObject({ action: 'notify' });
    const ended = failing({ do: 'end' });
    expect(ended.state!).toMatchObject({ status: 'stopped', failures: 1 });
    expect(ended.trace.post).toMatchObject({ posts: [{ status: 'failed', says: 'no' }, { status: 'posted' }] });
  });
  it('or is met by other steps, which know what failed', () => {
    const run = failing({
      do: 'steps',
      steps: [{ id: 'alarm', verb: 'notify', to: [], text: 'Failed: {$failure.says}' }],
    });
    expect(run.performs()[0]).toMatchObject({ place: 'alarm', input: { text: 'Failed: no' } });
    expect(run.doneAll().state!.status).toBe('stopped');
  });
  it('what may have gone out is held whatever the rule', () => {
    const run = drive(define([compose('x'), publish()], { onFailure: { do: 'skip' } }));
    run.take({ type: 'failed', key: run.performs()[0]!.key, says: '?', unknown: true });
    expect(run.state!.status).toBe('held');
  });
  it('sources have checks of their own', () => {
    const definition = define(
      [compose('x'), publish()],
      {},
      {
        sources: [
          { id: 'src', watch: 1, condition: asks('severity', 'is', 'major') },
          { id: 'other', watch: 2 },
        ],
      },
    );
    expect(drive(definition, { severity: 'minor' }).trace.src).toMatchObject({ kind: 'stops' });
    expect(drive(definition, { severity: 'major' }).performs()).toHaveLength(1);
  });
  const spaced = (settings: Partial<Settings>, fields: (n: number) => Fields = () => ({})) => {
    const items = Array.from({ length: 4 }, (_, n): PastItem => ({
      id: n + 1,
      watch: 1,
      identity: `id:${n}`,
      publishedAt: NOON,
      seenAt: NOON,
      fields: fields(n),
    }));
    const steps: Step[] = [
      compose('x'),
      publish(),
      { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 100 } },
    ];
    return [...rehearse(define(steps, settings), world, items)].map(({ item, trace }) => [
      item,
      trace.post?.kind === 'posts' ? (trace.post.posts[0]!.at - NOON) / 1000 : null,
    ]);
  };
  it('pace spreads what is sent', () => {
    const rule = { gap: 30, jitter: 0 };
    expect(spaced({ pace: { workflow: rule, account: null, outlet: null } })).toEqual([
      [1, 0],
      [2, 30],
      [3, 60],
      [4, 90],
    ]);
  });
  it('only so many at once, and in order per person', () => {
    expect(spaced({ atOnce: 2 }).map(([, at]) => at)).toEqual([0, 0, 100, 100]);
    expect(spaced({ inOrder: 'who' }, (n) => ({ who: n < 2 ? 'mo' : `p${n}` })).sort()).toEqual([
      [1, 0],
      [2, 100],
      [3, 0],
      [4, 0],
    ]);
  });
});

describe('gathering over runs', () => {
  const steps = (closing: object, group: string | null = null): Step[] => [
    compose('{$title}', 'line', 'line'),
    {
      id: 'all',
      verb: 'gather',
      from: { type: 'runs', group, closing: { at: null, count: null, silence: null, ...closing } },
      take: 'line',
      as: 'digest',
      between: ' + ',
      order: null,
      most: null,
      whenEmpty: 'stop',
    },
    compose('{$digest}'),
    publish(),
  ];
  const items = [0, 10, 20, 300, 310].map((minutes, n): PastItem => ({
    id: n + 1,
    watch: 1,
    identity: `id:${n}`,
    publishedAt: NOON + minutes * 60_000,
    seenAt: 0,
    fields: { title: `T${n + 1}`, kind: n % 2 ? 'b' : 'a' },
  }));
  const posts = (definition: Definition) =>
    [...rehearse(definition, world, items)]
      .sort((a, b) => a.item - b.item)
      .map(({ outcome, trace }) =>
        trace.post?.kind === 'posts' ? trace.post.posts[0]!.text : (trace.all?.kind ?? outcome),
      );
  it('keeps what single outlets say instead, also for words of an outlet that puts the whole in', () => {
    const [line, all] = steps({ count: 2 });
    const definition = define([
      { ...line, own: [{ outlet: 2, text: 'two {$title}' }] } as Step,
      all!,
      { ...compose('All: {$digest}'), own: [{ outlet: 1, text: 'One: {$digest}' }] } as Step,
      publish('post', [1, 2]),
    ]);
    const [first] = [...rehearse(definition, world, items)].filter(({ trace }) => trace.post?.kind === 'posts');
    const cell = first!.trace.post;
    expect(cell?.kind === 'posts' && cell.posts.map(({ outlet, text }) => [outlet, text])).toEqual([
      [1, 'One: T1 + T2'],
      [2, 'All: two T1 + two T2'],
    ]);
  });
  it('is complete after so many', () =>
    expect(posts(define(steps({ count: 2 })))).toEqual(['T1 + T2', 'joined', 'T3 + T4', 'joined', 'waits']));
  it('goes on with the last that came, where that is wanted', () => {
    const [line, all, ...rest] = steps({ silence: 3600 });
    const last = { ...all!, from: { ...(all as { from: object }).from, goesOn: 'last' } } as Step;
    expect(posts(define([line!, last, ...rest]))).toEqual(['joined', 'joined', 'T1 + T2 + T3', 'joined', 'T4 + T5']);
  });
  it('after silence', () =>
    expect(posts(define(steps({ silence: 3600 })))).toEqual(['T1 + T2 + T3', 'joined', 'joined', 'T4 + T5', 'joined']));
  it('at a time of day', () =>
    expect(posts(define(steps({ at: '18:00' })))).toEqual([
      'T1 + T2 + T3 + T4 + T5',
      'joined',
      'joined',
      'joined',
      'joined',
    ]));
  it('apart for every value of a field', () =>
    expect(posts(define(steps({ count: 2 }, 'kind')))).toEqual(['T1 + T3', 'T2 + T4', 'joined', 'joined', 'waits']));
  it('closes at whichever comes first', () => {
    const closing = { at: '18:00', count: 3, silence: 600 };
    const zone = 'Europe/Lisbon';
    expect(closesAt(closing, { openedAt: NOON, lastAt: NOON, count: 1 }, zone)).toBe(NOON + 600_000);
    expect(closesAt(closing, { openedAt: NOON, lastAt: NOON + 5000, count: 3 }, zone)).toBe(NOON + 5000);
    expect(
      closesAt({ at: null, count: 3, silence: null }, { openedAt: NOON, lastAt: NOON, count: 1 }, zone),
    ).toBeNull();
  });
});

describe('a whole run', () => {
  const definition = define([
    compose('x'),
    publish('first'),
    {
      id: 'way',
      verb: 'split',
      by: 'asks',
      cases: [{ id: 'a', name: '', when: asks('go', 'yes'), share: 1, steps: [publish('inside')] }],
      otherwise: [],
    },
    publish('last'),
  ]);
  it('ends when a person ends it; a late answer changes nothing', () => {
    const run = drive(definition, { go: true });
    const [sent] = run.performs();
    expect(run.take({ type: 'cancelled' }).state!.status).toBe('cancelled');
    expect(run.done(sent!.key).state!.status).toBe('cancelled');
    expect(new Driven(definition, {}, world).take({ type: 'cancelled' }).state!.status).toBe('cancelled');
  });
  it('runs again from a step, inside a Split too, under keys never used before', () => {
    const run = drive(definition, { go: true }).doneAll().doneAll().doneAll();
    expect(run.state!.status).toBe('done');
    run.take({ type: 'rerun', from: 'inside' });
    expect(run.performs().map((effect) => effect.key)).toEqual(['r.inside.1.2']);
    expect(run.trace.last).toBeUndefined();
    expect(run.trace.first).toBeDefined();
    run.doneAll();
    expect(run.performs().map((effect) => effect.key)).toEqual(['r.last.1.2']);
    expect(run.doneAll().state!.status).toBe('done');
    expect(run.take({ type: 'rerun', from: 'nowhere' }).effects).toEqual([]);
  });
  it('can go on in another version where its step still exists', () => {
    const run = drive(definition, { go: true }).doneAll();
    expect(missingStep(run.state!, compile(define([compose('y'), ...definition.steps.slice(1)]), world))).toBeNull();
    expect(missingStep(run.state!, compile(define([compose('y'), publish('last')]), world))).toBe('way');
  });
  it('ends where a person says so, in the middle of others', () => {
    const run = drive(define([compose(''), publish('post', [1, 2]), publish('last')]));
    run.take({ type: 'decided', key: run.held()[0]!.key, decision: { do: 'end' } });
    expect(run.state!.status).toBe('stopped');
  });
  it('of an older Playa goes on', () => {
    const old = {
      status: 'waiting',
      at: 1,
      texts: { caption: 'x' },
      slots: [
        {
          key: 'r.first.1.3',
          outlet: 1,
          action: 'publish',
          input: { text: 'x', card: null },
          length: 1,
          limit: 2000,
          generation: 3,
          status: 'planned',
        },
      ],
    };
    const run = new Driven(definition, { go: false }, world);
    run.state = runStateSchema.parse(upgradeState(old));
    run.done('r.first.1.3');
    expect(run.performs().map((effect) => effect.key)).toEqual(['r.last.1.3']);
    expect(upgradeState(run.state)).toBe(run.state);
    expect(runStateSchema.parse(upgradeState({ status: 'done', at: 3, texts: {}, slots: [] }))).toMatchObject({
      status: 'done',
      root: { at: null },
    });
  });
});

describe('places', () => {
  it('name the step and its elements', () => {
    expect(stepOf('post#2#1')).toBe('post');
    const cell = { kind: 'passes' as const, why: '' };
    expect(cellsOf({ 'a#10': cell, 'a#2': cell, 'a#2#1': cell, 'ab#1': cell }, 'a').map(({ place }) => place)).toEqual([
      'a#2',
      'a#2#1',
      'a#10',
    ]);
  });
  it('every verb has a schema that reads what it writes', () => {
    for (const step of definitionSchema.parse(define([compose('x'), publish('p', [1], 'post')])).steps)
      expect(stepSchema.parse(step)).toEqual(step);
  });
});
