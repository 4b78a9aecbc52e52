// What an empty field leaves behind: doubled spaces, a comma after nothing, brackets around nothing. Closing up takes it
// out and nothing else.
import type { Piece } from './pieces.ts';

/** Brackets within brackets around nothing go one after the other; deeper ones than this nobody writes. */
const MOST_ROUNDS = 30;

/**
 * What stands for nothing, each with what takes its place. Runs of white space are looked at from their beginning only:
 * from each of their places they would be looked at again and again.
 */
const LEFT_BEHIND: readonly [RegExp, string][] = [
  // Brackets and quotation marks around nothing.
  [/(?<![^\S\n])[^\S\n]*(?:\(\s*\)|\[\s*\]|“\s*”|‘\s*’|«\s*»|"\s*"(?=\s|$))/gu, ''],
  // Two stops where the words between them are gone: ", ," and ": ." keep the last.
  [/[,;:–—](?=\s*[,;:])\s*|[,;:](?=\s*[.!?](?:\s|$))\s*/gu, ''],
  // A space before a comma or full stop, and a stop at the beginning of a line.
  [/(?<![^\S\n])[^\S\n]+(?=[,.](?:\s|$))/gu, ''],
  [/(?<=^|\n)[^\S\n]*[,.;:](?=\s)[^\S\n]*/gu, ''],
  // A separator with nothing on one side of it.
  [/(?<=^|\n)[^\S\n]*[–—·|•](?=[^\S\n])[^\S\n]*(?=[·|–—\n]|$)/gu, ''],
  [/(?<![^\S\n])[^\S\n]+[–—·|](?=[^\S\n]*(?:\n|$))/gu, ''],
  [/(?<=\S)[^\S\n]{2,}(?=\S)/gu, ' '],
  [/(?<![^\S\n])[^\S\n]+(?=\n|$)/gu, ''],
  [/\n{3,}/gu, '\n\n'],
  [/^\s+|(?<!\s)\s+$/gu, ''],
];

/** Whether anything may have been left behind: quick, and wrong only on the careful side. */
const MAYBE =
  /[^\S\n]{2}|[^\S\n][,.;:–—·|](?=\s|$)|(?:^|\n)[^\S\n]*[,.;:–—·|•]|[([“‘«"]\s*[)\]”’»"]|[,;:–—]\s*[,;:.!?]|\n{3}|[^\S\n]\n|^\s|\s$/u;

/** Whether closing up would change a text. */
export const hasGaps = (text: string): boolean => MAYBE.test(text) && closedUp(text) !== text.trim();

/** The text without what empty fields leave behind. Closed up again it stays the same. */
export function closedUp(text: string): string {
  let before = text;
  for (let rounds = 0; rounds < MOST_ROUNDS; rounds++, before = text) {
    for (const [what, instead] of LEFT_BEHIND) text = text.replace(what, instead);
    if (text === before) break;
  }
  return text;
}

/** Pieces closed up: what goes from the whole goes from the piece it stands in. */
export function closedUpPieces(pieces: readonly Piece[]): Piece[] {
  let now = pieces.map((piece) => ({ ...piece }));
  let before = '';
  for (let rounds = 0; rounds < MOST_ROUNDS; rounds++) {
    for (const [what, instead] of LEFT_BEHIND) now = replaced(now, what, instead);
    const text = now.map((piece) => piece.text).join('');
    if (text === before) break;
    before = text;
  }
  return now.filter((piece) => piece.text !== '');
}

function replaced(pieces: Piece[], what: RegExp, instead: string): Piece[] {
  const text = pieces.map((piece) => piece.text).join('');
  const gone: [from: number, to: number][] = [];
  for (const match of text.matchAll(what)) gone.push([match.index, match.index + match[0].length]);
  if (gone.length === 0) return pieces;
  let at = 0;
  let first = 0;
  return pieces.map((piece) => {
    const from = at;
    at += piece.text.length;
    let kept = '';
    let here = from;
    while (first < gone.length && gone[first]![1] <= from) first++;
    for (let index = first; index < gone.length && gone[index]![0] < at; index++) {
      const [start, end] = gone[index]!;
      kept += text.slice(here, Math.max(here, start));
      // What takes its place stands in the piece where it began.
      if (start >= from) kept += instead;
      here = Math.min(at, end);
    }
    return { ...piece, text: kept + text.slice(here, at) };
  });
}
