// The numbers of the desk as charts, and as the tables behind them.
import { DateTime } from 'luxon';
import type { DeskNumbers } from '../../lib/types.ts';
import { styled, token, type ChartOption } from '../chart/chart-setup.ts';

/** A chart, and the table behind it. */
export interface Figure {
  title: string;
  says: string;
  option: ChartOption;
  columns: string[];
  rows: string[][];
  height?: number;
}

const HOUR = 3_600_000;
const UNKNOWN = 'not known yet';

/** How long somebody waited: "under a minute", "40 min", "3 h 20 min", "1 d 4 h". */
export function sayWait(milliseconds: number | null): string {
  if (milliseconds === null) return UNKNOWN;
  const minutes = Math.round(milliseconds / 60_000);
  if (minutes < 1) return 'under a minute';
  if (minutes < 60) return `${minutes} min`;
  const hours = Math.floor(minutes / 60);
  if (hours < 24) return minutes % 60 === 0 ? `${hours} h` : `${hours} h ${minutes % 60} min`;
  return hours % 24 === 0 ? `${Math.floor(hours / 24)} d` : `${Math.floor(hours / 24)} d ${hours % 24} h`;
}

export const sayShare = (share: number | null): string => (share === null ? '–' : `${Math.round(share * 100)} %`);
const sayStars = (stars: number | null): string => (stars === null ? '–' : stars.toFixed(1));
/** "9 Nov", the Monday a week begins with. */
const sayWeek = (week: string): string => DateTime.fromISO(week, { locale: 'en' }).toFormat('d LLL');

const axes = (numbers: DeskNumbers, more: object = {}): Pick<ChartOption, 'xAxis' | 'yAxis'> => ({
  xAxis: {
    type: 'category',
    data: numbers.weeks.map(({ week }) => sayWeek(week)),
    axisTick: { show: false },
    axisLine: { lineStyle: { color: token('line') } },
  },
  yAxis: {
    type: 'value',
    splitLine: { lineStyle: { color: token('line') } },
    ...more,
  },
});

/** How long people waited, week by week. */
export function waitFigure(numbers: DeskNumbers): Figure {
  const inHours = (time: number | null) => (time === null ? null : Math.round((time / HOUR) * 100) / 100);
  const line = (
    name: string,
    colour: string,
    type: 'solid' | 'dashed',
    of: (week: DeskNumbers['weeks'][number]) => number | null,
  ) => ({
    type: 'line' as const,
    name,
    data: numbers.weeks.map((week) => inHours(of(week))),
    symbol: 'circle',
    symbolSize: 6,
    color: colour,
    lineStyle: { type, width: 2 },
  });
  return {
    title: 'How long people waited',
    says: 'Hours until half, and nine in ten, of those who wrote in a week were answered. Who still waits is not left out.',
    option: styled({
      ...axes(numbers, { min: 0 }),
      tooltip: {
        valueFormatter: (hours) => (typeof hours === 'number' ? sayWait(hours * HOUR) : UNKNOWN),
        trigger: 'axis',
      },
      series: [
        line('half within', token('sea'), 'solid', ({ median }) => median),
        line('nine in ten within', token('amber'), 'dashed', ({ ninety }) => ninety),
      ],
    }),
    columns: ['Week from', 'Wrote', 'Answered', 'Half within', 'Nine in ten within'],
    rows: numbers.weeks.map((week) => [
      sayWeek(week.week),
      String(week.asked),
      sayShare(week.share),
      week.asked === 0 ? '–' : sayWait(week.median),
      week.asked === 0 ? '–' : sayWait(week.ninety),
    ]),
  };
}

const WHO = [
  ['alone', 'by itself', 'sea'],
  ['people', 'by people', 'dusk'],
  ['there', 'at the network', 'keeping'],
  ['waiting', 'still waiting', 'amber'],
  ['left', 'left without', 'line'],
] as const;

/** Who answered, week by week. */
export function whoFigure(numbers: DeskNumbers): Figure {
  return {
    title: 'Who answered',
    says: 'What went out by itself, what people sent or said yes to, and what has no answer.',
    option: styled({
      ...axes(numbers, { minInterval: 1 }),
      series: WHO.map(([field, name, colour]) => ({
        type: 'bar' as const,
        stack: 'all',
        name,
        color: token(colour),
        barMaxWidth: 34,
        data: numbers.weeks.map((week) => week[field]),
      })),
    }),
    columns: ['Week from', ...WHO.map(([, name]) => name)],
    rows: numbers.weeks.map((week) => [sayWeek(week.week), ...WHO.map(([field]) => String(week[field]))]),
  };
}

/** How the stars stand, week by week. */
export function starsFigure(numbers: DeskNumbers): Figure {
  const counted = numbers.byStars.map((count, index) => `${index + 1} ★ ${count}`).reverse();
  return {
    title: 'Stars',
    says: `The mean of each week. Over the whole stretch: ${counted.join(', ')}.`,
    option: styled({
      ...axes(numbers, { min: 1, max: 5, interval: 1 }),
      legend: { show: false },
      series: [
        {
          type: 'line',
          name: 'stars',
          color: token('amber'),
          symbol: 'circle',
          symbolSize: 6,
          data: numbers.weeks.map(({ stars }) => (stars === null ? null : Math.round(stars * 100) / 100)),
        },
      ],
    }),
    columns: ['Week from', 'Reviews', 'Stars'],
    rows: numbers.weeks.map((week) => [sayWeek(week.week), String(week.reviews), sayStars(week.stars)]),
  };
}

/** Places beside one another. */
export function placesFigure(numbers: DeskNumbers): Figure {
  const places = [...numbers.places].reverse();
  return {
    title: 'By place',
    says: 'How many wrote, and how many of them have an answer.',
    height: 60 + Math.max(1, places.length) * 30,
    option: styled({
      xAxis: { type: 'value', minInterval: 1, splitLine: { lineStyle: { color: token('line') } } },
      yAxis: { type: 'category', data: places.map(({ outlet }) => outlet), axisTick: { show: false } },
      series: [
        bar(
          'answered',
          'sea',
          places.map(({ answered }) => answered),
        ),
        bar(
          'still waiting',
          'amber',
          places.map(({ waiting }) => waiting),
        ),
      ],
    }),
    columns: ['Place', 'Wrote', 'Answered', 'Half within', 'Nine in ten within', 'Stars'],
    rows: numbers.places.map((place) => [
      place.outlet,
      String(place.asked),
      sayShare(place.share),
      sayWait(place.median),
      sayWait(place.ninety),
      place.stars === null ? '–' : `${sayStars(place.stars)} of ${place.reviews}`,
    ]),
  };
}

const BECAME = [
  ['again', 'wrote again', 'sea'],
  ['open', 'may still write', 'thinking'],
  ['silent', 'silent for two weeks', 'line'],
  ['stopped', 'asked to be left alone', 'rose'],
] as const;

/** What became of those whom workflows wrote to. */
export function journeysFigure(numbers: DeskNumbers): Figure {
  const journeys = [...numbers.journeys].reverse();
  return {
    title: 'What workflows began',
    says: 'Of the people a workflow wrote to: who wrote again, and who did not.',
    height: 60 + Math.max(1, journeys.length) * 30,
    option: styled({
      xAxis: { type: 'value', minInterval: 1, splitLine: { lineStyle: { color: token('line') } } },
      yAxis: { type: 'category', data: journeys.map(({ workflow }) => workflow), axisTick: { show: false } },
      series: BECAME.map(([field, name, colour]) =>
        bar(
          name,
          colour,
          journeys.map((each) => each[field]),
        ),
      ),
    }),
    columns: ['Workflow', 'Wrote to', ...BECAME.map(([, name]) => name)],
    rows: numbers.journeys.map((each) => [
      each.workflow,
      String(each.begun),
      ...BECAME.map(([field]) => String(each[field])),
    ]),
  };
}

const bar = (name: string, colour: string, data: number[]) => ({
  type: 'bar' as const,
  stack: 'all',
  name,
  color: token(colour),
  barMaxWidth: 18,
  data,
});
