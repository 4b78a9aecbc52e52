// The numbers of the desk: the sentence above them, and the tables behind the charts. The charts themselves are drawn by
// their package, and looked at in the browser's tests.
import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { DeskNumbers } from '../../lib/types.ts';
import { Answering, button, eventually, mounted, Refusal } from '../../testing/mounted.ts';
import DeskNumbersView from '../../views/DeskNumbers.vue';
import {
  journeysFigure,
  placesFigure,
  sayShare,
  sayWait,
  starsFigure,
  waitFigure,
  whoFigure,
} from './number-figures.ts';

vi.mock('vue-echarts', () => ({ default: { props: ['option'], template: '<div class="chart" />' } }));

const HOUR = 3_600_000;
const speed = { asked: 4, answered: 3, waiting: 1, share: 0.75, median: 2 * HOUR, ninety: null };
const week = { ...speed, week: '2026-11-23', alone: 1, people: 1, there: 1, left: 2, reviews: 3, stars: 4.333 };
const numbers: DeskNumbers = {
  now: Date.parse('2026-11-27T12:00:00Z'),
  from: Date.parse('2026-11-16T00:00:00Z'),
  silentAfter: 14 * 24 * HOUR,
  all: speed,
  weeks: [
    {
      ...week,
      week: '2026-11-16',
      asked: 0,
      answered: 0,
      waiting: 0,
      share: null,
      median: null,
      reviews: 0,
      stars: null,
    },
    week,
  ],
  places: [{ outletId: 7, outlet: 'Old Quay Pool', ...speed, reviews: 3, stars: 4.333 }],
  byStars: [0, 0, 1, 0, 2],
  journeys: [{ workflowId: 3, workflow: 'Timetable asked for', begun: 5, again: 2, stopped: 1, silent: 1, open: 1 }],
};
let server: Answering;
beforeEach(() => (server = new Answering()));
afterEach(() => {
  document.body.innerHTML = '';
  vi.unstubAllGlobals();
});

describe('how numbers are said', () => {
  it('a wait is said in the two units that matter', () => {
    expect([0, 59_000, 40 * 60_000, 3 * HOUR, 3 * HOUR + 20 * 60_000, 24 * HOUR, 28 * HOUR].map(sayWait)).toEqual([
      'under a minute',
      '1 min',
      '40 min',
      '3 h',
      '3 h 20 min',
      '1 d',
      '1 d 4 h',
    ]);
    expect(sayWait(null)).toBe('not known yet');
    expect([null, 0, 0.756, 1].map(sayShare)).toEqual(['–', '0 %', '76 %', '100 %']);
  });
});

describe('the table behind a chart', () => {
  it('has what the chart has', () => {
    expect(waitFigure(numbers).rows).toEqual([
      ['16 Nov', '0', '–', '–', '–'],
      ['23 Nov', '4', '75 %', '2 h', 'not known yet'],
    ]);
    expect(whoFigure(numbers).rows[1]).toEqual(['23 Nov', '1', '1', '1', '1', '2']);
    expect(starsFigure(numbers).rows).toEqual([
      ['16 Nov', '0', '–'],
      ['23 Nov', '3', '4.3'],
    ]);
    expect(placesFigure(numbers).rows).toEqual([['Old Quay Pool', '4', '75 %', '2 h', 'not known yet', '4.3 of 3']]);
    expect(journeysFigure(numbers).rows).toEqual([['Timetable asked for', '5', '2', '1', '1', '1']]);
  });
  it('a time that is not known leaves a gap in the line, and is no nought', () => {
    const { series } = waitFigure(numbers).option as { series: { data: unknown[] }[] };
    expect(series.map(({ data }) => data)).toEqual([
      [null, 2],
      [null, null],
    ]);
  });
});

describe('the view', () => {
  it('says it in a sentence, and shows tables', async () => {
    server.to('GET', /desk\/numbers/, () => numbers);
    const view = mounted(DeskNumbersView);
    await eventually(() => expect(view.text()).toContain('4 wrote who wanted an answer; 75 % have one.'));
    expect(view.text()).toContain('Half were answered within 2 h. One still waits.');
    expect(view.findAll('.chart')).toHaveLength(5);
    await button(view, 'As a table').trigger('click');
    expect(view.find('table').text()).toContain('23 Nov');
    expect(view.findAll('.chart')).toHaveLength(4);
  });
  it('reads the stretch from the address, and says when it cannot be read', async () => {
    server.to('GET', /desk\/numbers/, () => new Refusal(500, 'Something went wrong in Playa itself.'));
    const view = mounted(DeskNumbersView);
    await eventually(() => expect(view.find('[role="alert"]').text()).toContain('Something went wrong'));
    expect(server.asked[0]!.path).toContain('weeks=12');
    await view.find('select').setValue('26');
    await flushPromises();
    await eventually(() => expect(server.asked.at(-1)!.path).toContain('weeks=26'));
  });
});
