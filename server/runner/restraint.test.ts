// What would harm an audience is caught before it does: circles, floods, the same words twice, old news, what came during
// a pause.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_TIMETABLE } from '@playa/core/timetable/timetable.ts';
import { NO_SETTINGS, type Settings } from '@playa/core/workflow/settings.ts';
import { slotsIn } from '@playa/core/model/state.ts';
import { createOutlet } from '../accounts/outlets.ts';
import { change } from '../db/database.ts';
import { noticesFor } from '../store/notices.ts';
import { keepTimetable, timetablesOf } from '../store/timetables.ts';
import { workflowBy } from '../store/workflows.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { live, newVideos, pause, uploadNow } from '../testing/workflow.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { lookNow } from '../watch/look.ts';
import { decide } from '../workflows/decide.ts';
import { pause as pauseByHand, resume } from '../workflows/go-live.ts';
import { missedWhilePaused } from '../workflows/taking.ts';
import { takeRuns } from './take-runs.ts';
import { performEffects } from './perform-effects.ts';
import { receiveHook } from '../testing/hooks.ts';
import { runsOf } from '../testing/runs-of.ts';

let house: House;
let watch: number;
let page: number;
let note: number;
let notes: number;
const HOUR = 3_600_000;

beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  const microblog = await house.connect('microblog');
  note = (await house.outlet('@ternbaylidos', microblog)).id;
  notes = await watchOutlet(house.services, house.lidos, note, 'notes');
  watch = await house.watch();
  await lookNow(house.services, notes);
  page = await house.page();
});
afterAll(() => house?.close());
beforeEach(() => {
  house.clock.now = testNow();
});

const echo = (more: Partial<Settings> = {}): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch: notes }],
  steps: [
    { id: 'words', verb: 'compose', name: 'caption', text: 'Again: {$text}' },
    { id: 'post', verb: 'publish', outlets: [note], caption: 'caption', card: null },
  ],
  settings: { ...NO_SETTINGS, ...more },
});
/** Live although it goes round: what the check before going live would not let through. */
async function liveAllTheSame(definition: Definition): Promise<number> {
  const id = await live(house, { ...definition, settings: { ...definition.settings!, own: undefined } });
  await change(house.services.pool, 'UPDATE versions SET definition = ? WHERE workflow_id = ?', [
    JSON.stringify(definition),
    id,
  ]);
  return id;
}
interface Note {
  text: string;
}
const notesWith = async (text: string) =>
  (await house.things<Note>('microblog', 'note')).filter((each) => each.body.text.includes(text));
async function round(): Promise<void> {
  house.clock.now += 60_000;
  await lookNow(house.services, notes);
  await house.settle();
}
const statusOf = async (id: number) => (await workflowBy(house.services.pool, house.lidos, id))!;

describe('a workflow that watches the profile it publishes to', () => {
  it('does not echo itself: its own posts start nothing', async () => {
    const workflow = await live(house, echo());
    await house.play({ do: 'note', profile: 'ternbaylidos', text: 'Seals at the north wall' });
    for (let times = 0; times < 4; times++) await round();
    expect(await notesWith('Seals at the north wall')).toHaveLength(2);
    expect(await runsOf(house.services.pool, house.lidos, workflow, 9)).toHaveLength(1);
    await pause(house, workflow);
  });

  it('nor when its post is seen before the answer of the network is written down', async () => {
    const workflow = await live(house, echo());
    await house.play({ do: 'note', profile: 'ternbaylidos', text: 'Seen early' });
    await lookNow(house.services, notes);
    await takeRuns(house.services);
    await house.fault('microblog', { kind: 'slowAfter', milliseconds: 800 });
    const sending = performEffects(house.services);
    for (let tries = 0; tries < 100 && (await notesWith('Again: Seen early')).length === 0; tries++)
      await new Promise((done) => setTimeout(done, 20));
    await lookNow(house.services, notes);
    await takeRuns(house.services);
    await sending;
    for (let times = 0; times < 4; times++) await round();
    expect(await notesWith('Seen early')).toHaveLength(2);
    await pause(house, workflow);
  });

  it('cannot go live when it takes its own posts', async () => {
    await expect(live(house, echo({ own: 'start' }))).rejects.toThrow('without end');
  });

  it('is paused by its brake when it goes round all the same, and everybody is told', async () => {
    const workflow = await liveAllTheSame(echo({ own: 'start', brake: { hour: 3, day: 10 } }));
    await house.play({ do: 'note', profile: 'ternbaylidos', text: 'Round' });
    for (let times = 0; times < 8; times++) await round();
    expect(await notesWith('Round')).toHaveLength(4);
    const stopped = await statusOf(workflow);
    expect(stopped.status).toBe('paused');
    expect(stopped.pausedBecause).toMatch(/^Paused by itself: more than 3 an hour at @ternbaylidos/);
    const told = await noticesFor(house.services.pool, house.lidos, house.mo, 5);
    expect(told[0]!.text).toBe(stopped.pausedBecause);
    // Somebody lets it go on: what was held back goes out, and it is counted anew.
    await resume(house.services, house.lidos, workflow);
    await house.settle();
    expect(await notesWith('Round')).toHaveLength(5);
    await round();
    expect((await notesWith('Round')).length).toBeGreaterThan(5);
    expect((await statusOf(workflow)).status).toBe('live');
    // What was mended is told nobody any longer.
    const left = await noticesFor(house.services.pool, house.lidos, house.mo, 5);
    expect(left.map((notice) => notice.text)).not.toContain(stopped.pausedBecause);
    await pause(house, workflow);
  });
});

describe('the same words to one outlet', () => {
  it('by another workflow wait for a person, also when both send at the same moment', async () => {
    const one = await live(house, newVideos(watch, [page]));
    const other = await live(house, newVideos(watch, [page]));
    await uploadNow(house, watch, 'Said twice');
    const said = async () => (await house.posts()).filter((post) => post.text === 'New: Said twice');
    expect(await said()).toHaveLength(1);
    const runs = [
      ...(await runsOf(house.services.pool, house.lidos, one, 1)),
      ...(await runsOf(house.services.pool, house.lidos, other, 1)),
    ];
    const held = runs.find((run) => run.status === 'held')!;
    const slot = slotsIn(held.state!)[0]!;
    expect(slot.says).toBe('The workflow “A workflow” posted the same words at Tern Bay Lidos just now.');
    await decide(house.services, house.lidos, held.id, slot.key, { do: 'retry' });
    await house.settle();
    expect(await said()).toHaveLength(2);
    for (const id of [one, other]) await pause(house, id);
  });
});

describe('what appears while a workflow is paused', () => {
  it.each([
    ['all', { take: 'all', last: 0 }, 3],
    ['the last two', { take: 'last', last: 2 }, 2],
    ['none', { take: 'none', last: 0 }, 0],
  ] as const)('is kept, and taken as chosen: %s', async (name, taking, count) => {
    const workflow = await live(house, newVideos(watch, [page], `{$title} ${name}`));
    await pauseByHand(house.services, house.lidos, workflow);
    for (const title of ['First', 'Second', 'Third']) await uploadNow(house, watch, `${title} during the pause`);
    const missed = await missedWhilePaused(house.services.pool, await statusOf(workflow), house.clock.now);
    expect(missed.map((item) => item.fields.title)).toEqual(
      ['First', 'Second', 'Third'].map((title) => `${title} during the pause`),
    );
    expect(await resume(house.services, house.lidos, workflow, { ...taking, every: 0 })).toBe(count);
    await house.settle();
    const posts = (await house.posts()).filter((post) => post.text.endsWith(`during the pause ${name}`));
    expect(posts).toHaveLength(count);
    await pause(house, workflow);
  });

  it('also a web hook', async () => {
    const hook = await receiveHook(house);
    const workflow = await live(house, newVideos(hook.watch, [page], 'Told: {$title}'));
    await pauseByHand(house.services, house.lidos, workflow);
    await hook.send({ title: 'During the pause' });
    await house.settle();
    expect(await resume(house.services, house.lidos, workflow, { take: 'all', last: 0, every: 0 })).toBe(1);
    await house.settle();
    expect((await house.posts()).map((post) => post.text)).toContain('Told: During the pause');
    await pause(house, workflow);
  });
});

describe('what appears late', () => {
  it('is no news when it is older than three days, or as old as the workflow says', async () => {
    const sheets = await house.connect('sheets');
    const columns = { file: 'Plan', name: 'Late', columns: 'title' };
    const rows = await watchOutlet(
      house.services,
      house.lidos,
      await createOutlet(house.services, house.lidos, sheets, 'table', columns),
      'rows',
    );
    await lookNow(house.services, rows);
    // The link of a row is none that people could open.
    const saying = (text: string): Definition => ({
      ...newVideos(rows, [page], text),
      steps: newVideos(rows, [page], text).steps.map((step) =>
        step.verb === 'publish' ? { ...step, card: null } : step,
      ),
    });
    const usual = await live(house, { ...saying('Usual: {$title}'), settings: NO_SETTINGS });
    const any = await live(house, {
      ...saying('Any: {$title}'),
      settings: { ...NO_SETTINGS, oldest: null },
    });
    for (const [title, days] of [
      ['A week old', 7],
      ['Of yesterday', 1],
    ] as const)
      await house.play({ do: 'row', tab: 'Late', cells: { title } }, house.clock.now - days * 24 * HOUR);
    await lookNow(house.services, rows);
    await house.settle();
    const texts = (await house.posts()).map((post) => post.text);
    expect(texts).toContain('Any: A week old');
    expect(texts).not.toContain('Usual: A week old');
    expect(texts).toContain('Usual: Of yesterday');
    for (const id of [usual, any]) await pause(house, id);
  });
});

// At the end of the file, since the clock is ahead from here on.
describe('the same words of another workflow', () => {
  it.each([
    ['within the time that the outlet sets', 3600, 3500, 1],
    ['no longer after it', 3600, 3700, 2],
    ['never where it sets none', 0, 0, 2],
  ])('wait %s', async (name, sameWords, apart, count) => {
    const { pool } = house.services;
    const before = (await timetablesOf(pool, house.lidos)).get(page);
    await keepTimetable(pool, house.lidos, page, { ...NO_TIMETABLE, sameWords }, before?.revision ?? 0);
    // Without a card: with one, each film's post would be another.
    const plain = (): Definition => {
      const made = newVideos(watch, [page], `Said ${name}`);
      return { ...made, steps: made.steps.map((step) => (step.verb === 'publish' ? { ...step, card: null } : step)) };
    };
    const one = await live(house, plain());
    await uploadNow(house, watch, `First ${name}`);
    await pause(house, one);
    house.clock.now += apart * 1000;
    const other = await live(house, plain());
    await house.upload({ title: `Second ${name}` });
    await lookNow(house.services, watch);
    await house.settle();
    expect((await house.posts()).filter((post) => post.text === `Said ${name}`)).toHaveLength(count);
    await pause(house, other);
    const kept = (await timetablesOf(pool, house.lidos)).get(page)!;
    await keepTimetable(pool, house.lidos, page, NO_TIMETABLE, kept.revision);
  });
});
