// What is likely in the calendar: apart from what is planned, asked for only while somebody wants to see it.
import { flushPromises } from '@vue/test-utils';
import { DateTime } from 'luxon';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { defineComponent, h, ref } from 'vue';
import { NO_TIMETABLE } from '@playa/core/timetable/timetable.ts';
import { daysShown, type CalendarDay } from '../../lib/calendar.ts';
import type { CalendarOutlet, LikelyPost } from '../../lib/types.ts';
import { Answering, mounted, Refusal } from '../../testing/mounted.ts';
import DayList from './DayList.vue';
import { sayLikely, useLikely } from './likely.ts';
import MonthGrid from './MonthGrid.vue';
import WeekGrid from './WeekGrid.vue';

const ZONE = 'Europe/Lisbon';
const at = (text: string) => DateTime.fromISO(text, { zone: ZONE }).toMillis();
const NOW = at('2031-11-26T12:00');
const likely = (text: string, more: Partial<LikelyPost> = {}): LikelyPost => ({
  ...{ workflow: 1, name: 'New films', outlet: 1, date: text.slice(0, 10), posts: 1, at: at(text) },
  ...more,
});
const outlet = (id: number, name: string): CalendarOutlet => ({
  ...{ id, name, kind: 'page', used: true, revision: 0, timetable: NO_TIMETABLE },
});
const shown = {
  outlets: [outlet(1, 'Tern Bay page'), outlet(2, 'Other page')],
  days: daysShown('week', '2031-11-26', ZONE),
  posts: [],
  likely: [likely('2031-11-27T18:00', { outlet: 2 }), likely('2031-11-27T09:30'), likely('2031-11-28T09:30')],
  zone: ZONE,
  now: NOW,
};
let server: Answering;
beforeEach(() => {
  server = new Answering();
});
afterEach(() => {
  document.body.innerHTML = '';
});

describe('how it is said', () => {
  it.each([
    [0.5, 'perhaps 09:30 · New films'],
    [0.75, 'likely 09:30 · New films'],
    [1.25, 'likely 09:30 · New films'],
    [2.6, 'likely 3, about 09:30 · New films'],
  ])('%s a day', (posts, says) => {
    expect(sayLikely(likely('2031-11-27T09:30', { posts }), ZONE)).toBe(says);
  });

  it('stands in its cell of a week, and is nothing that can be opened or moved', () => {
    const grid = mounted(WeekGrid, { ...shown, chosen: new Set<string>() });
    const cells = grid.findAll('tbody tr').map((row) => row.findAll('td').map((cell) => cell.text()));
    expect(cells[0]!.flatMap((text, day) => (text.includes('likely') ? [day] : []))).toEqual([3, 4]);
    expect(cells[1]!.flatMap((text, day) => (text.includes('likely 18:00') ? [day] : []))).toEqual([3]);
    expect(grid.findAll('[data-likely] button, button[data-likely]')).toHaveLength(0);
  });

  it('says where in a month and in a list, and a day on which something is likely is not “nothing”', () => {
    const month = mounted(MonthGrid, { ...shown, days: daysShown('month', '2031-11-26', ZONE), month: '2031-11-26' });
    expect(month.findAll('[data-likely]').map((each) => each.text())).toEqual([
      'likely 09:30 · New films at Tern Bay page',
      'likely 18:00 · New films at Other page',
      'likely 09:30 · New films at Tern Bay page',
    ]);
    const list = mounted(DayList, { ...shown, chosen: new Set<string>() });
    expect(list.findAll('li')[3]!.text()).not.toContain('nothing');
    expect(list.findAll('li')[5]!.text()).toContain('nothing');
  });
});

describe('asking for it', () => {
  const asked = () => server.asked.filter(({ path }) => path.includes('/calendar/likely'));
  const days = ref<readonly CalendarDay[]>(shown.days);
  const using = (wanted: boolean) => {
    const wants = ref(wanted);
    const about = ref<object>({});
    let used: ReturnType<typeof useLikely>;
    const view = defineComponent(() => {
      used = useLikely(() => 1, wants, days, about);
      return () => h('i');
    });
    mounted(view, {});
    return { wants, about, used: used! };
  };

  it('waits until somebody wants to see it, and is asked for anew when the calendar changes', async () => {
    server.to('GET', /calendar\/likely/, () => ({ likely: shown.likely }));
    const { wants, about, used } = using(false);
    await flushPromises();
    expect(asked()).toHaveLength(0);
    wants.value = true;
    await flushPromises();
    expect(used.likely.value).toHaveLength(3);
    about.value = {};
    await flushPromises();
    expect(asked()).toHaveLength(2);
    wants.value = false;
    await flushPromises();
    expect(used.likely.value).toEqual([]);
  });

  it('says that it could not be told, beside the calendar that stays', async () => {
    server.to('GET', /calendar\/likely/, () => new Refusal(500, 'Something broke.'));
    const { used } = using(true);
    await flushPromises();
    expect(used.trouble.value).toContain('Something broke.');
  });
});
