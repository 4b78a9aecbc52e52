// The parts of a sheet, mounted before a server that is made up.
import { flushPromises } from '@vue/test-utils';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { defineComponent, h } from 'vue';
import { Answering, mounted, Refusal } from '../../testing/mounted.ts';
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
    const dialog = mounted(ColumnsDialog, { name: 'Plan', columns: sheet.columns as never, uses: [] });
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
    const [[name, columns]] = dialog.emitted('keep') as [[string, { key: string; name: string }[]]];
    expect(name).toBe('Plan');
    expect(columns.map((column) => [column.key, column.name])).toEqual([
      ['title', 'Headline'],
      ['at', 'Goes out at'],
      ['left', 'Left'],
      ['who_writes_it', 'Who writes it'],
    ]);
    dialog.unmount();
  });
});

it('cells are sorted as people sort them, empty ones last', () => {
  const sorted = ['b10', null, 'b9', 3, 'A', 20].sort(compareCells);
  expect(sorted.at(-1)).toBeNull();
  expect(sorted.indexOf('b9')).toBeLessThan(sorted.indexOf('b10'));
  expect(sorted.indexOf(3)).toBeLessThan(sorted.indexOf(20));
});
