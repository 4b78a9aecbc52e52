// Everybody who wrote, in the order and the pages of the server.
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { Answering, button, eventually, mounted } from '../../testing/mounted.ts';
import People from '../../views/People.vue';

enableAutoUnmount(afterEach);
let server: Answering;
const contact = (id: number, name: string) => ({
  ...{ id, name, network: 'pages', labels: id === 1 ? ['regular'] : [], leftAlone: false, waiting: id === 2 ? 3 : 0 },
  ...{ lastText: `What ${name} said`, lastAt: 1, since: 1, entries: 1 },
});
beforeEach(() => {
  localStorage.clear();
  // Somebody had sorted a table of this name when it still was sorted here.
  localStorage.setItem('playa.table.people', JSON.stringify({ sorting: [{ id: 'who', desc: true }], hidden: [] }));
  const page = { labels: [{ label: 'regular', count: 1 }], stopWords: 'stop' };
  const first = Array.from({ length: 60 }, (_, n) => contact(n + 1, `Person ${n + 1}`));
  server = new Answering()
    .to('GET', /contacts(\?(?!.*after).*)?$/, () => ({ ...page, contacts: first, next: 'x' }))
    .to('GET', /contacts\?.*after=x/, () => ({ ...page, contacts: [contact(61, 'Ana Prata')], next: null }))
    .to('GET', /contacts\/2$/, () => ({ contact: null, conversation: [], done: [], history: [] }));
});

it('are listed as the server has them, all that were fetched, and gone through from the keyboard', async () => {
  const view = mounted(People);
  const names = () => view.findAll('tbody tr td:first-child button').map((each) => each.text());
  await eventually(() => expect(names()).toHaveLength(60));
  expect(names().slice(0, 2)).toEqual(['Person 1', 'Person 2']);
  expect(view.findAll('th button')).toEqual([]);
  expect(view.findAll('tbody tr')[1]!.text()).toContain('3 wait');
  await button(view, 'More people').trigger('click');
  await eventually(() => expect(names()).toHaveLength(61));
  expect(names().at(-1)).toBe('Ana Prata');
  const rows = view.findAll('tbody tr');
  await rows[0]!.trigger('keydown', { key: 'ArrowDown' });
  await rows[1]!.trigger('keydown', { key: 'Enter' });
  await flushPromises();
  expect(server.asked.at(-1)!.path).toBe('/brands/1/contacts/2');
  expect(view.get('[aria-expanded="true"]').text()).toBe('Person 2');
});
