// The parts of the charts package that Playa uses, and how a chart looks here: the colours are the tokens of style.css.
import { BarChart, LineChart } from 'echarts/charts';
import { AriaComponent, GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import { use, type ComposeOption } from 'echarts/core';
import type { BarSeriesOption, LineSeriesOption } from 'echarts/charts';
import type {
  AriaComponentOption,
  GridComponentOption,
  LegendComponentOption,
  TooltipComponentOption,
} from 'echarts/components';
import { SVGRenderer } from 'echarts/renderers';

use([SVGRenderer, BarChart, LineChart, GridComponent, LegendComponent, TooltipComponent, AriaComponent]);

export type ChartOption = ComposeOption<
  | BarSeriesOption
  | LineSeriesOption
  | GridComponentOption
  | LegendComponentOption
  | TooltipComponentOption
  | AriaComponentOption
>;

/** A colour of style.css by its name: "sea". */
export const token = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim() || '#48606a';

/** Patterns over areas, faint: none, stripes one way, dots, stripes the other way, stripes across. */
const LIGHT = { color: 'rgba(255, 255, 255, 0.4)', symbolSize: 1 };
const stripes = (rotation: number) => ({ ...LIGHT, dashArrayX: [1, 0], dashArrayY: [2, 5], rotation });
const DECALS = [
  { symbol: 'none' },
  stripes(Math.PI / 4),
  {
    ...LIGHT,
    symbol: 'circle',
    dashArrayX: [
      [6, 6],
      [0, 6, 6, 0],
    ],
    dashArrayY: [5, 0],
    symbolSize: 0.7,
  },
  stripes(-Math.PI / 4),
  stripes(Math.PI / 2),
];

/** What all charts have in common; `option` goes over it. */
export function styled(option: ChartOption): ChartOption {
  const ink = { color: token('ink-2'), fontFamily: "'Figtree Variable', sans-serif", fontSize: 12 };
  return {
    animation: false,
    textStyle: ink,
    // Areas differ by their pattern too, not by colour alone.
    aria: { enabled: true, decal: { show: true, decals: DECALS } },
    grid: { left: 8, right: 12, top: 34, bottom: 4, containLabel: true },
    legend: { top: 0, left: 0, itemGap: 14, itemWidth: 14, itemHeight: 10, textStyle: ink },
    tooltip: {
      trigger: 'axis',
      backgroundColor: token('card'),
      borderColor: token('line'),
      textStyle: { ...ink, color: token('ink') },
      confine: true,
    },
    ...option,
  };
}
