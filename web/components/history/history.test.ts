// Who did what, mounted before a server that is made up.
import { flushPromises } from '@vue/test-utils';
import { beforeEach, describe, expect, it } from 'vitest';
import type { AuditEntry } from '../../lib/types.ts';
import { Answering, button, mounted, Refusal } from '../../testing/mounted.ts';
import History from '../../views/History.vue';
import { sayValues } from './values.ts';
import { ABOUT_NAMES, placeOf, sayAbout } from './words.ts';
import { chooseBy, typeInto } from '../../testing/pickers.ts';

const entry = (more: Partial<AuditEntry>): AuditEntry => ({
  id: 1,
  at: Date.UTC(2026, 10, 27, 9, 5),
  by: 'Mo Okoro',
  byUser: true,
  did: 'changed',
  about: 'sheet',
  aboutId: 5,
  name: 'Content plan',
  workflowId: null,
  was: null,
  became: null,
  ...more,
});
let server: Answering;
beforeEach(() => (server = new Answering()));
const words = (text: string) => text.replace(/\s+/g, ' ').trim();
const people = [{ id: 7, name: 'Mo Okoro' }];

describe('who did what', () => {
  it('is told by day in the brand’s time, with what was and what became, and leads there', async () => {
    server.to('GET', /audit/, () => ({
      entries: [
        entry({ id: 3, was: 'Title (text)', became: 'Title (text), Price (number)' }),
        entry({
          id: 2,
          by: 'Films',
          byUser: false,
          did: 'paused',
          about: 'workflow',
          aboutId: 4,
          name: 'Films',
          workflowId: 4,
        }),
        entry({
          id: 1,
          by: null,
          did: 'left alone',
          about: 'contact',
          aboutId: 9,
          name: null,
          at: Date.UTC(2026, 10, 26, 23, 30),
        }),
      ],
      people,
      next: null,
    }));
    const view = mounted(History);
    await flushPromises();
    expect(view.findAll('section').map((each) => each.attributes('aria-label'))).toEqual([
      'Friday, 27 November 2026',
      'Thursday, 26 November 2026',
    ]);
    const lines = view.findAll('li').map((each) => words(each.text()));
    expect(lines[0]).toMatch(/^09:05 ?Mo Okoro changed · the sheet Content plan/);
    expect(lines[0]).toMatch(/before ?Title \(text\) ?then ?Title \(text\), Price \(number\)$/);
    expect(lines[1]).toContain('Films (workflow) paused · the workflow Films');
    expect(lines[2]).toContain('Playa left alone · the person show it');
    expect(view.findAll('li a').map((each) => each.attributes('href'))).toEqual([
      '/1/sheet/5',
      '/1/workflows/4',
      '/1/people?contact=9',
    ]);
    expect(view.findAll('button').map((each) => each.text())).not.toContain('Show more');
  });

  it('is filtered, goes on behind a cursor, and says what to do when nothing fits or it cannot be read', async () => {
    let page: unknown = { entries: [entry({})], people, next: 'abc' };
    server.to('GET', /audit/, () => page);
    const view = mounted(History);
    await flushPromises();
    page = { entries: [entry({ id: 0, name: 'Older' })], people, next: null };
    await button(view, 'Show more').trigger('click');
    await flushPromises();
    expect(server.asked.at(-1)!.path).toContain('after=abc');
    expect(view.findAll('li')).toHaveLength(2);

    page = { entries: [], people, next: null };
    await view.get('[aria-label="Who"]').setValue('7');
    await flushPromises();
    await chooseBy(view, 'What', 'sheets');
    await flushPromises();
    await typeInto(view, 'First day', '2026-11-27');
    await flushPromises();
    expect(server.asked.at(-1)!.path).toContain(`about=sheet&by=7&from=${Date.UTC(2026, 10, 27)}`);
    expect(view.text()).toContain('Nothing was done that fits.');
    page = new Refusal(503, 'The database is away.');
    await button(view, 'Show everything').trigger('click');
    await flushPromises();
    expect(view.get('[role="alert"]').text()).toContain('The database is away.');
    page = { entries: [], people, next: null };
    await button(view, 'Try again').trigger('click');
    await flushPromises();
    expect(view.text()).toContain('Nothing was done yet.');
  });

  it('has words and, where there is one, a place for everything that deeds are about', () => {
    for (const about of Object.keys(ABOUT_NAMES) as AuditEntry['about'][]) {
      expect(sayAbout(entry({ about }))).not.toBe('');
      expect(placeOf(entry({ about, aboutId: null, workflowId: null }), 1)).not.toEqual(
        expect.objectContaining({ params: expect.objectContaining({ id: null }) }),
      );
    }
    expect(sayAbout(entry({ about: 'run', name: null }))).toBe('a run');
    expect(placeOf(entry({ about: 'run', aboutId: 3, workflowId: 4 }), 1)).toMatchObject({ query: { run: 3 } });
  });
});

describe('what was kept as data', () => {
  const policy = (more: object) => JSON.stringify({ rows: [], otherwise: 'hold', copyTo: [], ...more });
  it('is said in words: a policy by its rows, anything else by what differs', () => {
    const row = { id: 'a', kind: 'review', mostStars: 3, does: 'hold' };
    const changed = entry({
      ...{ about: 'brand', name: 'policy', was: policy({}) },
      became: policy({ rows: [row], otherwise: 'post', copyTo: [7] }),
    });
    expect(sayValues(changed)).toEqual({
      was: 'everything else waits for a yes',
      became: 'A review with at most 3 stars: waits for a yes; everything else goes out by itself; copies to 1',
    });
    const voice = (more: object) => JSON.stringify({ tone: 'Warm', signOff: '', never: [], ...more });
    const sounds = { about: 'brand', name: 'voice', was: voice({}) } as const;
    expect(
      sayValues(entry({ ...sounds, became: voice({ signOff: '– The lidos', never: ['Promise', 'Shout'] }) })),
    ).toEqual({
      was: 'sign off: nothing; never: none',
      became: 'sign off: – The lidos; never: Promise, Shout',
    });
    // What was cut, or never was data, stays as it is.
    const cut = entry({ about: 'brand', name: 'voice', was: '{"tone":"Wa', became: voice({}) });
    expect(sayValues(cut)).toMatchObject({ was: '{"tone":"Wa' });
    expect(sayValues(entry({ was: '{"a":1}', became: 'b' }))).toEqual({ was: '{"a":1}', became: 'b' });
  });
});
