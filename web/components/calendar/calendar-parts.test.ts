import { DOMWrapper, flushPromises } from '@vue/test-utils';
import { DateTime } from 'luxon';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { NO_TIMETABLE } from '@playa/core/timetable/timetable.ts';
import { daysShown } from '../../lib/calendar.ts';
import type { CalendarOutlet, CalendarPost } from '../../lib/types.ts';
import { Answering, mounted, Refusal } from '../../testing/mounted.ts';
import MonthGrid from './MonthGrid.vue';
import PostPanel from './PostPanel.vue';
import TimetableDialog from './TimetableDialog.vue';
import WeekGrid from './WeekGrid.vue';
import { picked, typeInto } from '../../testing/pickers.ts';

const ZONE = 'Europe/Lisbon';
const at = (text: string) => DateTime.fromISO(text, { zone: ZONE }).toMillis();
const NOW = at('2031-11-26T12:00');
const outlet = (id: number, name: string): CalendarOutlet => ({
  id,
  name,
  kind: 'page',
  used: true,
  revision: 3,
  timetable: { ...NO_TIMETABLE, times: Array.from({ length: 7 }, () => ['09:00', '17:00']), gap: 3600 },
});
const page = outlet(1, 'Tern Bay page');
const post = (key: string, text: string, more: Partial<CalendarPost> = {}): CalendarPost => ({
  key,
  state: 'planned',
  outlet: 1,
  at: at(text),
  title: `Post ${key}`,
  text: `Words of ${key}`,
  url: null,
  workflowId: 1,
  workflow: 'Films',
  runId: 1,
  itemId: 1,
  post: null,
  sure: true,
  effect: 1,
  slot: null,
  ...more,
});
let server: Answering;
beforeEach(() => {
  server = new Answering();
});
afterEach(() => {
  document.body.innerHTML = '';
});

describe('one post of the calendar', () => {
  const shown = (mine: CalendarPost, others: CalendarPost[] = []) =>
    mounted(PostPanel, { post: mine, outlet: page, posts: [mine, ...others], now: NOW, busy: false });

  it('is moved to another moment; what speaks against it is said before', async () => {
    const panel = shown(post('a', '2031-11-27T10:00'), [post('b', '2031-11-28T10:30')]);
    expect(picked(panel, 'When it goes out')).toBe('2031-11-27T10:00');
    const button = panel.findAll('button').find((each) => each.text() === 'Move')!;
    expect(button.attributes('disabled')).toBeDefined();
    await typeInto(panel, 'When it goes out', '2031-11-28T10:00');
    expect(panel.text()).toContain('Less than 60 min from another post.');
    await panel.get('form').trigger('submit');
    expect(panel.emitted('move')).toEqual([[at('2031-11-28T10:00')]]);
    await typeInto(panel, 'When it goes out', '2031-11-20T10:00');
    expect(button.attributes('disabled')).toBeDefined();
  });
  it('is offered the next free time after its own', async () => {
    const mine = post('a', '2031-11-27T09:00', { slot: at('2031-11-27T09:00') });
    const panel = shown(mine, [post('b', '2031-11-27T17:00', { slot: at('2031-11-27T17:00') })]);
    const button = panel.findAll('button').find((each) => each.text().startsWith('To the next free time'))!;
    await button.trigger('click');
    expect(panel.emitted('move')).toEqual([[at('2031-11-28T09:00')]]);
  });
  it('that is out, or waits for its item, is not moved here', () => {
    expect(
      shown(post('a', '2031-11-20T10:00', { state: 'out', effect: null }))
        .find('form')
        .exists(),
    ).toBe(false);
    const ahead = shown(post('a', '2031-11-28T10:00', { state: 'ahead', effect: null, text: null }));
    expect(ahead.find('form').exists()).toBe(false);
    expect(ahead.text()).toContain('comes from its item');
  });
});

describe('a week', () => {
  it('has outlets as rows, days as columns, posts and free times by time', async () => {
    const days = daysShown('week', '2031-11-26', ZONE);
    const posts = [
      post('a', '2031-11-27T09:00', { slot: at('2031-11-27T09:00') }),
      post('b', '2031-11-24T10:00', { state: 'out', effect: null }),
    ];
    const grid = mounted(WeekGrid, {
      outlets: [page, outlet(2, 'Other page')],
      days,
      posts,
      likely: [],
      zone: ZONE,
      now: NOW,
      chosen: new Set<string>(),
    });
    const [first] = grid.findAll('tbody tr');
    const cells = first!.findAll('td').map((cell) => cell.text().replace(/\s+/g, ' '));
    expect(cells[0]).toContain('10:00 Post b');
    expect(cells[2]).toBe('17:00 free+');
    expect(cells[3]).toMatch(/09:00 Post a.*17:00 free/);
    expect(first!.get('th').text()).toContain('14 a week');
    await first!.findAll('button[aria-pressed]')[1]!.trigger('click');
    expect(grid.emitted('open')).toEqual([['a', false]]);
    await first!.get('th button').trigger('click');
    expect(grid.emitted('timetable')).toEqual([[1]]);
  });
});

describe('a month', () => {
  it('lists the first posts of a day and counts the others; a day opens its week', async () => {
    const posts = [0, 1, 2, 3, 4, 5].map((hour) => post(`p${hour}`, `2031-11-27T1${hour}:00`));
    const days = daysShown('month', '2031-11-26', ZONE);
    const grid = mounted(MonthGrid, {
      outlets: [page],
      days,
      posts,
      month: '2031-11-26',
      likely: [],
      zone: ZONE,
      now: NOW,
    });
    expect(grid.text()).toContain('and 2 more');
    await grid.get('button[aria-label="The week of 2031-11-27"]').trigger('click');
    expect(grid.emitted('day')).toEqual([['2031-11-27']]);
  });
});

describe('a timetable', () => {
  const dialog = () => document.body.querySelector('[role=dialog]')!;
  const press = async (name: string | RegExp) => {
    const button = [...dialog().querySelectorAll('button')].find((each) =>
      `${each.getAttribute('aria-label') ?? ''} ${each.textContent ?? ''}`.match(name),
    );
    button!.click();
    await flushPromises();
  };
  const open = async () => {
    const wrapper = mounted(TimetableDialog, { outlet: page, outlets: [page, outlet(2, 'Other page')] });
    await flushPromises();
    return wrapper;
  };
  it('is kept by its revision, with what was taken away and copied, for other outlets too', async () => {
    server.to('PUT', /timetable$/, () => ({ revision: 4 }));
    const wrapper = await open();
    await press('Take 17:00 away from Monday');
    await press('the same every day');
    dialog().querySelector<HTMLInputElement>('input[type=checkbox]')!.click();
    await press('Keep the timetable');
    expect(server.asked.map(({ path }) => path)).toEqual([
      '/brands/1/outlets/1/timetable',
      '/brands/1/outlets/2/timetable',
    ]);
    const body = server.asked[0]!.body as { revision: number; timetable: { times: string[][]; gap: number } };
    expect(body.revision).toBe(3);
    expect(body.timetable.times).toEqual(Array.from({ length: 7 }, () => ['09:00']));
    expect(body.timetable.gap).toBe(3600);
    expect(wrapper.emitted('kept')).toHaveLength(1);
  });
  it('goes on where one of several was refused: nobody’s is written over unasked, and none is kept twice', async () => {
    const theirs = { ...page.timetable, gap: 600 };
    let refused = true;
    server.to('PUT', /outlets\/1\/timetable$/, () => ({ revision: 4 }));
    server.to('PUT', /outlets\/2\/timetable$/, () =>
      refused
        ? new Refusal(409, 'Somebody has changed this timetable meanwhile.', { timetable: theirs, revision: 9 })
        : { revision: 10 },
    );
    const wrapper = await open();
    await press('Take 17:00 away from Monday');
    dialog().querySelector<HTMLInputElement>('input[type=checkbox]')!.click();
    await press('Keep the timetable');
    expect(dialog().textContent).toContain('Other page: Somebody has changed this timetable meanwhile.');
    expect(wrapper.emitted('kept')).toBeUndefined();
    refused = false;
    await press('Keep mine over it');
    await flushPromises();
    const sent = server.asked.map(({ path, body }) => [
      path.match(/outlets\/(\d)/)![1],
      (body as { revision: number }).revision,
    ]);
    expect(sent).toEqual([
      ['1', 3],
      ['2', expect.any(Number)],
      ['2', 9],
    ]);
    expect(wrapper.emitted('kept')).toHaveLength(1);
  });
  it('shows what a colleague has made of it meanwhile, when asked', async () => {
    const theirs = { ...page.timetable, times: page.timetable.times.map(() => ['06:15']) };
    server.to(
      'PUT',
      /timetable$/,
      () => new Refusal(409, 'Somebody has changed this timetable meanwhile.', { timetable: theirs, revision: 9 }),
    );
    await open();
    await press('Take 09:00 away from Sunday');
    await press('Keep the timetable');
    await press('See what is there now');
    expect(dialog().querySelectorAll('[aria-label^="Take 06:15 away"]')).toHaveLength(7);
  });
  it('is not kept with a pause that ends before it begins, and says so', async () => {
    const wrapper = await open();
    await press('a pause: holidays');
    await typeInto(new DOMWrapper(dialog()), 'First day of the pause', '2031-12-24');
    await typeInto(new DOMWrapper(dialog()), 'Last day of the pause', '2031-12-20');
    await press('Keep the timetable');
    expect(dialog().textContent).toContain('A pause ends after it begins.');
    expect(server.asked).toEqual([]);
    await typeInto(new DOMWrapper(dialog()), 'Last day of the pause', '2031-12-27');
    await flushPromises();
    expect(dialog().textContent).not.toContain('A pause ends after it begins.');
    expect(wrapper.emitted('kept')).toBeUndefined();
  });
  it('that somebody else has changed stays open with what was typed', async () => {
    server.to('PUT', /timetable$/, () => new Refusal(409, 'Somebody has changed this timetable meanwhile.'));
    const wrapper = await open();
    await press('Take 09:00 away from Sunday');
    await press('Keep the timetable');
    expect(wrapper.emitted('kept')).toBeUndefined();
    expect(dialog().textContent).toContain('Somebody has changed this timetable meanwhile.');
    expect(dialog().querySelector('[aria-label="Take 09:00 away from Sunday"]')).toBeNull();
  });
});
