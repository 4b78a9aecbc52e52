// The bar at the top says how many wait for an answer, in this brand and the others.
import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { useSession } from '../stores/session.ts';
import { sayCount } from '../stores/waiting.ts';
import { Answering, eventually, mounted, Refusal } from '../testing/mounted.ts';
import TopBar from './TopBar.vue';

let server: Answering;
beforeEach(() => {
  server = new Answering();
  const session = useSession();
  session.user = { id: 1, name: 'Mo Okoro', email: 'mo@ternbay.example' };
  session.brands = [
    ...session.brands,
    { id: 2, name: 'Marram Bakehouse', timeZone: 'Europe/London', locale: 'en', role: 'member' },
  ];
});
afterEach(() => {
  document.body.innerHTML = '';
  vi.unstubAllGlobals();
});

describe('the bar at the top', () => {
  it('says how many wait at the desk, and in the other brands once they are looked at', async () => {
    let bakes = 0;
    server.to('GET', /me\/waiting$/, () => ({
      brands: [
        { id: 1, toAnswer: 15 },
        { id: 2, toAnswer: bakes },
      ],
    }));
    const bar = mounted(TopBar);
    const desk = () => bar.findAll('nav a').find((each) => each.text().startsWith('Desk'))!;
    await eventually(() => expect(desk().text()).toContain('15'));
    expect(desk().find('.sr-only').text()).toBe(', 15 to answer');
    bakes = 3;
    await bar.find('[aria-label="Brand"]').trigger('click');
    await flushPromises();
    await eventually(() => expect(bar.text()).toContain('3 to answer'));
  });
  it('says nothing of none, and nothing where it cannot be asked', async () => {
    server.to('GET', /me\/waiting$/, () => new Refusal(500, 'x'));
    const bar = mounted(TopBar);
    await flushPromises();
    expect(bar.findAll('nav a').map((each) => each.text())).toContain('Desk');
    expect([undefined, 0, 1, 1000].map(sayCount)).toEqual(['', '', '1', '1000+']);
  });
});
