// Files of rows: CSV (RFC 4180) and XLSX (ECMA-376). Run in a thread of its own (reader.ts).
import readXlsx from 'read-excel-file/node';
import { decodeText, readDelimited, UnreadableTable } from '@playa/core/sheets/delimited.ts';

/** The most rows and columns that a file may have. */
export const MOST_FILE_ROWS = 20_001;
const MOST_FILE_COLUMNS = 200;
/** The largest file, bytes. */
export const FILE_LIMIT = 10 * 1024 * 1024;

/** A workbook is a ZIP archive (ECMA-376 part 2): it begins with a local file header. */
const isWorkbook = (bytes: Uint8Array) => bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 0x03;

/**
 * The rows of a file as texts, dates as ISO 8601 has them. Rows without anything are left out.
 *
 * @throws UnreadableTable when it is neither, or too large
 */
export async function readTableFile(bytes: Buffer): Promise<string[][]> {
  if (bytes.length === 0) throw new UnreadableTable('This file is empty.');
  const rows = isWorkbook(bytes) ? await readWorkbook(bytes) : readText(bytes);
  if (rows.length > MOST_FILE_ROWS)
    throw new UnreadableTable(`This file has ${rows.length.toLocaleString('en')} rows; at most 20,000 can be taken.`);
  const width = Math.max(0, ...rows.map((row) => row.length));
  if (width > MOST_FILE_COLUMNS)
    throw new UnreadableTable(`This file has ${width} columns; at most ${MOST_FILE_COLUMNS} can be taken.`);
  return rows.map((row) => Array.from({ length: width }, (_, index) => row[index] ?? ''));
}

function readText(bytes: Buffer): string[][] {
  // Something with a zero byte in it is no text, unless it is UTF-16.
  const marked = bytes[0] === 0xff || bytes[0] === 0xfe;
  if (!marked && bytes.subarray(0, 8192).includes(0))
    throw new UnreadableTable('This is neither a CSV file nor an XLSX workbook.');
  return readDelimited(decodeText(bytes));
}

async function readWorkbook(bytes: Buffer): Promise<string[][]> {
  if (unpackedSize(bytes) > 20 * FILE_LIMIT)
    throw new UnreadableTable('This workbook is too large when it is unpacked.');
  try {
    const sheets = await readXlsx(bytes);
    const [first] = sheets;
    return (first?.data ?? []).map((row) => row.map(cellText)).filter((row) => row.some((text) => text.trim() !== ''));
  } catch (error) {
    if (error instanceof UnreadableTable) throw error;
    throw new UnreadableTable('This workbook cannot be read.');
  }
}

/** What a ZIP archive says of itself that it unpacks to, in bytes, by its central directory (APPNOTE 4.3.12). */
function unpackedSize(bytes: Buffer): number {
  let size = 0;
  const entry = Buffer.from([0x50, 0x4b, 0x01, 0x02]);
  for (let at = bytes.indexOf(entry); at >= 0 && at + 46 <= bytes.length; at = bytes.indexOf(entry, at + 46))
    size += bytes.readUInt32LE(at + 24);
  return size;
}

function cellText(value: unknown): string {
  if (value === null || value === undefined) return '';
  // A spreadsheet's time has no zone: it is what a clock on the wall shows (ECMA-376 part 1, 18.17.4).
  if (value instanceof Date) {
    const text = value.toISOString();
    return text.endsWith('T00:00:00.000Z') ? text.slice(0, 10) : text.slice(0, 16).replace('T', ' ');
  }
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value as string | number);
}
