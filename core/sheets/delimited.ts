// CSV (RFC 4180): read whatever the delimiter, written so that no program takes a cell for a formula.
import Papa from 'papaparse';

/** Why a file cannot be read as a table, in a sentence. */
export class UnreadableTable extends Error {
  override name = 'UnreadableTable';
}

/**
 * The rows of a CSV file, the first usually with the names of its columns. Empty lines are left out.
 *
 * @param text with or without a byte order mark
 * @throws UnreadableTable when a quote is never closed
 */
export function readDelimited(text: string): string[][] {
  const { data, errors } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), {
    skipEmptyLines: 'greedy',
    delimitersToGuess: [',', ';', '\t', '|'],
  });
  const open = errors.find(({ code }) => code === 'MissingQuotes');
  if (open) throw new UnreadableTable(`A quote that opens in line ${(open.row ?? 0) + 1} is never closed.`);
  return data;
}

/**
 * The text of a file in bytes: UTF-8 where it is, UTF-16 with a mark, otherwise Windows-1252, which spreadsheets in Western
 * languages still write (WHATWG Encoding, sections 4.2 and 9).
 */
export function decodeText(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes).replace(/[\u0080-\u009f]/g, (sign) => {
      return HIGH[sign.charCodeAt(0) - 0x80] ?? sign;
    });
  }
}

/**
 * What Windows-1252 has at 0x80 to 0x9F (WHATWG Encoding, index windows-1252): some engines give Latin-1's control signs
 * instead. A space stands for what is not taken.
 */
const HIGH = [...'€ ‚ƒ„…†‡ˆ‰Š‹Œ Ž  ‘’“”•–—˜™š›œ žŸ'].map((sign) => (sign === ' ' ? undefined : sign));

/**
 * What a spreadsheet would take for a formula: it begins with a sign, or with what spreadsheets leave out before one (OWASP,
 * "CSV Injection").
 */
const FORMULA = /^[=+\-@\t\r]/;
const NUMBER = /^[+-]?\d+([.,]\d+)*$/;

/** A text that a spreadsheet shows and does not work out: an apostrophe before what looks like a formula; numbers stay. */
export const defused = (text: string): string => (FORMULA.test(text) && !NUMBER.test(text) ? `'${text}` : text);

/** A table as CSV, lines ended as RFC 4180 section 2 has it. */
export function writeDelimited(rows: readonly (readonly string[])[]): string {
  return `${Papa.unparse(
    rows.map((row) => row.map(defused)),
    { newline: '\r\n' },
  )}\r\n`;
}
