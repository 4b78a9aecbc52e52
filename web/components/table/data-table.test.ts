import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Answering, button, mounted } from '../../testing/mounted.ts';
import DataTable from './DataTable.vue';
import type { Column } from './columns.ts';

interface Outlet {
  id: number;
  name: string;
  posts: number | null;
}
const columns: Column<Outlet>[] = [
  { id: 'name', title: 'name', value: ({ name }) => name },
  { id: 'posts', title: 'posts', value: ({ posts }) => posts, optional: true },
  { id: 'actions', title: 'actions' },
];
const ROWS: Outlet[] = [
  { id: 1, name: 'Old Quay 10', posts: 3 },
  { id: 2, name: 'old quay 9', posts: null },
  { id: 3, name: 'Élan pool', posts: 20 },
  { id: 4, name: 'Tern Bay', posts: 100 },
  { id: 5, name: 'Marram', posts: 7 },
  { id: 6, name: 'Gannet Point', posts: 1 },
];
let stored: Map<string, string>;
beforeEach(() => {
  new Answering();
  stored = new Map();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => stored.get(key) ?? null,
    setItem: (key: string, value: string) => stored.set(key, value),
  });
});
afterEach(() => {
  document.body.innerHTML = '';
  vi.unstubAllGlobals();
});
const opened = (more: object = {}) =>
  mounted(
    DataTable as never,
    {
      rows: ROWS,
      columns,
      keyOf: ({ id }: Outlet) => id,
      label: 'Outlets',
      name: 'outlets',
      ...more,
    } as never,
  );
type Opened = ReturnType<typeof opened>;
const firsts = (list: Opened) => list.findAll('tbody tr').map((row) => row.find('td:not(:has(input))').text());
const header = (list: Opened, title: string) => list.findAll('th').find((each) => each.text() === title)!;

describe('a table', () => {
  it('is sorted as people sort, what is not there last, and says so', async () => {
    const list = opened();
    expect(firsts(list)).toEqual(ROWS.map(({ name }) => name));
    await header(list, 'name').find('button').trigger('click');
    expect(firsts(list)).toEqual(['Élan pool', 'Gannet Point', 'Marram', 'old quay 9', 'Old Quay 10', 'Tern Bay']);
    expect(header(list, 'name').attributes('aria-sort')).toBe('ascending');
    await header(list, 'posts').find('button').trigger('click');
    expect(firsts(list)[0]).toBe('Gannet Point');
    expect(firsts(list).at(-1)).toBe('old quay 9');
    // A column of buttons is not sorted by.
    expect(list.findAll('th').at(-1)!.find('button').exists()).toBe(false);
  });
  it('finds rows by all words, in any column', async () => {
    const list = opened();
    await list.find('input[type=search]').setValue('quay OLD');
    expect(firsts(list)).toEqual(['Old Quay 10', 'old quay 9']);
    expect(list.find('[role=status]').text()).toBe('2 of 6');
    await list.find('input[type=search]').setValue('nobody');
    expect(list.text()).toContain('Nothing in outlets is like that.');
    // Whoever looks for something keeps the field, also when few rows are left.
    await list.setProps({ rows: ROWS.slice(0, 2) } as never);
    expect(list.find('input[type=search]').exists()).toBe(true);
  });
  it('shows pages, and goes back when a page is gone', async () => {
    const list = opened({ pageSize: 4 });
    expect(firsts(list)).toHaveLength(4);
    await button(list, 'Next').trigger('click');
    expect(firsts(list)).toEqual(['Marram', 'Gannet Point']);
    await list.setProps({ rows: ROWS.slice(0, 4) } as never);
    await flushPromises();
    expect(firsts(list)).toHaveLength(4);
    expect(list.find('nav').exists()).toBe(false);
  });
  it('remembers how somebody has it', async () => {
    const list = opened();
    await header(list, 'posts').find('button').trigger('click');
    await button(list, 'Columns').trigger('click');
    await flushPromises();
    await list.find('label input').setValue(false);
    expect(header(list, 'posts')).toBeUndefined();
    list.unmount();
    const again = opened();
    expect(header(again, 'posts')).toBeUndefined();
    expect(firsts(again)[0]).toBe('Gannet Point');
  });
  it('is gone through from the keyboard, where the keys are not a field’s own', async () => {
    const list = opened({ selectable: true });
    const rows = () => list.findAll('tbody tr');
    expect(rows().map((row) => row.attributes('tabindex'))).toEqual(['0', '-1', '-1', '-1', '-1', '-1']);
    await rows()[0]!.trigger('keydown', { key: 'ArrowDown' });
    await flushPromises();
    expect(document.activeElement).toBe(rows()[1]!.element);
    await rows()[1]!.trigger('keydown', { key: ' ' });
    expect(list.emitted('selected')!.at(-1)).toEqual([['2']]);
    expect(rows()[1]!.attributes('aria-selected')).toBe('true');
    await rows()[1]!.trigger('keydown', { key: 'Enter' });
    expect(list.emitted('open')).toEqual([[ROWS[1]]]);
    await rows()[1]!.find('input').trigger('keydown', { key: 'End' });
    expect(document.activeElement).toBe(rows()[1]!.element);
    await rows()[1]!.trigger('keydown', { key: 'End' });
    await flushPromises();
    expect(document.activeElement).toBe(rows()[5]!.element);
  });
  it('chooses all, and keeps what is chosen when rows are fetched anew', async () => {
    const list = opened({ selectable: true });
    await list.find('thead input').trigger('change');
    expect(list.emitted('selected')!.at(-1)![0]).toHaveLength(6);
    await list.setProps({ rows: ROWS.map((row) => ({ ...row })) } as never);
    expect(list.findAll('tbody tr').every((row) => row.attributes('aria-selected') === 'true')).toBe(true);
    // What is gone is chosen no more, so that nothing is done to what nobody sees.
    await list.setProps({ rows: ROWS.slice(0, 2) } as never);
    expect(list.emitted('selected')!.at(-1)).toEqual([['1', '2']]);
  });
});
