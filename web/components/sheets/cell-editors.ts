// Editing in place: a field over the cell, with what stands there as text. What was typed is read by the column, and kept
// where it cannot be read.
import type { CellComponent, Editor } from 'tabulator-tables';
import { sayCell, type Cell, type CellContext } from '@playa/core/sheets/cell.ts';
import type { Column } from '@playa/core/sheets/column.ts';

/** How a cell began to be edited: over what stands there, or by the letter that was typed. */
export interface Begun {
  letter: string | null;
}

const LOOK = 'h-full w-full bg-card px-1.5 text-ink outline-2 -outline-offset-2 outline-sea';

/**
 * The editor for a column.
 *
 * @param begun asked when it opens
 */
export function editorFor(column: Column, context: () => CellContext, begun: () => Begun): Editor {
  return (cell, onRendered, success, cancel) => {
    const value = (cell.getValue() ?? null) as Cell;
    const { letter } = begun();
    const field = fieldFor(column, value, context());
    field.className = LOOK;
    field.setAttribute('aria-label', column.name);
    if (letter !== null && !(field instanceof HTMLSelectElement)) field.value = letter;
    onRendered(() => {
      if (field instanceof HTMLTextAreaElement) growOver(field, cell);
      field.focus({ preventScroll: true });
      if (letter === null && field instanceof HTMLInputElement) field.select();
      if (field instanceof HTMLTextAreaElement) field.setSelectionRange(field.value.length, field.value.length);
    });
    let ended = false;
    const keep = () => {
      if (ended) return;
      ended = true;
      success(field.value === '' ? null : field.value);
    };
    field.addEventListener('blur', keep);
    field.addEventListener('change', () => field instanceof HTMLSelectElement && keep());
    field.addEventListener('keydown', (event) => {
      const { key, shiftKey } = event as KeyboardEvent;
      if (key === 'Escape') {
        ended = true;
        cancel(undefined);
      } else if (key === 'Enter' && !(shiftKey && field instanceof HTMLTextAreaElement)) {
        event.preventDefault();
        keep();
        // On to the cell below, as in every spreadsheet.
        cell.getElement().dispatchEvent(new CustomEvent('edited-by-enter', { bubbles: true }));
      }
      // Other keys are the field's own.
      if (key !== 'Tab') event.stopPropagation();
    });
    return field;
  };
}

type Field = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement;

function fieldFor(column: Column, value: Cell, context: CellContext): Field {
  const text = sayCell(column, value, context);
  const options = optionsOf(column, context);
  if (options) {
    const select = document.createElement('select');
    for (const option of new Set(['', ...options, ...(text ? [text] : [])]))
      select.append(new Option(option || '–', option));
    select.value = text;
    return select;
  }
  if (column.type === 'longText') {
    const area = document.createElement('textarea');
    area.value = text;
    return area;
  }
  const input = document.createElement('input');
  input.value = text;
  if (column.type === 'moment') input.placeholder = '2026-12-01 09:00';
  if (column.type === 'date') input.placeholder = '2026-12-01';
  return input;
}

/** What can be chosen in a column; undefined where it is written freely. */
export function optionsOf(column: Column, context: CellContext): string[] | undefined {
  switch (column.type) {
    case 'choice':
      return column.options.map((option) => option.value);
    case 'yesNo':
      return ['yes', 'no'];
    case 'outlet':
      return [...context.outlets.values()].map(({ name }) => name);
    case 'person':
      return [...context.people.values()];
    default:
      return undefined;
  }
}

/** Long words need more room than a line. */
function growOver(area: HTMLTextAreaElement, cell: CellComponent): void {
  const { width } = cell.getElement().getBoundingClientRect();
  Object.assign(area.style, {
    position: 'absolute',
    inset: '0 auto auto 0',
    width: `${Math.max(width, 280)}px`,
    height: '7.5rem',
    zIndex: '20',
    padding: '6px',
  });
  cell.getElement().style.overflow = 'visible';
}
