// How cells look in the grid: by the type of their column, with a mark where what was typed cannot be read.
import type { CellComponent } from 'tabulator-tables';
import { cellProblem, sayCell, type Cell, type CellContext } from '@playa/core/sheets/cell.ts';
import { isWritten, type ChoiceColour, type Column } from '@playa/core/sheets/column.ts';
import { webHref } from '../../lib/links.ts';

/** The palette of choices, each a wash with an ink that can be read on it in both themes. */
export const CHOICE_LOOK: Readonly<Record<ChoiceColour, string>> = {
  plain: 'bg-paper text-ink-2',
  sea: 'bg-sea-wash text-sea',
  kelp: 'bg-kelp-wash text-kelp',
  amber: 'bg-amber-wash text-amber',
  rose: 'bg-rose-wash text-rose',
  dusk: 'bg-dusk-wash text-dusk',
};

/** How wide a column is that nobody has made wider, in pixels. */
export function usualWidth(column: Column): number {
  switch (column.type) {
    case 'longText':
    case 'computed':
      return 280;
    case 'number':
    case 'yesNo':
    case 'left':
      return 90;
    case 'choice':
      return 130;
    case 'moment':
      return 150;
    case 'date':
      return 120;
    case 'link':
    case 'picture':
      return 170;
    default:
      return 190;
  }
}

const element = (className: string, text: string): HTMLElement => {
  const made = document.createElement('span');
  made.className = className;
  made.textContent = text;
  return made;
};

/**
 * What a cell shows.
 *
 * @param computed what Playa has worked out for it
 */
export function cellElement(
  column: Column,
  value: Cell,
  context: CellContext,
  computed: string | number | null,
): HTMLElement | string {
  if (column.type === 'left') {
    if (computed === null) return '';
    return element(Number(computed) < 0 ? 'font-[650] text-rose' : 'text-ink-2', String(computed));
  }
  if (!isWritten(column)) return element('text-ink-2', String(computed ?? ''));
  if (value === null) return '';
  const text = sayCell(column, value, context);
  const problem = cellProblem(column, value, context);
  if (problem) {
    const made = element('underline decoration-rose decoration-wavy underline-offset-3', text);
    made.title = problem;
    made.append(element('sr-only', ` (${problem})`));
    return made;
  }
  switch (column.type) {
    case 'choice': {
      const colour = column.options.find((option) => option.value === value)?.colour ?? 'plain';
      return element(`rounded-[5px] px-1.5 py-px ${CHOICE_LOOK[colour]}`, text);
    }
    case 'yesNo':
      return element('', value === true ? '✓ yes' : '– no');
    case 'link':
      return linkElement(text);
    case 'picture': {
      const picture = document.createElement('img');
      picture.src = text;
      picture.alt = '';
      picture.loading = 'lazy';
      picture.className = 'inline-block h-6 w-9 rounded-sm border border-line object-cover align-middle';
      const made = document.createElement('span');
      made.append(picture, element('ml-1.5 text-ink-3', text.replace(/^.*\//, '')));
      return made;
    }
    default:
      return text;
  }
}

function linkElement(text: string): HTMLElement {
  const made = element('', text.replace(/^https?:\/\/(www\.)?/, ''));
  const href = webHref(text);
  if (!href) return made;
  const open = document.createElement('a');
  open.href = href;
  open.target = '_blank';
  open.rel = 'noopener noreferrer';
  open.tabIndex = -1;
  open.className = 'text-sea';
  open.textContent = made.textContent;
  // A click in the cell chooses it; the link opens by a click on its words.
  open.addEventListener('mousedown', (event) => event.stopPropagation());
  return open;
}

/** The value of the cell under a grid's cell. */
export const valueOf = (cell: CellComponent): Cell => (cell.getValue() ?? null) as Cell;
