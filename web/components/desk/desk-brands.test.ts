// One desk for all of somebody's brands, and views of it that are kept.
import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { DeskEntry } from '../../lib/types.ts';
import { useSession } from '../../stores/session.ts';
import { answerDesk, entry, held } from '../../testing/desk.ts';
import { Answering, button, eventually, mounted, Refusal } from '../../testing/mounted.ts';
import Desk from '../../views/Desk.vue';

let server: Answering;
let byBrand: Record<string, DeskEntry[]>;
beforeEach(() => {
  localStorage.clear();
  server = new Answering();
  const session = useSession();
  session.brands = [
    ...session.brands,
    { ...session.brands[0]!, id: 2, name: 'Marram Bakehouse', timeZone: 'Europe/Paris' },
  ];
  byBrand = {
    1: [entry(1, { held: held('Dear 1') }), entry(4)],
    2: [
      entry(2, { held: held('Cher 2') }),
      entry(3, { contact: { id: 3, name: 'Person 3', labels: ['regular'], leftAlone: false } }),
    ],
  };
  answerDesk(server, ({ path }) => byBrand[/brands\/(\d)/.exec(path)![1]!]!);
});
afterEach(() => {
  document.body.innerHTML = '';
  vi.unstubAllGlobals();
});
const asked = (method: string, path: RegExp) =>
  server.asked.filter((each) => each.method === method && path.test(each.path)).map(({ path: at, body }) => [at, body]);
const items = (desk: ReturnType<typeof mounted>) =>
  desk.findAll('[data-item]').map((row) => Number(row.attributes('data-item')));

async function ofAllBrands() {
  const desk = mounted(Desk);
  await flushPromises();
  await desk.find('select[aria-label="Whose desk"]').setValue('all');
  await flushPromises();
  await flushPromises();
  return desk;
}

describe('a desk of all brands', () => {
  it('is of one brand until somebody wants all, then in one order, each with its brand', async () => {
    const desk = mounted(Desk);
    await flushPromises();
    expect(items(desk)).toEqual([1, 4]);
    expect(desk.text()).not.toContain('Marram Bakehouse');
    await desk.find('select[aria-label="Whose desk"]').setValue('all');
    await flushPromises();
    await flushPromises();
    expect(items(desk)).toEqual([1, 2, 3, 4]);
    expect(desk.text()).toContain('4 to answer');
    expect(desk.find('[data-item="2"]').text()).toContain('Marram Bakehouse');
    // What is one brand's is not offered for all.
    expect(desk.text()).not.toContain('Where it listens');
    desk.unmount();
  });
  it('sends each answer where it belongs, also many at once, and calls them back', async () => {
    const desk = await ofAllBrands();
    await button(desk, 'Send the 2 shown').trigger('click');
    await flushPromises();
    const dialog = [...document.querySelectorAll('[role="dialog"] button')] as HTMLButtonElement[];
    dialog.find((each) => each.textContent === 'Send 2')!.click();
    await flushPromises();
    expect(
      asked('POST', /answers$/).map(([path, body]) => [
        path,
        (body as { answers: DeskEntry[] }).answers.map((each) => each.itemId),
      ]),
    ).toEqual([
      ['/brands/1/desk/answers', [1]],
      ['/brands/2/desk/answers', [2]],
    ]);
    await eventually(() => expect(desk.find('[data-item="2"]').text()).toMatch(/Goes in \d+ s/));
    await button(desk.find('[data-item="2"]'), 'Undo').trigger('click');
    await flushPromises();
    expect(asked('POST', /back$/)).toEqual([['/brands/2/desk/answers/back', { items: [2] }]]);
    desk.unmount();
  });
  it('asks one brand alone about what is left, put off and opened there', async () => {
    const desk = await ofAllBrands();
    await desk.find('[data-item="3"] input[type="checkbox"]').trigger('change');
    await desk.find('[data-item="4"] input[type="checkbox"]').trigger('change');
    byBrand[2] = byBrand[2]!.slice(0, 1);
    await button(desk, 'Leave 2').trigger('click');
    await flushPromises();
    expect(asked('POST', /tend$/)).toEqual([
      ['/brands/2/desk/tend', { items: [3], tend: { do: 'ignore' } }],
      ['/brands/1/desk/tend', { items: [4], tend: { do: 'ignore' } }],
    ]);
    desk.unmount();
  });
  it('says when one of them cannot be read, and shows no half of the truth', async () => {
    const failing = new Answering();
    const session = useSession();
    session.brands = [...session.brands, { ...session.brands[0]!, id: 2, name: 'Marram Bakehouse' }];
    failing.to('GET', /brands\/2\/desk(\?|$)/, () => new Refusal(500, 'The bakehouse is not there.'));
    answerDesk(failing, () => [entry(1)]);
    const desk = await ofAllBrands();
    expect(desk.find('[role="alert"]').text()).toContain('The bakehouse is not there.');
    expect(items(desk)).toEqual([]);
    desk.unmount();
  });
  it('reads a brand on where it goes on, and shows no further than is known of all', async () => {
    const paged = new Answering();
    const session = useSession();
    session.brands = [...session.brands, { ...session.brands[0]!, id: 2, name: 'Marram Bakehouse' }];
    const page = (entries: DeskEntry[], next: string | null) => ({
      ...{ now: Date.now(), callBack: 10_000, entries, next },
      ...{ counts: { open: 4, later: 0 }, outlets: [], members: [], labels: [] },
    });
    paged
      .to('GET', /brands\/1\/desk\?.*after=p2/, () => page([entry(3), entry(5)], null))
      .to('GET', /brands\/1\/desk(\?|$)/, () => page([entry(1)], 'p2'))
      .to('GET', /brands\/2\/desk(\?|$)/, () => page([entry(2), entry(4)], null));
    const desk = await ofAllBrands();
    expect(items(desk)).toEqual([1]);
    await button(desk, 'More of them').trigger('click');
    await flushPromises();
    expect(items(desk)).toEqual([1, 2, 3, 4, 5]);
    expect(desk.text()).not.toContain('More of them');
    desk.unmount();
  });
});

describe('views that are kept', () => {
  it('keep the filters under a name, show them again, and can be taken away', async () => {
    let views: { name: string; query: string }[] = [];
    server
      .to('GET', /\/views\/desk$/, () => ({ views }))
      .to('PUT', /\/views\/desk\//, ({ path, body }) => {
        views = [{ name: decodeURIComponent(path.split('/').pop()!), ...(body as { query: string }) }];
      })
      .to('DELETE', /\/views\/desk\//, () => void views.splice(0));
    const desk = mounted(Desk);
    await flushPromises();
    await desk.find('select[aria-label="How many stars"]').setValue('2');
    await flushPromises();
    await button(desk, 'Views').trigger('click');
    await flushPromises();
    await desk.find('input[aria-label="Name of the view"]').setValue('Two stars / cross');
    await desk.find('form').trigger('submit');
    await flushPromises();
    expect(asked('PUT', /views/)).toEqual([['/brands/1/views/desk/Two%20stars%20%2F%20cross', { query: 'stars=2' }]]);
    await desk.find('select[aria-label="How many stars"]').setValue('');
    await flushPromises();
    await button(desk, 'Two stars / cross').trigger('click');
    await flushPromises();
    expect((desk.find('select[aria-label="How many stars"]').element as HTMLSelectElement).value).toBe('2');
    await button(desk, 'Views').trigger('click');
    await flushPromises();
    await desk.find('button[aria-label="Take the view Two stars / cross away"]').trigger('click');
    await flushPromises();
    expect(desk.find('ul[aria-label="Kept views"]').exists()).toBe(false);
    desk.unmount();
  });
});

it('a label in a row shows everybody with it, and lets go of that again', async () => {
  byBrand[1] = [entry(1, { contact: { id: 1, name: 'Ana', labels: ['regular'], leftAlone: false } })];
  const desk = mounted(Desk);
  await flushPromises();
  await button(desk.find('[data-item="1"]'), 'regular').trigger('click');
  await flushPromises();
  expect(server.asked.at(-1)!.path).toContain('label=regular');
  const select = desk.find<HTMLSelectElement>('select[aria-label="Which label"]');
  expect(select.element.value).toBe('regular');
  await select.setValue('');
  await flushPromises();
  expect(server.asked.at(-1)!.path).not.toContain('label=');
  desk.unmount();
});
