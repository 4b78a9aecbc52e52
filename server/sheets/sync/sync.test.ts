// A sheet kept in step with a table elsewhere, on a real database and the real network: what is changed on either side, in
// whatever order, with whatever going wrong between.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Cell } from '@playa/core/sheets/cell.ts';
import type { Column } from '@playa/core/sheets/column.ts';
import type { SyncRules } from '@playa/core/sheets/sync.ts';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';
import { disconnect } from '../../accounts/connect.ts';
import { refreshOutlets } from '../../accounts/connect.ts';
import { sessionFor } from '../../accounts/sessions.ts';
import { call, jsonBody } from '../../connectors/answers.ts';
import { NetworkTrouble } from '../../connectors/connector.ts';
import { change } from '../../db/database.ts';
import { accountBy } from '../../store/accounts.ts';
import { outletsOf } from '../../store/outlets.ts';
import { historyOfRow, rowsOfSheet } from '../../store/sheet-rows.ts';
import { dropRemarks, forgetAdding, syncOfSheet } from '../../store/sheet-syncs.ts';
import { syncedRows } from '../../store/synced-rows.ts';
import { sheetBy } from '../../store/sheets.ts';
import { openHouse, testNow, type House } from '../../testing/house.ts';
import { live, pause } from '../../testing/workflow.ts';
import { addSheetRows, editSheetRows, setRowsDeleted } from '../edit-rows.ts';
import { changeSheet, makeSheet, removeSheet, restoreSheet } from '../keep-sheet.ts';
import { syncDue } from './compare.ts';
import { keepInStep, leaveStep, previewSync, sayOfSync, syncRevision, tablesElsewhere } from './keep.ts';

let house: House;
let account: number;
let page: number;
beforeAll(async () => {
  house = await openHouse();
  account = await house.connect('sheets');
  await house.connect('pages');
  page = await house.page();
});
afterAll(() => house?.close());
beforeEach(async () => {
  house.clock.now = testNow();
  await house.behave();
  // What an earlier test keeps in step is not this one's business.
  await change(house.services.pool, "UPDATE sheet_syncs SET state = 'paused'");
});

const COLUMNS: Column[] = [
  { key: 'title', name: 'Title', type: 'text' },
  { key: 'price', name: 'Price', type: 'text' },
  {
    key: 'status',
    name: 'Status',
    type: 'choice',
    options: [
      { value: 'draft', colour: 'plain' },
      { value: 'ready', colour: 'kelp' },
    ],
  },
  { key: 'goes_out', name: 'Goes out', type: 'moment' },
  { key: 'note', name: 'Own note', type: 'text' },
];
const THERE = [
  { name: 'Title', type: 'text' },
  { name: 'Price', type: 'number' },
  { name: 'Status', type: 'text' },
  { name: 'When', type: 'text' },
  { name: 'Remarks', type: 'text' },
];
const RULES: SyncRules = {
  columns: [
    { key: 'title', there: 'Title' },
    { key: 'price', there: 'Price' },
    { key: 'status', there: 'Status' },
    { key: 'goes_out', there: 'When' },
  ],
  match: 'title',
  wins: 'here',
  deletions: true,
};

let tables = 0;
/** A table elsewhere, with rows in it, and a sheet here. */
class Pair {
  sheet = 0;
  outlet = 0;
  tab = '';
  async begin(here: Record<string, Cell>[], there: Record<string, Cell>[], rules: Partial<SyncRules> = {}) {
    const { services, lidos } = house;
    const name = `Table ${++tables}`;
    const session = sessionFor(services, (await accountBy(services.pool, lidos, account))!);
    const body = { file: 'Marketing', name, columns: THERE };
    const made = await call(session, '/api/tabs', z.object({ tab: z.string() }), { ...jsonBody(body), method: 'POST' });
    this.tab = made.tab;
    await refreshOutlets(services, lidos, account);
    this.outlet = (await outletsOf(services.pool, lidos)).find(({ name: of }) => of === `Marketing · ${name}`)!.id;
    for (const cells of there) await this.addThere(cells);
    this.sheet = await makeSheet(services, lidos, { name, columns: COLUMNS });
    if (here.length > 0) await addSheetRows(services, lidos, this.sheet, here);
    await keepInStep(services, lidos, this.sheet, { outletId: this.outlet, rules: { ...RULES, ...rules } });
    await this.step();
    return this;
  }
  async #network<T>(path: string, schema: z.ZodType<T>, method: 'POST' | 'PATCH' | 'GET' | 'DELETE', body?: unknown) {
    const session = sessionFor(house.services, (await accountBy(house.services.pool, house.lidos, account))!);
    return call(session, path, schema, {
      method,
      gone: method === 'DELETE',
      ...(body !== undefined && jsonBody(body)),
    });
  }
  async addThere(cells: Record<string, Cell>): Promise<number> {
    const body = { cells, row_key: `by hand ${Math.random()}` };
    return (await this.#network(`/api/tabs/${this.tab}/rows`, z.object({ row: z.number() }), 'POST', body)).row;
  }
  editThere = (row: number, cells: Record<string, Cell>) =>
    this.#network(`/api/rows/${row}`, z.unknown(), 'PATCH', { cells });
  deleteThere = (row: number) => house.play({ do: 'delete-row', id: row });
  async there(): Promise<{ row: number; cells: Record<string, Cell> }[]> {
    const schema = z.object({ rows: z.array(z.object({ row: z.number(), cells: z.record(z.string(), z.any()) })) });
    return (await this.#network(`/api/tabs/${this.tab}/rows`, schema, 'GET')).rows;
  }
  here = () => rowsOfSheet(house.services.pool, house.lidos, this.sheet, null, 1000);
  edit = async (row: number, key: string, after: Cell) => {
    const before = (await this.here()).find(({ id }) => id === row)!.cells[key] ?? null;
    return editSheetRows(house.services, house.lidos, this.sheet, [{ row, cells: [{ key, before, after }] }]);
  };
  sync = async () => (await syncOfSheet(house.services.pool, house.lidos, this.sheet))!;
  /** Time goes on until both sides have been compared. */
  async step(rounds = 1) {
    for (let n = 0; n < rounds; n++) {
      house.clock.now += 901_000;
      await syncDue(house.services);
    }
  }
  titles = async () => [
    (await this.here()).map(({ cells }) => cells.title ?? '').sort(),
    (await this.there()).map(({ cells }) => cells.Title ?? '').sort(),
  ];
}
const pair = (...given: Parameters<Pair['begin']>) => new Pair().begin(...given);

describe('the start', () => {
  it('pairs rows by a column, adds what is missing on either side, and starts no workflow with what was there', async () => {
    const { services, lidos } = house;
    const both = await pair(
      [
        { title: 'Lane swim', price: '4', note: 'stays here' },
        { title: 'Only here', goes_out: '2027-03-01 09:30' },
      ],
      [
        { Title: 'LANE SWIM', Status: 'ready', Remarks: 'stays there' },
        { Title: 'Only there', Price: 12.5, When: '2027-04-01T08:00:00Z' },
      ],
    );
    const here = await both.here();
    expect(here.map(({ cells }) => cells)).toEqual([
      // Both say its title, each in its own way: what is like it is no change to be fought over.
      { title: 'Lane swim', price: '4', status: 'ready', note: 'stays here' },
      { title: 'Only here', goes_out: expect.stringContaining('2027-03-01') },
      { title: 'Only there', price: '12.5', goes_out: '2027-04-01T08:00:00Z' },
    ]);
    expect((await both.there()).map(({ cells }) => cells)).toEqual([
      { Title: 'Lane swim', Price: 4, Status: 'ready', Remarks: 'stays there' },
      { Title: 'Only there', Price: 12.5, When: '2027-04-01T08:00:00Z' },
      { Title: 'Only here', Price: null, Status: null, When: '2027-03-01 09:30' },
    ]);
    const before = JSON.stringify([await both.here(), await both.there()]);
    await both.step(3);
    expect(JSON.stringify([await both.here(), await both.there()])).toBe(before);
    expect(await both.sync()).toMatchObject({ joined: true, trouble: null, failures: 0 });
    expect((await both.sync()).syncedAt).toBeGreaterThan(0);
    expect(
      (await tablesElsewhere(services, lidos, await outletsOf(services.pool, lidos))).find(
        ({ id }) => id === both.outlet,
      ),
    ).toMatchObject({
      columns: THERE,
      inStepWith: { sheetId: both.sheet },
    });
  });

  it('is seen before anything is written', async () => {
    const both = await pair([], []);
    await leaveStep(house.services, house.lidos, both.sheet);
    await addSheetRows(house.services, house.lidos, both.sheet, [{ title: 'A', status: 'draft' }, { title: 'B' }]);
    await both.addThere({ Title: 'A', Status: 'ready', Price: 3 });
    await both.addThere({ Title: 'C' });
    const before = JSON.stringify([await both.here(), await both.there()]);
    const seen = await previewSync(house.services, house.lidos, both.sheet, {
      outletId: both.outlet,
      rules: { ...RULES, columns: [...RULES.columns, { key: 'note', there: 'Nowhere' }] },
    });
    expect(seen).toMatchObject({
      here: 2,
      there: 2,
      whole: true,
      missing: ['Nowhere'],
      paired: 1,
      addHere: 1,
      addThere: 1,
      bring: 1,
      send: 1,
      differs: 1,
      differ: [{ key: 'status', here: 'draft', there: 'ready' }],
    });
    expect(JSON.stringify([await both.here(), await both.there()])).toBe(before);
  });
});

describe('afterwards', () => {
  it('an edit here is there two seconds later, and one there comes here, with its history', async () => {
    const both = await pair([{ title: 'Aqua' }], []);
    const [row] = await both.here();
    await both.edit(row!.id, 'status', 'draft');
    house.clock.now += 2000;
    expect(await syncDue(house.services)).toBe(1);
    const [there] = await both.there();
    expect(there!.cells.Status).toBe('draft');
    await both.editThere(there!.row, { Status: 'ready' });
    await both.step();
    expect((await both.here())[0]!.cells.status).toBe('ready');
    const [last] = await historyOfRow(house.services.pool, house.lidos, row!.id, 1);
    expect(last).toMatchObject({
      did: 'changed',
      by: null,
      run: null,
      was: { status: 'draft' },
      became: { status: 'ready' },
    });
  });

  it('what both have changed is as the rules say; what is lost is remarked, until it is seen', async () => {
    for (const wins of ['here', 'there'] as const) {
      const both = await pair([{ title: 'Aqua', status: 'draft' }], [], { wins });
      const [[row], [there]] = [await both.here(), await both.there()];
      await both.edit(row!.id, 'price', '5');
      await both.editThere(there!.row, { Price: 6, Status: 'ready' });
      await both.step();
      const price = wins === 'here' ? '5' : '6';
      expect((await both.here())[0]!.cells).toMatchObject({ price, status: 'ready' });
      expect((await both.there())[0]!.cells).toMatchObject({ Price: Number(price), Status: 'ready' });
      const { remarks } = await both.sync();
      expect(remarks).toMatchObject([
        { row: row!.id, key: 'price', why: 'overwritten', says: wins === 'here' ? '6' : '5' },
      ]);
      await both.step();
      expect((await both.sync()).remarks).toHaveLength(1);
      await sayOfSync(house.services, house.lidos, both.sheet, { seen: house.clock.now });
      expect((await both.sync()).remarks).toEqual([]);
    }
  });

  it('a cell that is refused there is said to be, keeps nothing else back, and is not sent again and again', async () => {
    const both = await pair([{ title: 'Aqua' }], []);
    const [row] = await both.here();
    await editSheetRows(house.services, house.lidos, both.sheet, [
      {
        row: row!.id,
        cells: [
          { key: 'price', before: null, after: 'on request' },
          { key: 'status', before: null, after: 'ready' },
        ],
      },
    ]);
    await both.step();
    expect((await both.there())[0]!.cells).toMatchObject({ Price: null, Status: 'ready' });
    expect((await both.sync()).remarks).toMatchObject([
      { row: row!.id, key: 'price', why: 'refused', says: expect.stringContaining('Price takes a number') },
    ]);
    await both.step(2);
    expect((await both.here())[0]!.cells.price).toBe('on request');
    // A new row with such a cell arrives without it.
    await addSheetRows(house.services, house.lidos, both.sheet, [{ title: 'Sauna', price: 'free', status: 'draft' }]);
    await both.step(2);
    expect((await both.there())[1]!.cells).toEqual({ Title: 'Sauna', Status: 'draft' });
    expect((await both.sync()).remarks).toHaveLength(2);
    // Once it can be taken, it is, and nobody need be told any more.
    await both.edit(row!.id, 'price', '7');
    await both.step();
    expect((await both.there())[0]!.cells.Price).toBe(7);
    expect((await both.sync()).remarks.map(({ row: of }) => of)).not.toContain(row!.id);
    await dropRemarks(
      house.services.pool,
      both.sheet,
      (await both.here()).map(({ id }) => id),
    );
    expect((await both.sync()).remarks).toEqual([]);
  });

  it('a row that becomes ready there starts the workflow here once, and what it writes back is there', async () => {
    const { services, lidos } = house;
    const both = await pair([], []);
    const sheet = (await sheetBy(services.pool, lidos, both.sheet))!;
    const workflow = await live(house, {
      schema: 1,
      sources: [
        {
          id: 'source',
          watch: sheet.watchId,
          trigger: {
            on: 'becomes',
            when: { type: 'group', match: 'all', items: [{ type: 'test', field: 'status', op: 'is', value: 'ready' }] },
          },
        },
      ],
      steps: [
        { id: 'words', verb: 'compose', name: 'caption', text: 'From elsewhere: {$title}' },
        { id: 'post', verb: 'publish', outlets: [page], caption: 'caption', card: null, as: 'post' },
        {
          id: 'back',
          verb: 'record',
          outlet: null,
          where: 'item',
          match: null,
          values: [{ column: 'status', value: 'draft' }],
          as: 'written',
        },
      ],
      settings: { ...NO_SETTINGS, oldest: null },
    });
    const row = await both.addThere({ Title: 'Sunrise', Status: 'draft' });
    await both.step();
    await house.settle();
    await both.editThere(row, { Status: 'ready' });
    await both.step();
    await house.settle();
    await both.step(2);
    await house.settle();
    expect((await house.posts()).filter(({ text }) => text.includes('Sunrise'))).toHaveLength(1);
    expect((await both.there())[0]!.cells.Status).toBe('draft');
    await pause(house, workflow);
  });

  it('another name of a column here, or a column taken away, changes nothing there', async () => {
    const { services, lidos } = house;
    const both = await pair([{ title: 'Aqua', price: '4' }], []);
    const sheet = (await sheetBy(services.pool, lidos, both.sheet))!;
    const columns = COLUMNS.filter(({ key }) => key !== 'price').map((column) =>
      column.key === 'title' ? { ...column, name: 'Heading' } : column,
    );
    await changeSheet(services, lidos, both.sheet, sheet.revision, { columns });
    await both.step();
    expect((await both.there())[0]!.cells).toMatchObject({ Title: 'Aqua', Price: 4 });
    await changeSheet(services, lidos, both.sheet, sheet.revision + 1, { columns: COLUMNS });
    await both.step();
    expect((await both.here())[0]!.cells).toEqual({ title: 'Aqua', price: '4' });
  });

  it('other rules keep the rows paired: a column more is filled from the side that says something', async () => {
    const both = await pair([{ title: 'Aqua', note: 'ours' }, { title: 'Sauna' }], []);
    const [, there] = await both.there();
    await both.editThere(there!.row, { Remarks: 'theirs' });
    const rules = { ...RULES, match: null, columns: [...RULES.columns, { key: 'note', there: 'Remarks' }] };
    await keepInStep(house.services, house.lidos, both.sheet, { outletId: both.outlet, rules });
    await both.step();
    expect((await both.here()).map(({ cells }) => cells.note)).toEqual(['ours', 'theirs']);
    expect((await both.there()).map(({ cells }) => cells.Remarks)).toEqual(['ours', 'theirs']);
  });
});

describe('rows that go', () => {
  it('go on the other side too; one that was deleted and is brought back here is there again', async () => {
    const both = await pair([{ title: 'A' }, { title: 'B' }, { title: 'C' }], []);
    const [a, b] = await both.here();
    await setRowsDeleted(house.services, house.lidos, both.sheet, [a!.id], true);
    await both.deleteThere((await both.there()).find(({ cells }) => cells.Title === 'B')!.row);
    await both.step();
    expect(await both.titles()).toEqual([['C'], ['C']]);
    const [last] = await historyOfRow(house.services.pool, house.lidos, b!.id, 1);
    expect(last).toMatchObject({ did: 'deleted', was: { title: 'B' } });
    await setRowsDeleted(house.services, house.lidos, both.sheet, [a!.id, b!.id], false);
    await both.step(2);
    expect(await both.titles()).toEqual([
      ['A', 'B', 'C'],
      ['A', 'B', 'C'],
    ]);
  });

  it('many at once wait for a person, who has them deleted or written again', async () => {
    const many = Array.from({ length: 8 }, (_, n) => ({ title: `Row ${n}` }));
    for (const [vanished, left] of [
      ['again', 8],
      ['delete', 0],
    ] as const) {
      const both = await pair(many, []);
      for (const { row } of await both.there()) await both.deleteThere(row);
      await both.step(2);
      expect(await both.here()).toHaveLength(8);
      expect((await both.sync()).vanished).toEqual({ side: 'there', rows: 8, of: 8 });
      await sayOfSync(house.services, house.lidos, both.sheet, { vanished });
      await both.step(2);
      expect((await both.titles()).map((side) => side.length)).toEqual([left, left]);
      expect(await both.sync()).toMatchObject({ vanished: null, onVanished: 'ask' });
    }
  });
});

describe('when something goes wrong', () => {
  it('an addition of which no answer comes is made once', async () => {
    const both = await pair([], []);
    await addSheetRows(house.services, house.lidos, both.sheet, [{ title: 'Once' }]);
    house.services.config.answerWithin = 700;
    await house.fault('sheets', { kind: 'hangAfter', path: '/rows', method: 'POST' });
    await both.step();
    house.services.config.answerWithin = 10_000;
    await both.step(3);
    expect(await both.titles()).toEqual([['Once'], ['Once']]);
    expect(await syncedRows(house.services.pool, (await both.sync()).id)).toMatchObject([{ adding: null }]);
  });

  it('whoever stops in the middle of a comparison leaves nothing doubled and nothing lost', async () => {
    const both = await pair([], []);
    await addSheetRows(house.services, house.lidos, both.sheet, [{ title: 'One' }, { title: 'Two' }]);
    await both.addThere({ Title: 'Three' });
    // The process dies after the first row was added there, before it has written that down.
    const { table } = house.services.connectors.sheets;
    const add = table!.add;
    let added = 0;
    table!.add = async (...given) => {
      const row = await add(...given);
      if (++added === 1) throw new Error('The process died.');
      return row;
    };
    house.clock.now += 901_000;
    await expect(syncDue(house.services)).rejects.toThrow('died');
    table!.add = add;
    // Its claim runs out, and another worker takes it up.
    await both.step(3);
    expect(await both.titles()).toEqual([
      ['One', 'Three', 'Two'],
      ['One', 'Three', 'Two'],
    ]);
  });

  it('what is edited here while it is being sent goes with the next comparison, soon', async () => {
    const both = await pair([{ title: 'Aqua' }], []);
    const [row] = await both.here();
    await both.edit(row!.id, 'status', 'draft');
    const { table } = house.services.connectors.sheets;
    const send = table!.change;
    table!.change = async (...given) => {
      table!.change = send;
      await both.edit(row!.id, 'status', 'ready');
      return send(...given);
    };
    await both.step();
    expect((await both.there())[0]!.cells.Status).toBe('draft');
    house.clock.now += 2000;
    await syncDue(house.services);
    expect((await both.there())[0]!.cells.Status).toBe('ready');
    expect((await both.sync()).remarks).toEqual([]);
  });

  it('a row that the network stumbles over holds no other back, in either direction', async () => {
    const both = await pair([{ title: 'A' }, { title: 'Rotten' }, { title: 'C' }], []);
    const { table } = house.services.connectors.sheets;
    const { change: send, add } = table!;
    const stumble = (cells: object) => {
      if (JSON.stringify(cells).includes('stumble')) throw new NetworkTrouble('unknown', 'Trouble of its own.');
    };
    table!.change = async (...given) => (stumble(given[3]), send(...given));
    table!.add = async (...given) => (stumble(given[2]), add(...given));
    try {
      for (const { id, cells } of await both.here())
        await both.edit(id, 'status', cells.title === 'Rotten' ? 'stumble' : 'ready');
      await addSheetRows(house.services, house.lidos, both.sheet, [{ title: 'stumble' }, { title: 'New' }]);
      await both.editThere((await both.there())[0]!.row, { Price: 5 });
      await both.step(2);
    } finally {
      Object.assign(table!, { change: send, add });
    }
    expect((await both.sync()).trouble).toBe('Trouble of its own.');
    expect((await both.there()).map(({ cells }) => [cells.Title, cells.Status ?? null])).toEqual([
      ['A', 'ready'],
      ['Rotten', null],
      ['C', 'ready'],
      ['New', null],
    ]);
    expect((await both.here())[0]!.cells.price).toBe('5');
    await both.step(2);
    expect((await both.titles())[1]).toEqual(['A', 'C', 'New', 'Rotten', 'stumble']);
    expect(await both.sync()).toMatchObject({ trouble: null, failures: 0 });
  });

  it('what was written over is told, though the network fails right after', async () => {
    const both = await pair([{ title: 'A', status: 'draft' }, { title: 'B' }], [], { wins: 'there' });
    const [[a, b], [there]] = [await both.here(), await both.there()];
    await both.edit(a!.id, 'status', 'ready');
    await both.edit(b!.id, 'status', 'ready');
    await both.editThere(there!.row, { Status: 'stopped' });
    const { table } = house.services.connectors.sheets;
    const { change: send } = table!;
    table!.change = async () => {
      table!.change = send;
      throw new NetworkTrouble('wait', 'Slower, please.');
    };
    await both.step();
    expect((await both.sync()).trouble).toBe('Slower, please.');
    expect((await both.sync()).remarks).toMatchObject([
      { row: a!.id, key: 'status', why: 'overwritten', says: 'ready' },
    ]);
    await both.step();
    expect(await both.sync()).toMatchObject({ trouble: null, remarks: [{ row: a!.id }] });
    expect((await both.there())[1]!.cells.Status).toBe('ready');
  });

  it('a network that is down is asked again later, less and less often, and then all is as it should be', async () => {
    const both = await pair([{ title: 'Aqua' }], []);
    const [row] = await both.here();
    await both.edit(row!.id, 'status', 'ready');
    await house.fault('sheets', { kind: 'error', status: 500 }, 3);
    for (let n = 0; n < 2; n++) {
      house.clock.now += 60_000 * 2 ** n;
      expect(await syncDue(house.services)).toBe(1);
    }
    expect((await both.sync()).failures).toBe(2);
    expect((await both.sync()).trouble).not.toBe(null);
    house.clock.now += 10_000;
    expect(await syncDue(house.services)).toBe(0);
    await house.behave();
    await both.step();
    expect((await both.there())[0]!.cells.Status).toBe('ready');
    expect(await both.sync()).toMatchObject({ failures: 0, trouble: null });
  });

  it('somebody who is forgotten while a row is on its way there is not named there by it', async () => {
    const both = await pair([], []);
    await house.fault('sheets', { kind: 'error', status: 500 }, 1);
    await addSheetRows(house.services, house.lidos, both.sheet, [{ title: 'Ana Prata swims' }]);
    await both.step();
    const id = (await both.sync()).id;
    expect(JSON.stringify(await syncedRows(house.services.pool, id))).toContain('Ana');
    const [row] = await both.here();
    await both.edit(row!.id, 'title', 'Somebody swims');
    await forgetAdding(house.services.pool, [row!.id]);
    expect(JSON.stringify(await syncedRows(house.services.pool, id))).not.toContain('Ana');
    await house.behave();
    await both.step(3);
    expect((await both.here()).map(({ cells }) => cells.title)).toEqual(['Somebody swims']);
    expect((await both.there()).at(-1)!.cells.Title).toBe('Somebody swims');
  });

  it('paused in the middle of a comparison it stops there, and goes on at once when it is let go on', async () => {
    const both = await pair([{ title: 'A' }, { title: 'B' }], []);
    for (const { id } of await both.here()) await both.edit(id, 'status', 'ready');
    const { table } = house.services.connectors.sheets;
    const send = table!.change;
    table!.change = async (...given) => {
      table!.change = send;
      await sayOfSync(house.services, house.lidos, both.sheet, { paused: true });
      return send(...given);
    };
    await both.step();
    const ready = async () => (await both.there()).filter(({ cells }) => cells.Status === 'ready').length;
    expect(await ready()).toBe(1);
    await both.step();
    expect(await ready()).toBe(1);
    await sayOfSync(house.services, house.lidos, both.sheet, { paused: false });
    expect(await syncDue(house.services)).toBe(1);
    expect(await ready()).toBe(2);
  });

  it('paused, deleted, left: nothing is written until it goes on', async () => {
    const { services, lidos } = house;
    const both = await pair([{ title: 'A' }], []);
    await sayOfSync(services, lidos, both.sheet, { paused: true });
    await addSheetRows(services, lidos, both.sheet, [{ title: 'B' }]);
    await both.step();
    expect((await both.titles())[1]).toEqual(['A']);
    await sayOfSync(services, lidos, both.sheet, { paused: false });
    await removeSheet(services, lidos, both.sheet);
    await both.step();
    expect((await both.there()).map(({ cells }) => cells.Title)).toEqual(['A']);
    await restoreSheet(services, lidos, both.sheet);
    await both.step();
    expect((await both.titles())[1]).toEqual(['A', 'B']);
    await leaveStep(services, lidos, both.sheet);
    await addSheetRows(services, lidos, both.sheet, [{ title: 'C' }]);
    await both.step();
    expect((await both.titles())[1]).toEqual(['A', 'B']);
    await expect(leaveStep(services, lidos, both.sheet)).rejects.toThrow('not kept in step');
  });

  it('a table is in step with one sheet, and never with one of another brand’s', async () => {
    const { services, lidos, bakehouse } = house;
    const both = await pair([], []);
    const other = await makeSheet(services, lidos, { name: 'Other', columns: COLUMNS });
    const asked = { outletId: both.outlet, rules: RULES };
    await expect(keepInStep(services, lidos, other, asked)).rejects.toThrow('already');
    const theirs = await makeSheet(services, bakehouse, { name: 'Theirs', columns: COLUMNS });
    await expect(keepInStep(services, bakehouse, theirs, asked)).rejects.toThrow('no such table');
    await expect(previewSync(services, bakehouse, theirs, asked)).rejects.toThrow('no such table');
    await expect(keepInStep(services, bakehouse, both.sheet, asked)).rejects.toThrow();
    await leaveStep(services, lidos, both.sheet);
    await expect(
      keepInStep(services, lidos, other, { ...asked, rules: { ...RULES, match: 'nothing' } }),
    ).rejects.toThrow('no column');
  });

  it('who was second does not write over by what rules it is kept, and may go on from them', async () => {
    const { services, lidos } = house;
    const both = await pair([], []);
    const rules = { outletId: both.outlet, rules: RULES };
    const seen = syncRevision((await syncOfSheet(services.pool, lidos, both.sheet))!);
    const first = { ...rules, rules: { ...RULES, wins: 'here' as const, deletions: !RULES.deletions } };
    // Somebody who takes it for in step with nothing has not seen it either.
    await expect(keepInStep(services, lidos, both.sheet, first, null)).rejects.toMatchObject({ current: seen });
    await keepInStep(services, lidos, both.sheet, first, seen);
    const second = { ...rules, rules: { ...RULES, match: null } };
    await expect(keepInStep(services, lidos, both.sheet, second, seen)).rejects.toMatchObject({
      current: syncRevision(first),
    });
    expect((await syncOfSheet(services.pool, lidos, both.sheet))!.rules).toEqual(first.rules);
    await keepInStep(services, lidos, both.sheet, second, syncRevision(first));
    expect((await syncOfSheet(services.pool, lidos, both.sheet))!.rules).toEqual(second.rules);
    await leaveStep(services, lidos, both.sheet);
    await expect(keepInStep(services, lidos, both.sheet, first, syncRevision(second))).rejects.toMatchObject({
      current: null,
    });
  });

  it('with the account disconnected it says so, and goes on as soon as it is connected again', async () => {
    const both = await pair([{ title: 'A' }], []);
    await disconnect(house.services, house.lidos, account);
    const [row] = await both.here();
    await both.edit(row!.id, 'status', 'ready');
    await both.step();
    expect((await both.sync()).trouble).toContain('has to be connected again');
    expect(await house.connect('sheets')).toBe(account);
    await syncDue(house.services);
    expect((await both.there())[0]!.cells.Status).toBe('ready');
  });
});
