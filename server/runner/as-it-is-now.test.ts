// A run that waits is about its row as it is now, not as it was when the row appeared.
import { DateTime } from 'luxon';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { Settings } from '@playa/core/workflow/settings.ts';
import { createOutlet } from '../accounts/outlets.ts';
import { change } from '../db/database.ts';
import { type Run } from '../store/runs.ts';
import { asideOf } from '../store/set-aside.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { live, pause, plannedRows } from '../testing/workflow.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { lookNow } from '../watch/look.ts';
import { decide } from '../workflows/decide.ts';
import { resume } from '../workflows/go-live.ts';
import * as goingLive from '../workflows/go-live.ts';
import { slotsIn } from '@playa/core/model/state.ts';
import { leaseOf, performEffects } from './perform-effects.ts';
import { takeRuns } from './take-runs.ts';
import { runsOf } from '../testing/runs-of.ts';

let house: House;
let watch: number;
let pages: number[];
let table: number;
let count = 0;
const HOUR = 3_600_000;

beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  const sheets = await house.connect('sheets');
  table = await createOutlet(house.services, house.lidos, sheets, 'table', {
    file: 'Plan',
    name: 'Now',
    columns: 'Caption, Status, At, Posted',
  });
  watch = await watchOutlet(house.services, house.lidos, table, 'rows');
  await lookNow(house.services, watch);
  pages = [await house.page('Tern Bay Lidos'), await house.page('Gannet Point pool')];
});
afterAll(() => house?.close());
beforeEach(() => {
  house.clock.now = testNow();
});

const planned = (more: Partial<Settings> = {}, outlets = [pages[0]!]): Definition => plannedRows(watch, outlets, more);

async function look(): Promise<void> {
  await lookNow(house.services, watch);
  await house.settle();
}
async function row(status: string, at: number): Promise<{ id: number; caption: string }> {
  const caption = `Row ${++count}`;
  const id = await house.play({
    do: 'row',
    tab: 'Now',
    cells: { Caption: caption, Status: status, At: new Date(at).toISOString() },
  });
  await look();
  return { id, caption };
}
async function edit(id: number, cells: Record<string, string>): Promise<void> {
  await house.play({ do: 'change-row', id, cells });
  await look();
}
/** Lets an hour pass; the source is looked at when somebody asks for it. */
async function anHour(hours = 1): Promise<void> {
  house.clock.now += hours * HOUR;
  await house.settle();
  await look();
  house.clock.now += 2000;
  await house.settle();
}
const out = async () => (await house.posts()).map((post) => post.text).filter((text) => text.includes(`Row ${count}`));
const runs = (workflow: number): Promise<Run[]> => runsOf(house.services.pool, house.lidos, workflow, 10);

describe('a row changed while its run waits', () => {
  it('goes out in its corrected words, once', async () => {
    const workflow = await live(house, planned());
    const { id, caption } = await row('ready', house.clock.now + HOUR);
    await edit(id, { Caption: `${caption}, corrected` });
    await anHour(1.1);
    expect(await out()).toEqual([`${caption}, corrected`]);
    await anHour();
    expect(await out()).toHaveLength(1);
    expect(await runs(workflow)).toHaveLength(1);
    await pause(house, workflow);
  });

  it('does not go out in its old words when its post is due already', async () => {
    const workflow = await live(house, planned());
    const { id, caption } = await row('ready', house.clock.now + HOUR);
    house.clock.now += 1.1 * HOUR;
    await lookNow(house.services, watch);
    while ((await takeRuns(house.services)) > 0);
    await house.play({ do: 'change-row', id, cells: { Caption: `${caption}, corrected` } });
    await lookNow(house.services, watch);
    // The performer is quicker than whoever tells the run.
    await performEffects(house.services);
    expect(await out()).toEqual([]);
    await house.settle();
    expect(await out()).toEqual([`${caption}, corrected`]);
    await pause(house, workflow);
  });

  it('is not posted when it was set back to draft', async () => {
    const workflow = await live(house, planned());
    const { id } = await row('ready', house.clock.now + HOUR);
    await edit(id, { Status: 'draft' });
    await anHour(1.1);
    expect(await out()).toEqual([]);
    expect((await runs(workflow))[0]).toMatchObject({ status: 'stopped' });
    await pause(house, workflow);
  });

  it('goes out at its new time when it was moved, and not at the old one', async () => {
    const workflow = await live(house, planned());
    const { id, caption } = await row('ready', house.clock.now + HOUR);
    await edit(id, { At: new Date(house.clock.now + 3 * HOUR).toISOString() });
    await anHour(1.1);
    expect(await out()).toEqual([]);
    await anHour(2);
    expect(await out()).toEqual([caption]);
    await pause(house, workflow);
  });

  it.each([
    ['with the workflow told to heed its status', { onChange: ['Status'] }],
    ['without', {}],
  ])('goes out once when it was ready, then draft, then ready again, %s', async (_, settings) => {
    const workflow = await live(house, planned(settings));
    const { id, caption } = await row('ready', house.clock.now + HOUR);
    await edit(id, { Status: 'draft' });
    await edit(id, { Status: 'ready' });
    await anHour(1.1);
    await anHour();
    expect(await out()).toEqual([caption]);
    await pause(house, workflow);
  });

  it('is not posted when it was deleted', async () => {
    const workflow = await live(house, planned());
    const { id } = await row('ready', house.clock.now + HOUR);
    await house.play({ do: 'delete-row', id });
    await look();
    await anHour(1.1);
    expect(await out()).toEqual([]);
    expect((await runs(workflow))[0]).toMatchObject({
      status: 'stopped',
      trace: { at: { kind: 'stops', why: 'it is gone at its source' } },
    });
    await pause(house, workflow);
  });

  it('is looked at once more before it goes out: what changed since the last look counts', async () => {
    const workflow = await live(house, planned());
    const { id } = await row('ready', house.clock.now + HOUR);
    house.clock.now += HOUR + 1000;
    await house.play({ do: 'change-row', id, cells: { Status: 'draft' } });
    await house.settle();
    expect(await out()).toEqual([]);
    await look();
    house.clock.now += 2000;
    await house.settle();
    expect(await out()).toEqual([]);
    await pause(house, workflow);
  });

  it('goes on as it was, or ends, where the workflow says so', async () => {
    const kept = await live(house, planned({ whileOpen: 'keep' }));
    const first = await row('ready', house.clock.now + HOUR);
    await edit(first.id, { Caption: `${first.caption}, corrected` });
    await anHour(1.1);
    expect(await out()).toEqual([first.caption]);
    await pause(house, kept);
    const ended = await live(house, planned({ whileOpen: 'end' }));
    const second = await row('ready', house.clock.now + HOUR);
    await edit(second.id, { Caption: `${second.caption}, corrected` });
    await anHour(1.1);
    expect(await out()).toEqual([]);
    expect((await runs(ended))[0]).toMatchObject({ status: 'stopped' });
    await pause(house, ended);
  });

  it('waits with it while the workflow is paused', async () => {
    const workflow = await live(house, planned());
    const { id, caption } = await row('ready', house.clock.now + HOUR);
    await goingLive.pause(house.services, house.lidos, workflow);
    await house.play({ do: 'change-row', id, cells: { Caption: `${caption}, corrected` } });
    await look();
    await resume(house.services, house.lidos, workflow);
    await house.settle();
    await anHour(1.1);
    expect(await out()).toEqual([`${caption}, corrected`]);
    await pause(house, workflow);
  });

  it('is asked about anew when a person had said yes to other words, and not when they had said yes to these', async () => {
    const definition = planned();
    definition.steps = [
      definition.steps[0]!,
      definition.steps[2]!,
      { id: 'ask', verb: 'hold', question: 'Good?', text: 'caption' },
      definition.steps[1]!,
      definition.steps[3]!,
    ];
    const workflow = await live(house, definition);
    const { id, caption } = await row('ready', house.clock.now + HOUR);
    const held = async () => slotsIn((await runs(workflow))[0]!.state!).filter((slot) => slot.status === 'held');
    const [asked] = await held();
    const run = (await runs(workflow))[0]!.id;
    await decide(house.services, house.lidos, run, asked!.key, { do: 'retry' });
    await edit(id, { At: new Date(house.clock.now + 2 * HOUR).toISOString() });
    expect(await held()).toEqual([]);
    await edit(id, { Caption: `${caption}, corrected` });
    const [again] = await held();
    expect(again).toMatchObject({ input: { text: `${caption}, corrected` } });
    // A yes to what is no longer asked changes nothing.
    await expect(decide(house.services, house.lidos, run, asked!.key, { do: 'retry' })).rejects.toThrow('no longer');
    await anHour(2.1);
    expect(await out()).toEqual([]);
    await decide(house.services, house.lidos, run, again!.key, { do: 'retry' });
    await house.settle();
    await anHour(0.1);
    expect(await out()).toEqual([`${caption}, corrected`]);
    await pause(house, workflow);
  });

  it('is written into by itself, in the columns that are named and no others, and starts nothing by that', async () => {
    const definition = planned({ onChange: ['Status'] });
    definition.steps[3] = {
      id: 'post',
      verb: 'publish',
      outlets: [pages[0]!],
      caption: 'caption',
      card: null,
      as: 'post',
    };
    definition.steps.push({
      id: 'note',
      verb: 'record',
      outlet: null,
      where: 'item',
      match: null,
      values: [
        { column: 'Status', value: 'posted' },
        { column: 'Posted', value: '{$post.url}' },
        { column: 'Caption', value: '' },
      ],
      as: 'row',
    });
    const workflow = await live(house, definition);
    const { id, caption } = await row('ready', house.clock.now + HOUR);
    await anHour(1.1);
    await anHour();
    const there = (await house.things<{ cells: Record<string, string> }>('sheets', 'row')).find(
      (each) => each.id === id,
    )!;
    expect(there.body.cells).toMatchObject({ Caption: caption, Status: 'posted' });
    expect(there.body.cells.Posted).toMatch(/^http.*\/pages\/posts\/\d+$/);
    expect(await runs(workflow)).toHaveLength(1);
    expect(await out()).toEqual([caption]);
    await pause(house, workflow);
  });

  it('goes out at the moment the row says in the brand’s own way and zone; one that cannot be read is asked about', async () => {
    const workflow = await live(house, planned());
    const at = DateTime.fromMillis(house.clock.now + HOUR, { zone: 'Europe/Lisbon' }).startOf('minute');
    const caption = `Row ${++count}`;
    const cells = { Caption: caption, Status: 'ready', At: at.toFormat('d.M.yyyy H:mm') };
    await house.play({ do: 'row', tab: 'Now', cells });
    await look();
    expect((await runs(workflow))[0]!.trace.at).toMatchObject({ kind: 'waits', until: at.toMillis() });
    await house.play({ do: 'row', tab: 'Now', cells: { ...cells, Caption: 'Unread', At: 'next week' } });
    await look();
    const [unread] = await runs(workflow);
    const [asked] = slotsIn(unread!.state!);
    expect(asked).toMatchObject({ status: 'held', trouble: 'date', input: { text: 'next week' } });
    await decide(house.services, house.lidos, unread!.id, asked!.key, {
      do: 'retry',
      text: at.toFormat('d.M.yyyy H:mm'),
    });
    await anHour(1.1);
    expect((await house.posts()).map((post) => post.text)).toEqual(expect.arrayContaining([caption, 'Unread']));
    await pause(house, workflow);
  });

  it('after it went out at one outlet goes out corrected at the next, and nowhere twice', async () => {
    const definition = planned();
    definition.steps.splice(1, 1);
    definition.steps.push(
      { id: 'at', verb: 'wait', until: { type: 'field', field: 'At', offset: 0 } },
      { id: 'more', verb: 'publish', outlets: [pages[1]!], caption: 'caption', card: null },
      {
        id: 'note',
        verb: 'record',
        outlet: table,
        match: { column: 'Caption', value: '{$Caption}' },
        values: [{ column: 'Posted', value: 'yes' }],
        as: 'row',
      },
    );
    const workflow = await live(house, definition);
    const { id, caption } = await row('ready', house.clock.now + HOUR);
    expect(await out()).toEqual([caption]);
    await edit(id, { Caption: `${caption}, corrected` });
    await anHour(1.1);
    expect(await out()).toEqual([caption]);
    const other = (await house.posts('gannet-point')).map((post) => post.text);
    expect(other.filter((text) => text.includes(caption))).toEqual([`${caption}, corrected`]);
    // What the run itself wrote into the row is no news to it.
    await anHour();
    expect(await out()).toHaveLength(1);
    expect((await runs(workflow))[0]).toMatchObject({ status: 'done' });
    await pause(house, workflow);
  });

  it('while a worker that has sent it hears nothing: it is out as it was, and not posted again corrected', async () => {
    const workflow = await live(house, planned());
    const { id, caption } = await row('ready', house.clock.now + HOUR);
    house.clock.now += HOUR + 1000;
    await house.settle();
    await lookNow(house.services, watch);
    house.clock.now += 2000;
    await takeRuns(house.services);
    await house.fault('pages', { kind: 'slowAfter', milliseconds: 2500 });
    const sending = performEffects(house.services);
    const there = async () => (await house.posts()).some((post) => post.text === caption);
    for (let tries = 0; tries < 200 && !(await there()); tries++) await new Promise((done) => setTimeout(done, 10));
    expect(await there()).toBe(true);
    // Its claim is lost; others go on.
    house.clock.now += leaseOf(house.services) + 1000;
    await edit(id, { Caption: `${caption}, corrected` });
    await sending;
    await anHour(0.1);
    expect(await out()).toEqual([caption]);
    await pause(house, workflow);
  });

  it('is asked about in its new words when somebody says yes before the change has gone round', async () => {
    const definition = planned();
    definition.steps.splice(1, 1);
    definition.steps.splice(2, 0, { id: 'ask', verb: 'hold', question: 'Good?', text: 'caption' });
    const workflow = await live(house, definition);
    const { id, caption } = await row('ready', house.clock.now);
    const [run] = await runs(workflow);
    const [asked] = slotsIn(run!.state!).filter((slot) => slot.status === 'held');
    await house.play({ do: 'change-row', id, cells: { Caption: `${caption}, corrected` } });
    await lookNow(house.services, watch);
    await decide(house.services, house.lidos, run!.id, asked!.key, { do: 'retry' }).catch(() => undefined);
    await house.settle();
    expect((await out()).filter((text) => text === caption)).toEqual([]);
    await pause(house, workflow);
  });

  it('in a way that cannot be stored is set aside, and the rows beside it are corrected', async () => {
    const { pool } = house.services;
    const workflow = await live(house, planned());
    const rotten = await row('ready', house.clock.now + HOUR);
    const sound = await row('ready', house.clock.now + HOUR);
    // Stands for any fault the database has with one record, and with no other.
    await pool.query(
      `CREATE TRIGGER refuses BEFORE UPDATE ON items FOR EACH ROW
       IF NEW.fields LIKE '%rotten%' THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'refused'; END IF`,
    );
    try {
      await house.play({ do: 'change-row', id: rotten.id, cells: { Caption: 'rotten' } });
      await edit(sound.id, { Caption: `${sound.caption}, corrected` });
      await anHour(1.1);
    } finally {
      await pool.query('DROP TRIGGER refuses');
    }
    expect(await out()).toEqual([`${sound.caption}, corrected`]);
    expect((await asideOf(pool, house.lidos, 5)).map((each) => each.why)).toContain('It could not be stored.');
    await pause(house, workflow);
    await change(pool, "UPDATE runs SET status = 'cancelled' WHERE workflow_id = ? AND status <> 'done'", [workflow]);
  });
});
