// Sheets of Playa's own on a real database: people edit, workflows watch and write back.
import ExcelJS from 'exceljs';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Cells } from '@playa/core/sheets/cell.ts';
import type { Column } from '@playa/core/sheets/column.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';
import { select } from '../db/database.ts';
import { sheetShape } from '@playa/core/sheets/row-fields.ts';
import { misfits } from '@playa/core/shapes/conforms.ts';
import { itemsByIdentity } from '../store/items.ts';
import { heldOf } from '../store/held.ts';
import { historyOfRow, rowsById, rowsOfSheet } from '../store/sheet-rows.ts';
import { sheetBy, type Sheet } from '../store/sheets.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { runsOf } from '../testing/runs-of.ts';
import { live, pause, uploadNow } from '../testing/workflow.ts';
import { cellContextOf } from './context.ts';
import { addSheetRows, editSheetRows, setRowsDeleted } from './edit-rows.ts';
import { changeSheet, makeSheet, removeSheet } from './keep-sheet.ts';
import { tableTexts, writeCsv, writeWorkbook } from './table-files.ts';

let house: House;
let page: number;
let films: number;
let going: number[] = [];
beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  page = await house.page();
  films = await house.watch();
});
afterAll(() => house?.close());
beforeEach(async () => {
  for (const id of going) await pause(house, id);
  going = [];
  house.clock.now = testNow();
});

const PLAN: Column[] = [
  { key: 'title', name: 'Title', type: 'text' },
  { key: 'film', name: 'Film', type: 'link' },
  { key: 'copy', name: 'Copy', type: 'longText' },
  { key: 'left', name: 'Left', type: 'left', of: 'copy', kind: 'microblog' },
  {
    key: 'status',
    name: 'Status',
    type: 'choice',
    options: [
      { value: 'in progress', colour: 'amber' },
      { value: 'ready', colour: 'kelp' },
      { value: 'posted', colour: 'plain' },
    ],
  },
  { key: 'goes_out', name: 'Goes out at', type: 'moment' },
  { key: 'posted_at', name: 'Posted at', type: 'moment' },
  { key: 'post', name: 'Post', type: 'link' },
];

async function plan(): Promise<Sheet> {
  const id = await makeSheet(house.services, house.lidos, { name: 'Content plan', columns: PLAN });
  return (await sheetBy(house.services.pool, house.lidos, id))!;
}
async function go(definition: Definition, beginning?: { last: number; every: number }): Promise<number> {
  const id = await live(house, definition, beginning);
  going.push(id);
  return id;
}
const settings = { ...NO_SETTINGS, brake: { hour: 10_000, day: 100_000 }, oldest: null };

/** New films become rows of the plan. */
const fill = (sheet: Sheet): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch: films }],
  steps: [
    {
      id: 'row',
      verb: 'record',
      outlet: sheet.outletId,
      match: null,
      values: [
        { column: 'title', value: '{$title}' },
        { column: 'film', value: '{$link}' },
        { column: 'status', value: 'in progress' },
      ],
      as: 'row',
    },
  ],
  settings,
});

/** Rows go out once they are ready and their time has come; where they went is written back. */
const publishReady = (sheet: Sheet): Definition => ({
  schema: 1,
  sources: [
    {
      id: 'source',
      watch: sheet.watchId,
      trigger: {
        on: 'becomes',
        when: {
          type: 'group',
          match: 'all',
          items: [
            { type: 'test', field: 'status', op: 'is', value: 'ready' },
            { type: 'test', field: 'copy', op: 'filled', value: '' },
            { type: 'test', field: 'goes_out', op: 'hasCome', value: '' },
          ],
        },
      },
    },
  ],
  steps: [
    { id: 'words', verb: 'compose', name: 'caption', text: '{$copy} {$film}' },
    { id: 'post', verb: 'publish', outlets: [page], caption: 'caption', card: null, as: 'post' },
    {
      id: 'back',
      verb: 'record',
      outlet: null,
      where: 'item',
      match: null,
      values: [
        { column: 'status', value: 'posted' },
        { column: 'post', value: '{$post.url}' },
        { column: 'posted_at', value: '{$post.at}' },
      ],
      as: 'written',
    },
  ],
  settings,
});

const cellsOf = async (sheet: Sheet, row: number) =>
  (await rowsById(house.services.pool, house.lidos, sheet.id, [row])).get(row)!.cells;
const edit = (sheet: Sheet, row: number, cells: { key: string; before: string | null; after: string | null }[]) =>
  editSheetRows(house.services, house.lidos, sheet.id, [{ row, cells }]);
const postedWith = async (words: string) => (await house.posts()).filter((post) => post.text.includes(words));
const at = (moment: number) => new Date(moment).toISOString().replace(/\.\d+Z/, 'Z');

describe('the content plan', () => {
  it('new film → row in progress → a person adds copy and time → goes out at that time → written back, and never again', async () => {
    const sheet = await plan();
    const filler = await go(fill(sheet));
    const publisher = await go(publishReady(sheet));
    await uploadNow(house, films, 'Cold water, first time');
    const [row] = await rowsOfSheet(house.services.pool, house.lidos, sheet.id, null, 10);
    expect(row!.cells).toMatchObject({ title: 'Cold water, first time', status: 'in progress' });
    const [done] = await historyOfRow(house.services.pool, house.lidos, row!.id, 5);
    expect(done).toMatchObject({ did: 'added', by: null, run: { workflowId: filler } });

    const moment = house.clock.now + 3_600_000;
    await edit(sheet, row!.id, [
      { key: 'copy', before: null, after: 'Come in, the water is 14 degrees.' },
      { key: 'goes_out', before: null, after: at(moment) },
      { key: 'status', before: 'in progress', after: 'ready' },
    ]);
    await house.settle();
    expect(await postedWith('14 degrees')).toHaveLength(0);
    house.clock.now = moment + 1000;
    await house.settle();
    const [post] = await postedWith('14 degrees');
    expect(post!.text).toContain('Come in, the water is 14 degrees.');
    const cells = await cellsOf(sheet, row!.id);
    expect(cells).toMatchObject({ status: 'posted', post: expect.stringContaining(post!.id) });
    // As the network dates it, by its own clock.
    expect(Math.abs(Date.parse(String(cells.posted_at)) - testNow())).toBeLessThan(600_000);

    // Set back and made ready again: it says so, and posts nothing.
    await edit(sheet, row!.id, [{ key: 'status', before: 'posted', after: 'in progress' }]);
    await edit(sheet, row!.id, [{ key: 'status', before: 'in progress', after: 'ready' }]);
    house.clock.now += 60_000;
    await house.settle();
    expect(await postedWith('14 degrees')).toHaveLength(1);
    const runs = await runsOf(house.services.pool, house.lidos, publisher, 10);
    expect(runs).toHaveLength(2);
    expect(JSON.stringify(runs.map((run) => run.trace))).toContain('something went out for it before');
  });

  it('a row that is corrected while its run waits goes out as corrected; one that is deleted does not go out', async () => {
    const sheet = await plan();
    const waits = publishReady(sheet);
    waits.sources[0]!.trigger = undefined;
    waits.steps.unshift(
      {
        id: 'ready',
        verb: 'check',
        condition: {
          type: 'group',
          match: 'all',
          items: [{ type: 'test', field: 'status', op: 'is', value: 'ready' }],
        },
      },
      { id: 'at', verb: 'wait', until: { type: 'field', field: 'goes_out', offset: 0 } },
    );
    await go(waits);
    const moment = house.clock.now + 7_200_000;
    const ready = (copy: string) => ({ title: copy, copy, status: 'ready', goes_out: at(moment) });
    const [one, two] = await addSheetRows(house.services, house.lidos, sheet.id, [
      ready('Misprnt'),
      ready('Withdrawn'),
    ]);
    await house.settle();
    await edit(sheet, one!.id, [{ key: 'copy', before: 'Misprnt', after: 'No misprint' }]);
    await setRowsDeleted(house.services, house.lidos, sheet.id, [two!.id], true);
    await house.settle();
    house.clock.now = moment + 1000;
    await house.settle();
    expect(await postedWith('No misprint')).toHaveLength(1);
    expect(await postedWith('Misprnt')).toHaveLength(0);
    expect(await postedWith('Withdrawn')).toHaveLength(0);
    expect(await cellsOf(sheet, one!.id)).toMatchObject({ status: 'posted' });
  });

  it('a row that is deleted before its moment starts nothing, and does once it is brought back', async () => {
    const sheet = await plan();
    await go(publishReady(sheet));
    const moment = house.clock.now + 600_000;
    const [row] = await addSheetRows(house.services, house.lidos, sheet.id, [
      { title: 'Gone', copy: 'Gone and back', status: 'ready', goes_out: at(moment) },
    ]);
    await setRowsDeleted(house.services, house.lidos, sheet.id, [row!.id], true);
    house.clock.now = moment + 1000;
    await house.settle();
    expect(await postedWith('Gone and back')).toHaveLength(0);
    await setRowsDeleted(house.services, house.lidos, sheet.id, [row!.id], false);
    await house.settle();
    await house.settle();
    expect(await postedWith('Gone and back')).toHaveLength(1);
  });

  it('what was written back is no news to the workflow that wrote it, whatever the column makes of it', async () => {
    const sheet = await plan();
    const echo = fill(sheet);
    echo.sources = [
      { id: 'source', watch: sheet.watchId, trigger: { on: 'changes', fields: ['posted_at', 'status'] } },
    ];
    echo.steps = [
      {
        id: 'back',
        verb: 'record',
        outlet: null,
        where: 'item',
        match: null,
        values: [
          { column: 'status', value: 'READY' },
          { column: 'posted_at', value: '25.11.2026 23:30' },
        ],
        as: 'written',
      },
    ];
    const id = await go(echo);
    const [row] = await addSheetRows(house.services, house.lidos, sheet.id, [{ title: 'Round and round' }]);
    await edit(sheet, row!.id, [{ key: 'status', before: null, after: 'in progress' }]);
    for (let times = 0; times < 4; times++) await house.settle();
    expect(await cellsOf(sheet, row!.id)).toMatchObject({ status: 'ready', posted_at: '2026-11-25T23:30:00Z' });
    expect(await runsOf(house.services.pool, house.lidos, id, 10)).toHaveLength(1);
  });
});

describe('writing into a sheet', () => {
  it('brings the row of a key up to date and leaves all other cells; adds one where there is none', async () => {
    const sheet = await plan();
    const [known] = await addSheetRows(house.services, house.lidos, sheet.id, [{ title: 'Lane swim', copy: 'Kept' }]);
    const upsert = fill(sheet);
    Object.assign(upsert.steps[0]!, {
      match: { column: 'title', value: '{$title}' },
      values: [{ column: 'film', value: '{$link}' }],
    });
    await go(upsert);
    await uploadNow(house, films, 'lane swim');
    await uploadNow(house, films, 'Another swim');
    const rows = await rowsOfSheet(house.services.pool, house.lidos, sheet.id, null, 10);
    expect(rows).toHaveLength(2);
    expect(rows[0]).toMatchObject({
      id: known!.id,
      cells: { title: 'Lane swim', copy: 'Kept', film: expect.any(String) },
    });
    expect(rows[1]!.cells).toMatchObject({ title: 'Another swim' });
  });

  it('a column that is not there is put before a person, and nothing is written', async () => {
    const sheet = await plan();
    const wrong = await go(fill(sheet));
    await changeSheet(house.services, house.lidos, sheet.id, 1, { columns: PLAN.filter(({ key }) => key !== 'film') });
    await uploadNow(house, films, 'A film without a column');
    expect(await rowsOfSheet(house.services.pool, house.lidos, sheet.id, null, 10)).toHaveLength(0);
    const [held] = (await heldOf(house.services.pool, house.lidos, 20)).filter((each) => each.workflowId === wrong);
    expect(JSON.stringify(held)).toContain('has no column “film”');
  });

  it('an act that is recorded twice writes one row', async () => {
    const sheet = await plan();
    await go(fill(sheet));
    await uploadNow(house, films, 'Only once');
    await Promise.all([house.settle(), house.settle()]);
    expect(await rowsOfSheet(house.services.pool, house.lidos, sheet.id, null, 10)).toHaveLength(1);
    const [logged] = await select<{ times: number }>(
      house.services.pool,
      "SELECT COUNT(*) AS times FROM logbook WHERE action = 'record' AND outlet_id = ?",
      [sheet.outletId],
    );
    expect(Number(logged!.times)).toBe(1);
  });
});

describe('people at a sheet', () => {
  it('two at one row: different cells both stay, the same cell tells the later one by whom', async () => {
    const sheet = await plan();
    const mo = { ...house.services, actor: { kind: 'person' as const, userId: house.mo } };
    const [row] = await addSheetRows(mo, house.lidos, sheet.id, [{ title: 'Before', copy: 'Words' }]);
    await editSheetRows(mo, house.lidos, sheet.id, [
      { row: row!.id, cells: [{ key: 'title', before: 'Before', after: 'Theirs' }] },
    ]);
    const later = await editSheetRows(mo, house.lidos, sheet.id, [
      {
        row: row!.id,
        cells: [
          { key: 'copy', before: 'Words', after: 'Better words' },
          { key: 'title', before: 'Before', after: 'Mine' },
        ],
      },
    ]);
    expect(later.conflicts).toEqual([
      { row: row!.id, key: 'title', now: 'Theirs', wanted: 'Mine', by: expect.any(String) },
    ]);
    expect(later.rows[0]!.cells).toMatchObject({ title: 'Theirs', copy: 'Better words' });
    expect(await cellsOf(sheet, row!.id)).toMatchObject({ title: 'Theirs', copy: 'Better words' });
  });

  it('many at once lose no edit and count every change', async () => {
    const sheet = await plan();
    const added = await addSheetRows(
      house.services,
      house.lidos,
      sheet.id,
      Array.from({ length: 8 }, () => ({})),
    );
    const keys = ['title', 'copy', 'status', 'film'];
    await Promise.all(
      added.flatMap((row) =>
        keys.map((key) => edit(sheet, row.id, [{ key, before: null, after: `https://${key}.example` }])),
      ),
    );
    const rows = await rowsOfSheet(house.services.pool, house.lidos, sheet.id, null, 20);
    for (const row of rows) expect(Object.keys(row.cells).sort()).toEqual([...keys].sort());
    const counts = await select<{ changed: number }>(
      house.services.pool,
      'SELECT changed FROM sheet_rows WHERE sheet_id = ?',
      [sheet.id],
    );
    expect(Math.max(...counts.map((each) => Number(each.changed)))).toBe(1 + added.length * keys.length);
  });

  it('its rows are items of the shape that it promises', async () => {
    const sheet = await plan();
    const [row] = await addSheetRows(house.services, house.lidos, sheet.id, [
      { title: 'Shape', status: 'ready', goes_out: '1 Dec 2026 09:00' },
    ]);
    const items = await itemsByIdentity(house.services.pool, sheet.watchId, [`row:${row!.id}`]);
    expect(misfits(sheetShape(sheet.columns), items.get(`row:${row!.id}`)!.fields)).toEqual([]);
  });

  it('columns somebody else has changed meanwhile are not written over, and a used sheet is not deleted', async () => {
    const sheet = await plan();
    await changeSheet(house.services, house.lidos, sheet.id, 1, { name: 'The plan' });
    await expect(changeSheet(house.services, house.lidos, sheet.id, 1, { name: 'Mine' })).rejects.toMatchObject({
      why: 'stale',
      current: 2,
    });
    const id = await go(publishReady(sheet));
    await expect(removeSheet(house.services, house.lidos, sheet.id)).rejects.toMatchObject({ why: 'used' });
    await expect(removeSheet(house.services, house.bakehouse, sheet.id)).rejects.toMatchObject({ why: 'gone' });
    await pause(house, id);
  });
});

describe('files', () => {
  const rows: Cells[] = [
    { title: '=1+1', copy: 'Two\nlines, "quoted"', status: 'ready', goes_out: '2026-07-01T08:00:00Z' },
    { title: 'Maré alta', copy: '', status: 'in progress' },
  ];

  it('a sheet comes back from CSV and from a workbook as it went out', async () => {
    const context = await cellContextOf(house.services.pool, house.lidos);
    const texts = tableTexts(PLAN, rows, context);
    const csv = await house.services.outside.table(Buffer.from(writeCsv(texts)));
    expect(csv[1]!.slice(0, 3)).toEqual(["'=1+1", '', 'Two\nlines, "quoted"']);
    const book = await house.services.outside.table(await writeWorkbook('Plan: a/b', PLAN, texts));
    expect(book).toEqual(texts);
  });

  it('a workbook that another library wrote is read, its dates by the clock on the wall', async () => {
    const book = new ExcelJS.Workbook();
    const table = book.addWorksheet('Plan');
    table.addRow(['Title', 'Goes out at', 'Seats', 'Open']);
    table.addRow(['Lane swim', new Date(Date.UTC(2026, 11, 1, 7, 30)), 12, true]);
    table.addRow(['Day only', new Date(Date.UTC(2026, 11, 2)), 1.5, false]);
    const texts = await house.services.outside.table(Buffer.from(await book.xlsx.writeBuffer()));
    expect(texts).toEqual([
      ['Title', 'Goes out at', 'Seats', 'Open'],
      ['Lane swim', '2026-12-01 07:30', '12', 'yes'],
      ['Day only', '2026-12-02', '1.5', 'no'],
    ]);
  });

  it('a workbook of ours is read by another library, and holds no formula', async () => {
    const context = await cellContextOf(house.services.pool, house.lidos);
    const book = new ExcelJS.Workbook();
    const made = await writeWorkbook('Plan', PLAN, tableTexts(PLAN, rows, context));
    await book.xlsx.load(made as unknown as ArrayBuffer);
    const cell = book.worksheets[0]!.getRow(2).getCell(1);
    expect(cell.value).toBe('=1+1');
    expect(cell.formula).toBeFalsy();
  });

  it.each([
    ['nothing', Buffer.alloc(0)],
    ['a broken workbook', Buffer.concat([Buffer.from([0x50, 0x4b, 0x03, 0x04]), Buffer.alloc(400, 7)])],
    ['a picture', Buffer.concat([Buffer.from([0x89, 0x50, 0x4e, 0x47]), Buffer.alloc(64)])],
    ['a quote that is never closed', Buffer.from('a,b\n"c,d\n')],
    ['too many columns', Buffer.from(`${'a,'.repeat(400)}\n`)],
  ])('%s is refused with a sentence', async (_, bytes) => {
    await expect(house.services.outside.table(bytes)).rejects.toThrow(/\.$/);
  });
});
