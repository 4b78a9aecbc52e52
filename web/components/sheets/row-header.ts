// The numbers at the left of a grid: each opens its row.
import type { CellComponent } from 'tabulator-tables';
import type { RowData } from './grid-range.ts';

/** @param open shows a row with all its cells */
export const rowHeader = (open: (id: number) => void) => ({
  width: 58,
  resizable: false,
  frozen: true,
  headerSort: false,
  formatter: (cell: CellComponent) => {
    const button = document.createElement('button');
    button.type = 'button';
    button.tabIndex = -1;
    button.className = 'w-full text-center text-xs text-ink-3 hover:text-sea';
    const place = cell.getRow().getPosition();
    button.textContent = String(place || '');
    button.title = 'Open the row';
    button.setAttribute('aria-label', `Open row ${place}`);
    button.addEventListener('click', () => open((cell.getRow().getData() as RowData).$id));
    return button;
  },
});
