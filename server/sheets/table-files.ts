// Sheets written as files: CSV (RFC 4180) and XLSX (ECMA-376).
import writeXlsx, { type SheetData } from 'write-excel-file/node';
import { fieldText } from '@playa/core/items/read-field.ts';
import { sayCell, type CellContext, type Cells } from '@playa/core/sheets/cell.ts';
import { isWritten, type Column } from '@playa/core/sheets/column.ts';
import { writeDelimited } from '@playa/core/sheets/delimited.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { rowFields } from '@playa/core/sheets/row-fields.ts';

/** Columns and rows as texts, the names of the columns first. What Playa works out is among them. */
export function tableTexts(columns: readonly Column[], rows: readonly Cells[], context: CellContext): string[][] {
  return [
    columns.map(({ name }) => name),
    ...rows.map((cells) => {
      const fields = rowFields(columns, cells, context);
      return columns.map((column) =>
        isWritten(column) ? sayCell(column, cells[column.key], context) : fieldText(fields[column.key]),
      );
    }),
  ];
}

/** A sheet as CSV, with a mark by which spreadsheets know that it is UTF-8. */
export const writeCsv = (texts: readonly (readonly string[])[]): string => `\ufeff${writeDelimited(texts)}`;

/** A sheet as a workbook. Numbers are numbers, all else is text, so that nothing is worked out. */
export async function writeWorkbook(
  name: string,
  columns: readonly Pick<Column, 'type'>[],
  texts: readonly (readonly string[])[],
): Promise<Buffer> {
  const [header = [], ...rows] = texts;
  const data: SheetData = [
    header.map((value) => ({ value, fontWeight: 'bold' as const })),
    ...rows.map((row) =>
      row.map((text, index) => {
        const number = columns[index]?.type === 'number' || columns[index]?.type === 'left' ? Number(text) : NaN;
        if (text === '') return null;
        return Number.isNaN(number) ? { value: text, type: String } : { value: number, type: Number };
      }),
    ),
  ];
  return writeXlsx(data, { sheet: cutUnits(name.replace(/[\\/?*[\]:]/g, ' '), 31) || 'Sheet' }).toBuffer();
}
