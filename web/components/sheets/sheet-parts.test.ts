// The parts of a sheet, mounted before a server that is made up.
import { DOMWrapper, flushPromises } from '@vue/test-utils';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { defineComponent, h } from 'vue';
import { Answering, button, eventually, mounted, Refusal } from '../../testing/mounted.ts';
import { Refused } from '../../lib/api.ts';
import type { OpenedSheet, SheetRow } from '../../lib/types.ts';
import ColumnsDialog from './ColumnsDialog.vue';
import RowPanel from './RowPanel.vue';
import { compareCells } from './compare-cells.ts';
import { useSheet, type OpenSheet } from './use-sheet.ts';

const sheet = {
  id: 5,
  name: 'Content plan',
  columns: [
    { key: 'title', name: 'Title', type: 'text' },
    { key: 'at', name: 'Goes out at', type: 'moment' },
    { key: 'left', name: 'Left', type: 'left', of: 'title', kind: 'microblog' },
  ],
  revision: 1,
  views: [],
  changes: 3,
  outletId: 9,
  watchId: 8,
  uses: [],
  outlets: [],
  people: [],
} as unknown as OpenedSheet;
const row = (id: number, cells: SheetRow['cells'], revision = 1): SheetRow => ({
  id,
  place: id * 1024,
  cells,
  revision,
  changed: 3,
  createdAt: 0,
  changedAt: 0,
  deleted: false,
});

let server: Answering;
/** An open sheet, as a view has it. */
async function opened(): Promise<OpenSheet> {
  let open: OpenSheet | undefined;
  mounted(
    defineComponent({
      setup() {
        open = useSheet(5);
        return () => h('div');
      },
    }),
  );
  await open!.load();
  return open!;
}
const sent = (method: string) => server.asked.filter((each) => each.method === method).map((each) => each.body);

/** Nothing is told here: no change comes by itself. */
class NoNews {
  addEventListener(): void {}
  close(): void {}
}

beforeEach(() => {
  vi.stubGlobal('EventSource', NoNews);
  server = new Answering()
    .to('GET', /\/sheets\/5$/, () => sheet)
    .to('GET', /\/sheets\/5\/rows$/, () => ({
      rows: [row(1, { title: 'One' }), row(2, { title: 'Two' })],
      changes: 3,
      partly: false,
      next: null,
    }))
    .to('GET', /\/sheets\/5\/rows\/\d+$/, () => ({ row: row(1, { title: 'One' }), history: [], runs: [] }));
});

describe('an open sheet', () => {
  it('shows what is written at once, sends it with what stood there, and takes what the server made of it', async () => {
    server.to('PATCH', /rows$/, () => ({
      rows: [row(1, { title: 'First', at: '2026-12-01T09:00:00Z' }, 2)],
      conflicts: [],
    }));
    const open = await opened();
    open.write([
      { row: 1, key: 'title', typed: 'First' },
      { row: 1, key: 'at', typed: '1 Dec 2026 09:00' },
      { row: 1, key: 'left', typed: '5' },
    ]);
    expect(open.rows.value.get(1)!.cells).toMatchObject({ title: 'First', at: '2026-12-01T09:00:00Z' });
    await flushPromises();
    // What is worked out is written by nobody.
    expect(sent('PATCH')[0]).toEqual({
      edits: [
        {
          row: 1,
          cells: [
            { key: 'title', before: 'One', after: 'First' },
            { key: 'at', before: null, after: '2026-12-01T09:00:00Z' },
          ],
        },
      ],
    });
    expect(open.rows.value.get(1)!.revision).toBe(2);
  });

  it('sends nothing for what stays the same', async () => {
    const open = await opened();
    open.write([{ row: 1, key: 'title', typed: ' One ' }]);
    await flushPromises();
    expect(sent('PATCH')).toEqual([]);
    expect(open.canUndo.value).toBe(false);
  });

  it('undoes and does again by the same rule, one after the other', async () => {
    server.to('PATCH', /rows$/, () => ({ rows: [], conflicts: [] }));
    const open = await opened();
    open.write([{ row: 1, key: 'title', typed: 'First' }]);
    await open.undo();
    await open.redo();
    await flushPromises();
    const cells = (sent('PATCH') as { edits: { cells: unknown[] }[] }[]).map(({ edits }) => edits[0]!.cells[0]);
    expect(cells).toEqual([
      { key: 'title', before: 'One', after: 'First' },
      { key: 'title', before: 'First', after: 'One' },
      { key: 'title', before: 'One', after: 'First' },
    ]);
    expect(open.rows.value.get(1)!.cells.title).toBe('First');
  });

  it('keeps what was written where somebody else was faster, until it is chosen', async () => {
    const conflict = { row: 1, key: 'title', now: 'Theirs', wanted: 'Mine', by: 'Ines Duarte' };
    server.to('PATCH', /rows$/, () => ({ rows: [row(1, { title: 'Theirs' }, 2)], conflicts: [conflict] }));
    const open = await opened();
    open.write([{ row: 1, key: 'title', typed: 'Mine', seen: 'One' }]);
    await flushPromises();
    expect(open.conflicts.value).toEqual([conflict]);
    expect(open.rows.value.get(1)!.cells.title).toBe('Theirs');
    open.settle(open.conflicts.value[0]!, true);
    await flushPromises();
    expect(sent('PATCH').at(-1)).toEqual({
      edits: [{ row: 1, cells: [{ key: 'title', before: 'Theirs', after: 'Mine' }] }],
    });
  });

  it('says what is refused, and shows what stands there', async () => {
    server.to('PATCH', /rows$/, () => new Refusal(404, 'This sheet is gone.'));
    const open = await opened();
    open.write([{ row: 1, key: 'title', typed: 'First' }]);
    await flushPromises();
    expect(open.rows.value.get(1)!.cells.title).toBe('One');
  });
});

describe('a row', () => {
  it('keeps what is being typed while others write, and sends it with what was seen', async () => {
    server.to('PATCH', /rows$/, () => ({ rows: [], conflicts: [] }));
    const open = await opened();
    const panel = mounted(RowPanel, { open, id: 1 });
    await flushPromises();
    const field = panel.get<HTMLInputElement>('#cell-title');
    await field.setValue('Half a sen');
    field.element.value = 'Half a sen';
    await field.trigger('input');
    open.rows.value = new Map([...open.rows.value, [1, row(1, { title: 'Theirs' }, 2)]]);
    await flushPromises();
    expect(panel.get<HTMLInputElement>('#cell-title').element.value).toBe('Half a sen');
    await field.trigger('change');
    await flushPromises();
    expect(sent('PATCH').at(-1)).toMatchObject({ edits: [{ cells: [{ before: 'One', after: 'Half a sen' }] }] });
  });
});

describe('the columns', () => {
  it('of a sheet keep their keys when they are renamed; a new one gets one by its name', async () => {
    const sent =
      vi.fn<(draft: { name: string; columns: { key: string; name: string }[] }, over?: number) => Promise<void>>();
    const dialog = mounted(ColumnsDialog, {
      ...{ name: 'Plan', columns: sheet.columns as never, uses: [], revision: 4, send: sent },
    });
    await flushPromises();
    const page = document.body;
    const inputs = () => [...page.querySelectorAll<HTMLInputElement>('input[aria-label^="Name of column"]')];
    inputs()[0]!.value = 'Headline';
    inputs()[0]!.dispatchEvent(new Event('input'));
    [...page.querySelectorAll('button')].find((button) => button.textContent?.includes('a column'))!.click();
    await flushPromises();
    inputs().at(-1)!.value = 'Who writes it';
    inputs().at(-1)!.dispatchEvent(new Event('input'));
    [...page.querySelectorAll('button')].find((button) => button.textContent?.includes('Keep the columns'))!.click();
    await flushPromises();
    const [{ name, columns }, over] = sent.mock.calls[0]!;
    expect(over).toBe(4);
    expect(name).toBe('Plan');
    expect(columns.map((column) => [column.key, column.name])).toEqual([
      ['title', 'Headline'],
      ['at', 'Goes out at'],
      ['left', 'Left'],
      ['who_writes_it', 'Who writes it'],
    ]);
    dialog.unmount();
  });

  it('are not put over those of a colleague that came meanwhile before one says so', async () => {
    const SAYS = 'Somebody else has changed this sheet since you opened it.';
    const over: unknown[] = [];
    const send = async (_draft: unknown, revision: number | undefined) => {
      over.push(revision);
      if (revision !== 5) throw new Refused(409, SAYS, { current: 5 });
    };
    const columns = [{ key: 'title', name: 'Title', type: 'text' }];
    const theirs = [...columns, { key: 'who', name: 'Who', type: 'person' }];
    const dialog = mounted(ColumnsDialog, { ...{ name: 'Plan', columns, uses: [], revision: 4, send } } as never);
    await flushPromises();
    const page = new DOMWrapper(document.body);
    const name = () => page.get<HTMLInputElement>('input[aria-label="Name of column 1"]');
    await name().setValue('Headline');
    // The colleague's change arrives as news.
    await dialog.setProps({ columns: theirs, revision: 5 } as never);
    await button(page, 'Keep the columns').trigger('click');
    await eventually(() => expect(page.get('[role="alert"]').text()).toContain(SAYS));
    expect(over).toEqual([4]);
    expect(name().element.value).toBe('Headline');
    await button(page, 'Keep mine over it').trigger('click');
    await eventually(() => expect(over).toEqual([4, 5]));
    dialog.unmount();
  });

  it('that cannot be kept say why, and stay as they were typed', async () => {
    const send = vi.fn();
    const columns = [
      { key: 'title', name: 'Title', type: 'text' },
      { key: 'say', name: 'Says', type: 'computed', words: '{$title' },
    ];
    const dialog = mounted(ColumnsDialog, { ...{ name: 'Plan', columns, uses: [], revision: 1, send } } as never);
    await flushPromises();
    const page = new DOMWrapper(document.body);
    await button(page, 'Keep the columns').trigger('click');
    await eventually(() => expect(page.get('[role="alert"]').text()).toContain('“Says” cannot be used'));
    await page.get('input[aria-label="Name of column 2"]').setValue('title');
    await eventually(() => expect(page.get('[role="alert"]').text()).toContain('Two columns have the same name.'));
    await page.get('input[maxlength="120"]').setValue(' ');
    await eventually(() => expect(page.text()).toContain('The sheet needs a name.'));
    expect(send).not.toHaveBeenCalled();
    dialog.unmount();
  });
});

it('cells are sorted as people sort them, empty ones last', () => {
  const sorted = ['b10', null, 'b9', 3, 'A', 20].sort(compareCells);
  expect(sorted.at(-1)).toBeNull();
  expect(sorted.indexOf('b9')).toBeLessThan(sorted.indexOf('b10'));
  expect(sorted.indexOf(3)).toBeLessThan(sorted.indexOf(20));
});
