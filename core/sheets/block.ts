// Blocks of cells as programs put them on the clipboard: tabs between columns, lines between rows, quotes around what has
// either inside.
import Papa from 'papaparse';

/** @example readBlock('a\t"b\nc"\n') // [['a', 'b\nc']] */
export function readBlock(text: string): string[][] {
  const block = text.replace(/\r?\n$/, '');
  if (block === '') return [['']];
  return Papa.parse<string[]>(block, { delimiter: '\t', skipEmptyLines: false }).data;
}

/** The inverse. Quoted only where it has to be. */
export function writeBlock(rows: readonly (readonly string[])[]): string {
  return Papa.unparse(
    rows.map((row) => [...row]),
    { delimiter: '\t', newline: '\n' },
  );
}
