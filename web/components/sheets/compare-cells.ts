import type { Cell } from '@playa/core/sheets/cell.ts';

const words = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' });

/** Cells in order: numbers as numbers, words as people sort them, what is empty last whichever way. */
export function compareCells(a: Cell | undefined, b: Cell | undefined): number {
  const [x, y] = [a ?? '', b ?? ''];
  if (x === '' || y === '') return x === y ? 0 : x === '' ? 1 : -1;
  if (typeof x === 'number' && typeof y === 'number') return x - y;
  return words.compare(String(x), String(y));
}
