// What a screen reader is told of the parts of a grid (WAI-ARIA 1.2, grid), where Tabulator leaves it out.

/** @param holder the element that the grid was made in */
export function nameParts(holder: HTMLElement, name: string): void {
  const part = (selector: string, role: string) => holder.querySelector(selector)?.setAttribute('role', role);
  holder.setAttribute('aria-label', name);
  part('.tabulator-header', 'rowgroup');
  part('.tabulator-header-contents', 'presentation');
  part('.tabulator-headers', 'row');
}

/** The rows are a group that the keyboard can be in, and without any there is none. */
export function nameGroup(holder: HTMLElement | undefined, any: boolean): void {
  const rows = holder?.querySelector('.tabulator-tableholder');
  if (!rows) return;
  for (const [name, value] of [
    ['role', 'rowgroup'],
    ['aria-label', 'Rows'],
    ['tabindex', '0'],
  ] as const)
    if (any) rows.setAttribute(name, value);
    else rows.removeAttribute(name);
  holder?.querySelector('.tabulator-table')?.setAttribute('role', 'presentation');
}
