// Columns for a file that becomes a sheet of its own: each of the narrowest type that all of its cells can be read as.
import { cutUnits } from '../text/graphemes.ts';
import { readCell, type CellContext } from './cell.ts';
import { fold, keyFor, MOST_COLUMNS, type Column } from './column.ts';

const TRIED = ['yesNo', 'number', 'date', 'moment', 'link'] as const;
/** So many rows are looked at. */
const LOOKED_AT = 500;
/** Texts longer than that, or with more than one line, are prose. */
const SHORT = 120;

/** @param rows of the file, the header first */
export function guessColumns(rows: readonly (readonly string[])[], context: CellContext): Column[] {
  const [header = []] = rows;
  const columns: Column[] = [];
  const names = new Set<string>();
  for (const [place, heading] of header.slice(0, MOST_COLUMNS).entries()) {
    const texts = rows.slice(1, LOOKED_AT + 1).flatMap((row) => {
      const text = (row[place] ?? '').trim();
      return text === '' ? [] : [text];
    });
    const key = keyFor(
      heading,
      columns.map((column) => column.key),
    );
    columns.push({ key, name: nameFor(heading, place, names), type: typeOf(key, texts, context) });
  }
  return columns;
}

function nameFor(heading: string, place: number, taken: Set<string>): string {
  const stem = cutUnits(heading.trim(), 70) || `Column ${place + 1}`;
  let name = stem;
  for (let count = 2; taken.has(fold(name)); count++) name = `${stem} ${count}`;
  taken.add(fold(name));
  return name;
}

function typeOf(
  key: string,
  texts: readonly string[],
  context: CellContext,
): (typeof TRIED)[number] | 'text' | 'longText' {
  const reads = (type: (typeof TRIED)[number]) =>
    texts.every((text) => readCell({ key, name: key, type }, text, context).problem === undefined);
  if (texts.length === 0) return 'text';
  const dated = (text: string) => /\d{1,2}:\d{2}|\d[ap]m\b/i.test(text);
  for (const type of TRIED) {
    // Digits alone are numbers, whatever else they could be read as; a day with a time is a moment.
    if (type === 'yesNo' && texts.every((text) => /^[01-]$/.test(text))) continue;
    if (type === 'date' && texts.some(dated)) continue;
    if (reads(type)) return type;
  }
  return texts.some((text) => text.length > SHORT || text.includes('\n')) ? 'longText' : 'text';
}
