// Keeping a sheet in step, mounted before a server that is made up.
import { DOMWrapper, enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ref, shallowRef } from 'vue';
import { Answering, button, eventually, mounted, Refusal } from '../../testing/mounted.ts';
import type { SheetRow, SheetSync, SheetSyncPreview } from '../../lib/types.ts';
import FromTableDialog from './FromTableDialog.vue';
import SyncBar from './SyncBar.vue';
import SyncDialog from './SyncDialog.vue';
import type { OpenSheet } from './use-sheet.ts';

const COLUMNS = [
  { key: 'title', name: 'Title', type: 'text' },
  { key: 'note', name: 'Note', type: 'text' },
  { key: 'left', name: 'Left', type: 'left', of: 'title', kind: 'microblog' },
];
const SYNC: SheetSync = {
  outlet: { id: 4, name: 'Marketing · Plan', address: null },
  rules: {
    // The second is a column that this sheet no longer has.
    columns: [
      { key: 'title', there: 'Caption' },
      { key: 'price', there: 'Remarks' },
    ],
    match: 'title',
    wins: 'here',
    deletions: false,
  },
  revision: 'one',
  state: 'on',
  joined: true,
  trouble: null,
  vanished: null,
  remarks: [],
  syncedAt: 0,
};
const PREVIEW: SheetSyncPreview = {
  here: 3,
  there: 2,
  whole: true,
  columns: ['Title', 'Extra'],
  missing: [],
  paired: 1,
  addHere: 1,
  addThere: 2,
  bring: 0,
  send: 1,
  differ: [{ row: 1, key: 'title', here: 'Aqua', there: 'Aqua class' }],
  differs: 1,
  startedBy: ['The plan, posted'],
};
const change = vi.fn(async () => true);
function open(inStep: SheetSync | null): OpenSheet {
  const row = { id: 1, cells: { title: 'Aqua' } } as unknown as SheetRow;
  return {
    is: { brand: 1, id: 5 },
    sheet: ref({ name: 'Content plan', inStep }),
    columns: ref(COLUMNS),
    rows: shallowRef(new Map([[1, row]])),
    context: ref({ zone: 'UTC', locale: 'en', outlets: new Map(), people: new Map() }),
    change,
  } as unknown as OpenSheet;
}
const table = (id: number, name: string, inStepWith: { sheetId: number; name: string } | null = null) => ({
  id,
  name,
  columns: [
    { name: 'Title', type: 'text' },
    { name: 'Extra', type: 'number' },
  ],
  inStepWith,
});

enableAutoUnmount(afterEach);
/** Dialogs stand beside everything else. */
const page = new DOMWrapper(document.body);

let server: Answering;
beforeEach(() => {
  change.mockClear();
  server = new Answering();
});
const sent = (method: string) => server.asked.filter((each) => each.method === method).map((each) => each.body);

describe('the dialog', () => {
  it('guesses which column is which, shows what would be done, and keeps it so; a new column is made first', async () => {
    server.to('GET', /tables-elsewhere/, () => ({
      tables: [table(4, 'Marketing · Plan'), table(6, 'Taken', { sheetId: 9, name: 'Other' })],
    }));
    server.to('POST', /preview/, () => PREVIEW);
    server.to('PUT', /in-step/);
    const dialog = mounted(SyncDialog, { open: open(null) });
    await flushPromises();
    const [first] = page.findAll('select');
    expect(first!.findAll('option').map((each) => [each.text(), each.attributes('disabled') !== undefined])).toEqual([
      ['Choose a table', true],
      ['Marketing · Plan', false],
      ['Taken (in step with Other)', true],
    ]);
    expect(button(page, 'Keep in step').attributes('disabled')).toBeDefined();
    await first!.setValue('4');
    await eventually(() => expect(page.text()).toContain('1 row will be added here, 2 rows will be added there'));
    expect(page.text()).toContain('Only here: Note.');
    expect(page.text()).toContain('“The plan, posted” is live');
    expect(page.find('[aria-label="Cells that differ"]').text()).toContain('Aqua class');
    const rules = { columns: [{ key: 'title', there: 'Title' }], match: 'title', wins: 'there', deletions: true };
    expect(sent('POST')).toEqual([{ outletId: 4, rules }]);

    await page.get('[aria-label="What Extra is here"]').setValue('+');
    await button(page, 'Keep in step').trigger('click');
    await flushPromises();
    expect(change).toHaveBeenCalledWith({ columns: [...COLUMNS, { key: 'extra', name: 'Extra', type: 'number' }] });
    const both = [...rules.columns, { key: 'extra', there: 'Extra' }];
    expect(sent('PUT')).toEqual([{ outletId: 4, rules: { ...rules, columns: both }, revision: null }]);
    expect(dialog.emitted('close')).toHaveLength(1);
  });

  it('does not make a new column a second time where the rest was refused at first', async () => {
    server.to('GET', /tables-elsewhere/, () => ({
      tables: [
        {
          ...table(4, 'Marketing · Plan', null),
          columns: [
            { name: 'Title', type: 'text' },
            { name: 'Extra', type: 'number' },
          ],
        },
      ],
    }));
    server.to('POST', /preview/, () => PREVIEW);
    let tries = 0;
    server.to('PUT', /in-step/, () => (tries++ === 0 ? new Refusal(502, 'The table cannot be reached.') : undefined));
    const dialog = mounted(SyncDialog, { open: open(null) });
    await flushPromises();
    await page.find('select').setValue('4');
    await page.get('[aria-label="What Extra is here"]').setValue('+');
    await button(page, 'Keep in step').trigger('click');
    await flushPromises();
    expect(page.get('[role="alert"]').text()).toContain('The table cannot be reached.');
    await button(page, 'Keep in step').trigger('click');
    await flushPromises();
    expect(change).toHaveBeenCalledTimes(1);
    expect(sent('PUT')).toMatchObject([
      {},
      { rules: { columns: [{ key: 'title' }, { key: 'extra', there: 'Extra' }] } },
    ]);
    expect(dialog.emitted('close')).toHaveLength(1);
  });

  it('is never kept over what a colleague has chosen meanwhile before one has said so', async () => {
    server.to('GET', /tables-elsewhere/, () => ({
      tables: [
        {
          ...table(4, 'Marketing · Plan', { sheetId: 5, name: 'Content plan' }),
          columns: [{ name: 'Caption', type: 'text' }],
        },
      ],
    }));
    server.to('POST', /preview/, () => ({ ...PREVIEW, differ: [], differs: 0, startedBy: [] }));
    const says = 'Somebody has changed how it is kept in step since you opened it.';
    server.to('PUT', /in-step/, ({ body }) =>
      (body as { revision: string }).revision === 'two' ? undefined : new Refusal(409, says, { current: 'two' }),
    );
    const opened = open(SYNC);
    const theirs: SheetSync = { ...SYNC, revision: 'two', rules: { ...SYNC.rules, wins: 'there', deletions: true } };
    opened.load = vi.fn(async () => void (opened.sheet.value = { ...opened.sheet.value!, inStep: theirs }));
    const dialog = mounted(SyncDialog, { open: opened });
    await flushPromises();
    await button(page, 'Keep in step').trigger('click');
    await flushPromises();
    expect(page.get('[role="alert"]').text()).toContain(says);
    expect(dialog.emitted('close')).toBeUndefined();
    await button(page, 'See what is there now').trigger('click');
    await flushPromises();
    expect(page.get<HTMLInputElement>('input[type="checkbox"]').element.checked).toBe(true);
    await button(page, 'Keep in step').trigger('click');
    await flushPromises();
    expect(sent('PUT')).toMatchObject([{ revision: 'one' }, { revision: 'two', rules: { wins: 'there' } }]);
    expect(dialog.emitted('close')).toHaveLength(1);
  });
  it('opens with the rules that are, never takes one column twice, and keeps what was chosen when it is refused', async () => {
    server.to('GET', /tables-elsewhere/, () => ({
      tables: [
        {
          ...table(4, 'Marketing · Plan', { sheetId: 5, name: 'Content plan' }),
          columns: [
            { name: 'Caption', type: 'text' },
            { name: 'Remarks', type: 'text' },
          ],
        },
      ],
    }));
    server.to('POST', /preview/, () => ({ ...PREVIEW, differ: [], differs: 0, startedBy: [] }));
    server.to('PUT', /in-step/, () => new Refusal(409, 'This sheet has no column “title” any more.'));
    server.to('DELETE', /in-step/);
    const dialog = mounted(SyncDialog, { open: open(SYNC) });
    await flushPromises();
    const caption = () => page.get<HTMLSelectElement>('[aria-label="What Caption is here"]').element.value;
    expect(caption()).toBe('title');
    await eventually(() => expect(sent('POST')).toHaveLength(1));
    expect(sent('POST')).toMatchObject([{ rules: { columns: [{ key: 'title', there: 'Caption' }] } }]);
    expect(page.get<HTMLInputElement>('input[type="checkbox"]').element.checked).toBe(false);
    // Rows are paired already.
    expect(page.text()).not.toContain('Rows on both sides are the same');
    await page.get('[aria-label="What Remarks is here"]').setValue('title');
    expect(caption()).toBe('');
    await button(page, 'Keep in step').trigger('click');
    await flushPromises();
    expect(page.get('[role="alert"]').text()).toContain('no column “title”');
    expect(dialog.emitted('close')).toBeUndefined();
    await button(page, 'Stop keeping').trigger('click');
    await flushPromises();
    expect(sent('DELETE')).toHaveLength(1);
    expect(dialog.emitted('close')).toHaveLength(1);
  });

  it('says what to do where there is no table', async () => {
    server.to('GET', /tables-elsewhere/, () => ({ tables: [] }));
    mounted(SyncDialog, { open: open(null) });
    await flushPromises();
    expect(page.text()).toContain('No connected account has a table.');
    expect(page.find('a').text()).toBe('Connect one');
  });
});

describe('the line above a sheet', () => {
  it('says with what, pauses and goes on', async () => {
    server.to('PATCH', /in-step/);
    const bar = mounted(SyncBar, { open: open(SYNC), sync: SYNC });
    expect(bar.text()).toContain('In step with Marketing · Plan');
    await button(bar, 'Compare now').trigger('click');
    await button(bar, 'Pause').trigger('click');
    await bar.setProps({ sync: { ...SYNC, state: 'paused', trouble: 'Not shown while it is paused' } });
    expect(bar.text()).toContain('Not kept in step for now');
    expect(bar.text()).not.toContain('Not shown');
    await button(bar, 'Go on').trigger('click');
    await flushPromises();
    expect(sent('PATCH')).toEqual([{}, { paused: true }, { paused: false }]);
  });

  it('asks about rows that are missing on a side, in the words of that side', async () => {
    server.to('PATCH', /in-step/);
    for (const [side, again, remove] of [
      ['there', 'Write them there again', 'Delete them here too'],
      ['here', 'Bring them back here', 'Delete them there too'],
    ] as const) {
      const bar = mounted(SyncBar, { open: open(SYNC), sync: { ...SYNC, vanished: { side, rows: 8, of: 9 } } });
      expect(bar.get('[role="alert"]').text()).toContain(`8 of 9 rows were deleted ${side}`);
      await button(bar, again).trigger('click');
      await button(bar, remove).trigger('click');
    }
    await flushPromises();
    expect(sent('PATCH')).toEqual([
      { vanished: 'again' },
      { vanished: 'delete' },
      { vanished: 'again' },
      { vanished: 'delete' },
    ]);
  });

  it('lists cells that were not taken or written over, and leads to their rows', async () => {
    server.to('PATCH', /in-step/);
    const remarks = [
      { row: 1, key: 'note', why: 'refused' as const, says: 'Note takes a number.', at: 5 },
      { row: 1, key: 'title', why: 'overwritten' as const, says: 'Aqua class', at: 7 },
    ];
    const bar = mounted(SyncBar, { open: open(SYNC), sync: { ...SYNC, remarks } });
    expect(bar.text()).not.toContain('Aqua class');
    await button(bar, '2 cells').trigger('click');
    expect(bar.findAll('li').map((each) => each.text().replace(/\s+/g, ' '))).toEqual([
      'Aqua, Note: not taken there. Note takes a number.',
      'Aqua, Title: both sides had changed it. Written over: Aqua class',
    ]);
    await bar.get('li button').trigger('click');
    expect(bar.emitted('row')).toEqual([[1]]);
    await button(bar, 'I have seen').trigger('click');
    await flushPromises();
    expect(sent('PATCH')).toEqual([{ seen: 7 }]);
  });
});

describe('a sheet from a table', () => {
  it('gets its columns with their types, and is kept in step', async () => {
    server.to('GET', /tables-elsewhere/, () => ({
      tables: [table(4, 'Marketing · Plan'), table(6, 'T', { sheetId: 1, name: 'S' })],
    }));
    server.to('POST', /sheets$/, () => ({ id: 12 }));
    server.to('PUT', /in-step/);
    const dialog = mounted(FromTableDialog);
    await flushPromises();
    expect(page.findAll('option').map((each) => each.text())).toEqual(['Choose a table', 'Marketing · Plan']);
    await page.get('select').setValue('4');
    expect(page.get<HTMLInputElement>('input').element.value).toBe('Plan');
    await page.get('form').trigger('submit');
    await flushPromises();
    expect(sent('POST')).toEqual([
      {
        name: 'Plan',
        columns: [
          { key: 'title', name: 'Title', type: 'text' },
          { key: 'extra', name: 'Extra', type: 'number' },
        ],
      },
    ]);
    expect(sent('PUT')).toMatchObject([{ outletId: 4, rules: { match: null, wins: 'there' } }]);
    expect(dialog.emitted('made')).toEqual([[12]]);
  });
  it('leaves no sheet behind that is in step with nothing: a second try makes one, not two', async () => {
    let refused = true;
    server.to('GET', /tables-elsewhere/, () => ({ tables: [table(4, 'Marketing · Plan')] }));
    server.to('POST', /sheets$/, () => ({ id: refused ? 12 : 13 }));
    server.to('PUT', /in-step/, () => (refused ? new Refusal(409, 'Another sheet is in step with it.') : undefined));
    server.to('DELETE', /sheets\/12$/);
    const dialog = mounted(FromTableDialog);
    await flushPromises();
    await page.get('form').trigger('submit');
    await flushPromises();
    expect(page.text()).toContain('Choose a table.');
    await page.get('select').setValue('4');
    await page.get('form').trigger('submit');
    await flushPromises();
    expect(page.text()).toContain('Another sheet is in step with it.');
    expect([sent('DELETE').length, dialog.emitted('made')]).toEqual([1, undefined]);
    refused = false;
    await page.get('form').trigger('submit');
    await flushPromises();
    expect(dialog.emitted('made')).toEqual([[13]]);
  });
});
