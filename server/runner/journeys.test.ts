// Conversations that go on, lived through on a test clock with a real database and a real Lagoon: a keyword leads to a
// message, an answer, a like and a question later; newcomers are greeted once and looked up.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Step } from '@playa/core/steps/index.ts';
import { NO_SETTINGS, type Settings } from '@playa/core/workflow/settings.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { select } from '../db/database.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { runsOf } from '../testing/runs-of.ts';
import { live, pause } from '../testing/workflow.ts';
import { lookNow } from '../watch/look.ts';
import { watchOutlet } from '../watch/watchable.ts';

const SECOND = 1000;
const MINUTE = 60 * SECOND;
const HOUR = 60 * MINUTE;
let house: House;
let comments: number;
let messages: number;
let running: number[] = [];
let count = 0;

beforeAll(async () => {
  house = await openHouse();
  house.clock.now = testNow();
  await house.connect('photos');
  const feed = await house.outlet('@ternbaylidos');
  comments = await watchOutlet(house.services, house.lidos, feed.id, 'comments');
  messages = await watchOutlet(house.services, house.lidos, feed.id, 'messages');
  await later(0);
  await house.play({
    do: 'photo',
    profile: 'ternbaylidos',
    caption: 'Winter timetable',
    picture: 'https://x.example/a.jpg',
  });
  for (const each of [comments, messages]) await lookNow(house.services, each);
});
afterAll(() => house?.close());
beforeEach(async () => {
  for (const each of running) await pause(house, each);
  running = [];
});

/** Time goes by, for Playa and for Lagoon. */
async function later(milliseconds: number): Promise<void> {
  house.clock.now += milliseconds;
  const answer = await fetch(`${house.lagoon}/control/api/clock`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ now: house.clock.now }),
  });
  expect(answer.ok).toBe(true);
  await look();
  // What a run waits for before it goes on, a look at its sources, is there a second later.
  await house.settle();
}
async function look(): Promise<void> {
  for (const each of [comments, messages]) await lookNow(house.services, each);
  await house.settle();
}
const comment = async (by: string, text: string) => {
  const id = await house.play({ do: 'comment', profile: 'ternbaylidos', by, text });
  await look();
  return id;
};
const message = async (by: string, text: string) => {
  const id = await house.play({ do: 'message', profile: 'ternbaylidos', by, text });
  await look();
  return id;
};
interface Said {
  text: string;
  by?: string;
  byUs?: boolean;
}
/** What we said to somebody, in messages and below their comments, and how often we liked those. */
async function saidTo(name: string) {
  const sent = await select<{ text: string; action: string }>(
    house.services.pool,
    `SELECT l.text, l.action FROM logbook l JOIN runs r ON r.id = l.run_id JOIN items i ON i.id = r.item_id
     WHERE l.brand_id = ? AND JSON_VALUE(i.fields, '$.person.name') = ? ORDER BY l.id`,
    [house.lidos, name],
  );
  const of = (action: string) => sent.filter((each) => each.action === action).map(({ text }) => text);
  return { messages: of('message'), replies: of('reply'), likes: of('react').length };
}
async function start(definition: Definition): Promise<number> {
  const id = await live(house, definition);
  running.push(id);
  return id;
}

const wait = (id: string, seconds: number): Step => ({ id, verb: 'wait', until: { type: 'duration', seconds } });
const say = (id: string, name: string, text: string, others: string[] = []): Step => ({
  ...{ id, verb: 'compose', name, text },
  ...(others.length > 0 ? { others } : {}),
});
const write = (id: string, caption: string): Step => ({
  ...{ id, verb: 'message', outlet: null, where: 'item', to: 'person.id', caption },
});

/** Comment or message with the keyword → message → answer → like → check in. */
const keyword = (word: string, settings: Partial<Settings> = {}): Definition => ({
  schema: 1,
  sources: [
    { id: 'comments', watch: comments },
    { id: 'messages', watch: messages },
  ],
  steps: [
    {
      ...{ id: 'asks', verb: 'check' },
      condition: { type: 'group', match: 'all', items: [{ type: 'test', field: 'text', op: 'mentions', value: word }] },
    },
    wait('minute', 60),
    say('letter', 'letter', `Here is the ${word}, {$person.name}: https://lidos.example/${word}`),
    write('send', 'letter'),
    wait('pause', 120),
    say('public', 'answer', 'It is in your messages!', ['We have written to you.', 'Look into your messages.']),
    { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
    { id: 'like', verb: 'react', outlet: null, where: 'item', to: 'id', reaction: 'like' },
    wait('hour', 3600),
    say('ask', 'ask', 'Did it arrive, {$person.name}?'),
    write('check', 'ask'),
  ],
  settings: { ...NO_SETTINGS, once: { by: 'person.id', within: null }, whenTheyWrite: 'end', ...settings },
});

describe('a keyword', () => {
  it('in a comment leads to message, answer, like and check-in, each in its time, in usual misspellings', async () => {
    await start(keyword('timetable'));
    await comment('Nell Harker', 'timetabel please!! 🙏');
    expect(await saidTo('Nell Harker')).toEqual({ messages: [], replies: [], likes: 0 });
    await later(59 * SECOND);
    expect((await saidTo('Nell Harker')).messages).toEqual([]);
    await later(2 * SECOND);
    expect((await saidTo('Nell Harker')).messages).toEqual([
      'Here is the timetable, Nell Harker: https://lidos.example/timetable',
    ]);
    await later(110 * SECOND);
    expect((await saidTo('Nell Harker')).replies).toEqual([]);
    await later(12 * SECOND);
    const after = await saidTo('Nell Harker');
    expect(after.replies).toHaveLength(1);
    expect(after.likes).toBe(1);
    await later(HOUR - MINUTE);
    expect((await saidTo('Nell Harker')).messages).toHaveLength(1);
    await later(2 * MINUTE);
    expect((await saidTo('Nell Harker')).messages.at(-1)).toBe('Did it arrive, Nell Harker?');
    // Once per person, whatever they write next.
    await comment('Nell Harker', 'The timetable again?');
    await later(HOUR);
    expect((await saidTo('Nell Harker')).messages).toHaveLength(2);
  });

  it('in a message leads to the same without what makes no sense there, and says so', async () => {
    const workflow = await start(keyword('lockers'));
    await message('Jonas Fell', 'Do you have LOCKERS?');
    await later(61 * SECOND);
    await later(121 * SECOND);
    const [run] = await runsOf(house.services.pool, house.lidos, workflow, 1);
    expect(run!.trace.reply).toEqual({ kind: 'passes', why: 'passed over: a message has no public answer' });
    expect(run!.trace.like).toEqual({ kind: 'passes', why: 'passed over: a message is not liked' });
    await later(HOUR + MINUTE);
    const said = await saidTo('Jonas Fell');
    expect(said.messages).toEqual([
      'Here is the lockers, Jonas Fell: https://lidos.example/lockers',
      'Did it arrive, Jonas Fell?',
    ]);
    expect(said).toMatchObject({ replies: [], likes: 0 });
  });

  it('ends once they write again, also where it began with a comment, and sends nothing more', async () => {
    const workflow = await start(keyword('sauna'));
    await comment('Priya Marsh', 'Is the sauna open?');
    await later(61 * SECOND);
    expect((await saidTo('Priya Marsh')).messages).toHaveLength(1);
    await message('Priya Marsh', 'Thank you, got it');
    const ended = (await runsOf(house.services.pool, house.lidos, workflow, 5)).flatMap(({ trace }) =>
      Object.values(trace).flatMap((cell) => (cell.kind === 'stops' ? cell.why : [])),
    );
    expect(ended).toContain('they have written again');
    await later(2 * HOUR);
    expect(await saidTo('Priya Marsh')).toMatchObject({ replies: [], likes: 0 });
    expect((await saidTo('Priya Marsh')).messages).toHaveLength(1);
  });

  it('is not answered further when they wrote in the very second before', async () => {
    await start(keyword('towels'));
    await comment('Sefa Quill', 'Do you rent towels?');
    await later(61 * SECOND);
    // Written at Lagoon, and not seen by Playa yet when the next step is due.
    await house.play({ do: 'message', profile: 'ternbaylidos', by: 'Sefa Quill', text: 'Never mind, found it' });
    await later(121 * SECOND);
    expect(await saidTo('Sefa Quill')).toMatchObject({ replies: [], likes: 0 });
  });

  it('goes on where the workflow says nothing of that', async () => {
    await start(keyword('parking', { whenTheyWrite: undefined }));
    await comment('Teo Vance', 'Where is parking?');
    await later(61 * SECOND);
    await message('Teo Vance', 'Thanks!');
    await later(121 * SECOND);
    expect((await saidTo('Teo Vance')).replies).toHaveLength(1);
  });

  it('leads to nothing more once they have said stop', async () => {
    await start(keyword('prices', { whenTheyWrite: undefined }));
    await comment('Wanda Oake', 'prices?');
    await later(61 * SECOND);
    await message('Wanda Oake', 'STOP');
    await later(2 * HOUR);
    expect(await saidTo('Wanda Oake')).toMatchObject({ replies: [], likes: 0 });
    expect((await saidTo('Wanda Oake')).messages).toHaveLength(1);
  });

  it('of forty comments in a minute is answered forty times, paced, each once', async () => {
    const definition = keyword('waves', {
      once: null,
      pace: { ...NO_SETTINGS.pace, outlet: { gap: 10, jitter: 0 } },
      brake: { hour: 500, day: 500 },
    });
    definition.steps = [
      definition.steps[0]!,
      say('public', 'answer', 'We see them too! {$id}'),
      { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
    ];
    const workflow = await start(definition);
    const by = ['Ana Prata', 'Tom Ridley', 'Bea Lund', 'Ilse Barrow'];
    for (let number = 0; number < 40; number++)
      await house.play({
        do: 'comment',
        profile: 'ternbaylidos',
        by: by[number % 4]!,
        text: `What waves, ${++count}!`,
      });
    await look();
    const replies = () =>
      select<{ n: number; different: number }>(
        house.services.pool,
        "SELECT COUNT(*) AS n, COUNT(DISTINCT run_id) AS different FROM logbook WHERE workflow_id = ? AND action = 'reply'",
        [workflow],
      );
    const counts: number[] = [];
    for (let step = 0; step < 14; step++) {
      counts.push(Number((await replies())[0]!.n));
      await later(30 * SECOND);
    }
    // Three in half a minute, one more where one fell on the edge.
    counts.forEach((n, index) => expect(n).toBeLessThanOrEqual(index * 3 + 2));
    const [all] = await replies();
    expect([Number(all!.n), Number(all!.different)]).toEqual([40, 40]);
    const answered = (await house.things<Said & { parent?: number }>('photos', 'comment')).filter(({ body }) =>
      body.text.startsWith('We see them too!'),
    );
    expect(new Set(answered.map(({ body }) => body.text)).size).toBe(40);
  });
});

describe('a newcomer', () => {
  const greeting = (): Definition => ({
    schema: 1,
    sources: [{ id: 'comments', watch: comments }],
    steps: [
      wait('hour', 3600),
      {
        ...{ id: 'known', verb: 'find', what: 'person', outlet: null, by: 'id', value: '{$person.id}', as: 'who' },
        ...{ whenNone: 'on', whenSeveral: 'first' },
      },
      {
        ...{ id: 'new', verb: 'check' },
        condition: {
          ...{ type: 'group', match: 'all' },
          items: [{ type: 'test', field: 'who.labels', op: 'hasNot', value: 'Greeted' }],
        },
      },
      say('words', 'words', 'Good to see you here, {$person.name}.'),
      write('greet', 'words'),
      { id: 'label', verb: 'label', person: 'person.id', name: '', add: ['greeted'], remove: [] },
      {
        ...{ id: 'ask', verb: 'call', method: 'POST', url: `${house.lagoon}/lookups/v1/people`, headers: [] },
        ...{
          body: { type: 'json', text: '{"name": "{$person.name}"}' },
          as: 'asked',
          sample: { id: 1, status: 'pending' },
        },
        ...{ keyed: false, again: null, whenNot: 'stop' },
      },
      {
        ...{
          id: 'answer',
          verb: 'call',
          method: 'GET',
          url: `${house.lagoon}/lookups/v1/people/{$asked.id}`,
          headers: [],
        },
        ...{
          body: null,
          as: 'known',
          sample: { id: 1, status: 'found', person: { member_since: 2014 } },
          keyed: false,
        },
        again: {
          until: {
            type: 'group',
            match: 'all',
            items: [{ type: 'test', field: 'known.status', op: 'isNot', value: 'pending' }],
          },
          every: 30,
          times: 20,
        },
        whenNot: 'stop',
      },
      {
        ...{ id: 'found', verb: 'check' },
        condition: {
          type: 'group',
          match: 'all',
          items: [{ type: 'test', field: 'known.status', op: 'is', value: 'found' }],
        },
      },
      { id: 'member', verb: 'label', person: 'person.id', name: '', add: ['member'], remove: [] },
    ] as Step[],
    settings: { ...NO_SETTINGS },
  });

  /** What the look-up service says of somebody by now. */
  async function statusOf(name: string): Promise<string> {
    const asked = await house.things<{ name: string }>('lookups', 'lookup');
    const { id } = asked.find(({ body }) => body.name === name)!;
    const answer = await fetch(`${house.lagoon}/lookups/v1/people/${id}`);
    return ((await answer.json()) as { status: string }).status;
  }

  it('is greeted an hour later, once, labelled, and looked up until that is done', async () => {
    const workflow = await start(greeting());
    const names = ['Ana Prata', 'Bea Lund', 'Ilse Barrow'];
    for (const name of names) await comment(name, `First time here, ${++count}`);
    await later(10 * MINUTE);
    await comment('Ana Prata', `And again, ${++count}`);
    const before = (await saidTo('Ana Prata')).messages.length;
    await later(51 * MINUTE);
    await later(10 * MINUTE);
    expect((await saidTo('Ana Prata')).messages.slice(before)).toEqual(['Good to see you here, Ana Prata.']);
    for (let step = 0; step < 10; step++) await later(31 * SECOND);
    const runs = await runsOf(house.services.pool, house.lidos, workflow, 20);
    expect(runs).toHaveLength(4);
    expect(runs.every(({ status }) => status === 'done' || status === 'stopped')).toBe(true);
    // Nine in ten are not found, and that is an ordinary end.
    for (const name of names) {
      const labels = (
        await select<{ label: string }>(
          house.services.pool,
          'SELECT l.label FROM contact_labels l JOIN contacts p ON p.id = l.contact_id WHERE p.brand_id = ? AND p.name = ?',
          [house.lidos, name],
        )
      ).map(({ label }) => label);
      expect(labels).toContain('greeted');
      expect(labels.includes('member'), name).toBe((await statusOf(name)) === 'found');
    }
    const [held] = await select<{ n: number }>(
      house.services.pool,
      'SELECT COUNT(*) AS n FROM held WHERE workflow_id = ?',
      [workflow],
    );
    expect(Number(held!.n)).toBe(0);
  });
});
