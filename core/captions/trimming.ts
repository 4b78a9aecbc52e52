// What gives way first when words are too long for a place.
import type { Ladder, Rung } from './ladder.ts';
import { hashtagLevels } from './hashtag-levels.ts';
import { cutsOf, type Cut } from './cuts.ts';
import { tidyPieces, type Piece } from './pieces.ts';

/**
 * By how much words are more than an outlet takes, in its own unit; what fits gives zero or less. More words must not
 * count less.
 */
export type Over = (pieces: readonly Piece[]) => number;
/** What was given up to make words fit. */
export interface Trimmed {
  /** Hashtags at the end. */
  hashtags: number;
  /** Paths of the fields that were shortened, each once; empty for words of which nobody knows where they came from. */
  fields: readonly string[];
  /** Optional parts that were left out. */
  optional: number;
}

export const NOTHING: Trimmed = { hashtags: 0, fields: [], optional: 0 };
/** What is asked again and again on the way down the ladder. */
export class Trimming {
  readonly ladder: Ladder;
  readonly locale: string;
  readonly #overOf: Over;
  readonly #over = new Map<readonly Piece[], number>();
  readonly #levels = new Map<readonly Piece[], Map<Rung, (readonly Piece[])[]>>();

  constructor(ladder: Ladder, over: Over, locale: string) {
    this.ladder = ladder;
    this.locale = locale;
    this.#overOf = over;
  }

  /** By how much pieces are too long; negative where there is room left. */
  over(pieces: readonly Piece[]): number {
    let over = this.#over.get(pieces);
    if (over === undefined) this.#over.set(pieces, (over = this.#overOf(tidyPieces(pieces, false))));
    return over;
  }

  fits(pieces: readonly Piece[]): boolean {
    return this.over(pieces) <= 0;
  }

  /** The pieces with ever more given up on a rung that gives up whole parts. */
  levels(pieces: readonly Piece[], rung: Rung): readonly (readonly Piece[])[] {
    let known = this.#levels.get(pieces);
    if (!known) this.#levels.set(pieces, (known = new Map()));
    let levels = known.get(rung);
    if (!levels) {
      levels = rung === 'hashtags' ? hashtagLevels(pieces) : rung === 'optional' ? optionalLevels(pieces) : [pieces];
      known.set(rung, levels);
    }
    return levels;
  }
}

/**
 * Gives up as little as is enough on this rung and on those below it; undefined when all of it is not enough.
 *
 * @param enough whether all of it is known to be enough
 */
export function trimPieces(
  pieces: readonly Piece[],
  rung: number,
  how: Trimming,
  enough = false,
): readonly Piece[] | undefined {
  if (rung < 0) return enough || how.fits(pieces) ? pieces : undefined;
  const name = how.ladder.order[rung]!;
  if (name !== 'fields') {
    const levels = how.levels(pieces, name);
    const last = levels.length - 1;
    // Where not even the last is enough, none is.
    if (rung === 0 && !enough && !how.fits(levels[last]!)) return undefined;
    // The more is given up the shorter it gets, so the first that is enough is found by halving.
    let low = 0;
    let high = last;
    let best = trimPieces(levels[last]!, rung - 1, how, enough || rung === 0);
    while (best && low < high) {
      const middle = (low + high) >> 1;
      const found = trimPieces(levels[middle]!, rung - 1, how);
      if (found) [best, high] = [found, middle];
      else low = middle + 1;
    }
    return best;
  }
  const uncut = trimPieces(pieces, rung - 1, how);
  if (uncut) return uncut;
  // The least that has to be cut is what has to be cut when everything below has given way; what then has room again
  // comes back.
  const least = how.ladder.order.slice(0, rung).reduce((given, below) => how.levels(given, below).at(-1)!, pieces);
  const cuts = cutFields(least, how);
  if (!cuts) return undefined;
  const cut = pieces.map((piece, index) => {
    const text = cuts.get(index);
    return text === undefined ? piece : { ...piece, text };
  });
  return trimPieces(cut, rung - 1, how, true);
}

/** The pieces with ever fewer of their optional parts, from the last. */
function optionalLevels(pieces: readonly Piece[]): (readonly Piece[])[] {
  const parts = [...new Set(pieces.flatMap((piece) => piece.optional ?? []))].sort((a, b) => b - a);
  const levels = [pieces];
  for (const part of parts)
    levels.push(levels.at(-1)!.map((piece) => (piece.optional === part ? { ...piece, text: '' } : piece)));
  return levels.filter((level, index) => index === 0 || level.some((piece) => piece.text.trim() !== ''));
}

const hasWords = (text: string) => /[\p{L}\p{N}\p{Extended_Pictographic}]/u.test(text);
const mayBeCut = (piece: Piece) => piece.field !== undefined && !piece.keep && hasWords(piece.text);
export function longestField(pieces: readonly Piece[], over: Over): number {
  let longest = -1;
  for (const [index, piece] of pieces.entries()) {
    if (mayBeCut(piece) && (longest < 0 || over([piece]) > over([pieces[longest]!]))) longest = index;
  }
  return longest;
}

/** The cuts that give up least, by the number of the piece; undefined when none is enough. */
function cutFields(pieces: readonly Piece[], how: Trimming): Map<number, string> | undefined {
  const fields = new Map<number, readonly Cut[]>();
  for (const [index, piece] of pieces.entries()) {
    if (!mayBeCut(piece)) continue;
    const cuts = cutsOf(piece.text, how);
    if (cuts.length > 1) fields.set(index, cuts);
  }
  if (fields.size === 0) return undefined;
  const chosen = new Map<number, string>();
  const apply = () =>
    pieces.map((piece, index) => {
      const text = chosen.get(index);
      return text === undefined ? piece : { ...piece, text };
    });
  // First all of them to one length, the longest that fits.
  const cutTo = (most: number) => {
    for (const [index, cuts] of fields) chosen.set(index, cutWithin(cuts, most).text);
    return how.fits(apply());
  };
  const most = longestLength([...fields.values()], how.over(pieces), cutTo);
  if (most === undefined) return undefined;
  for (const [index, cuts] of fields) chosen.set(index, cutWithin(cuts, most).text);
  // Then whatever room is left goes to the first that can use it. One alone is as long as can be already.
  const shortened = [...fields].filter(([index, cuts]) => chosen.get(index) !== cuts.at(-1)!.text);
  if (shortened.length === 1) return chosen;
  for (const [index, cuts] of shortened) {
    let at = cuts.findIndex(({ text }) => text === chosen.get(index));
    while (++at < cuts.length) {
      chosen.set(index, cuts[at]!.text);
      if (how.fits(apply())) continue;
      chosen.set(index, cuts[at - 1]!.text);
      break;
    }
  }
  return chosen;
}

/** The longest cut of at most so many graphemes; the shortest where there is none. */
const cutWithin = (cuts: readonly Cut[], most: number): Cut =>
  cuts.findLast(({ length }) => length <= most) ?? cuts[0]!;
/**
 * The longest length to which all fields can be cut so that it fits; undefined when not even their shortest cuts do. The
 * longer the cuts, the longer the whole, so it is searched for from where it is likely to be.
 *
 * @param over by how much the uncut fields are too long
 */
function longestLength(
  fields: readonly (readonly Cut[])[],
  over: number,
  fits: (most: number) => boolean,
): number | undefined {
  const end = Math.max(...fields.map(wholeLength)) + 1;
  // What is shorter than `low` fits, `high` and what is longer does not.
  let low = 0;
  let high = end;
  let at = Math.min(end - 1, likelyLength(fields, over));
  for (let stride = 1; low < high; stride *= 2) {
    const fit = fits(at);
    // Between two cuts nothing changes.
    if (fit) low = Math.min(...fields.map((cuts) => cuts.find(({ length }) => length > at)?.length ?? end));
    else high = Math.max(...fields.map((cuts) => cuts.findLast(({ length }) => length <= at)?.length ?? 0));
    if (low > 0 && high < end) at = (low + high) >> 1;
    else at = fit ? Math.min(end - 1, Math.max(low, at + stride)) : Math.max(0, Math.min(high - 1, at - stride));
  }
  if (low > 0) return low - 1;
  // Fields that cannot be cut as short stay longer than any length, so their shortest cuts are tried for themselves.
  return fits(0) ? 0 : undefined;
}

const wholeLength = (cuts: readonly Cut[]) => cuts.at(-1)!.length;
/** To which length the longest fields have to be cut to lose so much, if a grapheme counts one and cuts were anywhere. */
function likelyLength(fields: readonly (readonly Cut[])[], over: number): number {
  const lengths = fields.map(wholeLength).sort((a, b) => b - a);
  let sum = -over;
  for (const [index, length] of lengths.entries()) {
    sum += length;
    const most = Math.floor(sum / (index + 1));
    if (most >= (lengths[index + 1] ?? 0)) return Math.max(0, most);
  }
  return 0;
}
