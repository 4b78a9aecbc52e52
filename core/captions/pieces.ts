// A worded caption that still knows what its parts are: which came from fields, which may give way, which are bold. It
// is made of a message's formatted parts (MessageFormat 2, "Formatting to parts") and written anew for every kind of
// outlet. What the message says by markup:
//
//   {#bold}…{/bold}  {#italic}…{/italic}  {#code}…{/code}   formatting
//   {#link to=$link}…{/link}                                words that lead to an address
//   {#item /}                                               at the beginning of a line: an entry of a list
//   {#keep}…{/keep}                                         never shortened
//   {#optional}…{/optional}                                 left out as a whole when there is no room

/** The markup that goes around words. */
export const MARKS = ['bold', 'italic', 'code', 'keep', 'optional', 'link'] as const;
export type Mark = (typeof MARKS)[number];

/** A run of a caption's words that is alike throughout. */
export interface Piece {
  text: string;
  /** The path of the field whose value it is, which may be shortened; empty when nobody knows which. */
  field?: string;
  keep?: true;
  /** The number of the optional part it belongs to, from 1 in order. */
  optional?: number;
  bold?: true;
  italic?: true;
  code?: true;
  /** The address that the words lead to. */
  link?: string;
  /** The sign of a list's entry: each way of writing has its own. Its text is the plain one. */
  item?: true;
}

/** The sign before an entry of a list where there is no markup for it. */
export const BULLET = '• ';

/** Pieces that look alike are one; empty ones are gone. */
export function joinedPieces(pieces: readonly Piece[]): Piece[] {
  const joined: Piece[] = [];
  for (const piece of pieces) {
    if (piece.text === '') continue;
    const last = joined.at(-1);
    if (last && alike(last, piece)) last.text += piece.text;
    else joined.push({ ...piece });
  }
  return joined;
}

function alike(a: Piece, b: Piece): boolean {
  return (
    a.field === undefined &&
    b.field === undefined &&
    a.keep === b.keep &&
    a.optional === b.optional &&
    a.item === b.item &&
    sameLook(a, b)
  );
}

/** Whether two pieces are formatted alike. */
export function sameLook(a: Piece, b: Piece): boolean {
  return a.bold === b.bold && a.italic === b.italic && a.code === b.code && a.link === b.link;
}

const looks = (piece: Piece) => Boolean(piece.bold || piece.italic || piece.code || piece.link !== undefined);

/** Whether pieces say more than their text does. */
export function isFormatted(pieces: readonly Piece[]): boolean {
  return pieces.some((piece) => piece.item || looks(piece));
}

/**
 * The pieces without the white space at both ends and without more of it within than a reader would want: what leaves a
 * gap when it goes should not leave two spaces or three line breaks.
 *
 * @param inside whether the pieces may have gaps within; those that were tidied before and then cut have none
 */
export function tidyPieces(pieces: readonly Piece[], inside = true): Piece[] {
  const tidy: Piece[] = [];
  // White space is held back until something follows it, with the optional part that it goes with.
  let gap = '';
  let goesWith: number | undefined;
  const hold = (space: string, { optional }: Piece) => {
    if (space === '') return;
    if (gap === '') goesWith = optional;
    // What any part that stays has of it stays.
    else if (optional === undefined) goesWith = undefined;
    gap += space;
  };
  for (const piece of pieces) {
    if (piece.item) {
      if (tidy.length > 0 && !gap.includes('\n')) [gap, goesWith] = ['\n', undefined];
      flush(piece);
      tidy.push({ ...piece });
      continue;
    }
    const { text } = piece;
    const begun = text.trimStart();
    if (begun === '') {
      hold(text, piece);
      continue;
    }
    hold(text.slice(0, text.length - begun.length), piece);
    const space = flush(piece);
    const body = begun.trimEnd();
    tidy.push({ ...piece, text: space + (inside ? closeGaps(body) : body) });
    hold(begun.slice(body.length), piece);
  }
  return tidy;

  /** Puts the gap before a piece; returns what of it the piece itself begins with. */
  function flush(next: Piece): string {
    const space = tidyGap(gap);
    gap = '';
    const last = tidy.at(-1);
    if (!last || space === '') return '';
    // An entry that lost its words loses its sign.
    if (last.item) {
      if (space.includes('\n')) tidy.pop();
      return '';
    }
    // It goes when the part goes that it belongs to. One between formatted and plain words is plain; one before the sign
    // of an entry stands before it.
    const alike = next.item || sameLook(last, next);
    if (last.optional === goesWith && (alike || !looks(last))) last.text += space;
    else if (next.optional === goesWith && !next.item && (alike || !looks(next))) return space;
    else tidy.push(goesWith === undefined ? { text: space } : { text: space, optional: goesWith });
    return '';
  }
}

const closeGaps = (text: string) =>
  /[^\S\n]{2}|[^\S\n]\n|\n[^\S\n]|\n{3}/u.test(text) ? text.replace(/\s+/gu, tidyGap) : text;

function tidyGap(gap: string): string {
  if (gap === '' || gap === ' ') return gap;
  const breaks = gap.split('\n').length - 1;
  return breaks > 0 ? '\n'.repeat(Math.min(2, breaks)) : gap.length === 1 ? gap : ' ';
}
