// What is written about a page that becomes a row, mounted before a server that is made up.
import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { ListedSheet } from '../../lib/types.ts';
import { Answering, button, eventually, mounted, Refusal } from '../../testing/mounted.ts';
import SaveAsMenu from '../form/SaveAsMenu.vue';
import ClipForm from './ClipForm.vue';

const sheetOf = (id: number, more: object[] = []) =>
  ({
    id,
    name: `Clips ${id}`,
    columns: [
      { key: 'title', name: 'Title', type: 'text' },
      { key: 'link', name: 'Link', type: 'link' },
      { key: 'note', name: 'Note', type: 'longText' },
      ...more,
    ],
    uses: [],
  }) as unknown as ListedSheet;
const ROOMY = sheetOf(7, [
  {
    key: 'pool',
    name: 'Pool',
    type: 'choice',
    options: ['Old Quay', 'Gannet Point'].map((value) => ({ value, colour: 'sea' })),
  },
  { key: 'by', name: 'Found by', type: 'text' },
]);
const PAGE = { url: 'https://ternbay.example/rail', title: '', note: '' };

let server: Answering;
beforeEach(() => {
  server = new Answering();
  server.to('GET', /links\/preview|preview/, () => ({
    preview: { title: 'The rail is back', description: '', image: '', site: '', author: '' },
  }));
});
afterEach(() => {
  document.body.innerHTML = '';
  vi.unstubAllGlobals();
});
const added = () => server.asked.filter(({ method, path }) => method === 'POST' && path.endsWith('/rows'));

it('takes over what the page says of itself, says that it was clipped before, and makes a row of what was written', async () => {
  server
    .to('POST', /clipped$/, () => ({ rows: [{ id: 3, createdAt: Date.UTC(2026, 10, 1) }] }))
    .to('POST', /rows$/, () => ({ rows: [{ id: 12 }] }));
  const form = mounted(ClipForm, { page: PAGE, sheet: ROOMY, sheets: [ROOMY] });
  const title = form.get<HTMLInputElement>('input[name="title"]');
  await eventually(() => expect(title.element.value).toBe('The rail is back'));
  expect(form.get('[role="status"]').text()).toContain('It was clipped before');
  await form.get('textarea').setValue(' Finally ');
  await form.get('[aria-label="Pool"]').setValue('Old Quay');
  await button(form, 'Clip it again').trigger('submit');
  await flushPromises();
  expect(added().map(({ body }) => body)).toEqual([
    { rows: [{ title: 'The rail is back', link: PAGE.url, note: 'Finally', pool: 'Old Quay' }] },
  ]);
  expect(form.emitted('made')).toEqual([[12, ROOMY]]);
});

it('leaves a title that was written, and out of a row what was filled in for another sheet', async () => {
  const bare = sheetOf(8);
  server.to('POST', /clipped$/, () => ({ rows: [] })).to('POST', /rows$/, () => ({ rows: [{ id: 1 }] }));
  const form = mounted(ClipForm, { page: { ...PAGE, title: 'Mine' }, sheet: ROOMY, sheets: [ROOMY, bare] });
  await form.findAll('details input').at(-1)!.setValue('Mo');
  await form.get('[aria-label="Into"]').setValue('8');
  expect(form.emitted('into')).toEqual([[8]]);
  await form.setProps({ sheet: bare });
  await eventually(() => expect(form.text()).toContain('The rail is back'));
  await form.get('form').trigger('submit');
  await flushPromises();
  expect(added().map(({ body }) => body)).toEqual([{ rows: [{ title: 'Mine', link: PAGE.url }] }]);
});

it('says beside the address what is wrong with it, and keeps everything that cannot be sent', async () => {
  server.to('POST', /clipped$/, () => ({ rows: [] })).to('POST', /rows$/, () => new Refusal(422, 'The sheet is full.'));
  const form = mounted(ClipForm, { page: { url: 'rail', title: 'T', note: 'N' }, sheet: ROOMY, sheets: [ROOMY] });
  await form.get('form').trigger('submit');
  await flushPromises();
  expect(form.get('[role="alert"]').text()).toBe('An address begins with https:// or http://.');
  expect(added()).toEqual([]);
  await form.get('input[name="url"]').setValue(PAGE.url);
  await form.get('form').trigger('submit');
  await flushPromises();
  expect(form.get('[role="alert"]').text()).toBe('The sheet is full.');
  expect(form.get('textarea').element.value).toBe('N');
});

it('what is shown is saved in either kind of file', async () => {
  const menu = mounted(SaveAsMenu, { address: (as: string) => `/export?as=${as}` });
  await menu.get('button').trigger('click');
  expect(menu.findAll('a').map((each) => [each.text(), each.attributes('href')])).toEqual([
    ['CSV file', '/export?as=csv'],
    ['XLSX workbook', '/export?as=xlsx'],
  ]);
});
