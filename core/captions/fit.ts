// Making a caption fit an outlet: a ladder of what gives way. On each rung as little is given up as is enough, and what
// stands lower on the ladder gives way before anything higher does:
//
//   hashtags   those at the end, from the last
//   fields     the longest field at the end of a sentence if much is left of it, else at the end of a word with an
//              ellipsis; once it is as short as the next longest, both; an address that is its only one stays
//   optional   parts marked as optional, from the last
//
// Words that somebody wrote, and parts marked as kept, are never cut; addresses, mentions, hashtags and graphemes never
// in the middle.
import { countGraphemes } from '../text/graphemes.ts';
import { remembering } from '../text/memo.ts';
import { tidyPieces, type Piece } from './pieces.ts';

export const RUNGS = ['hashtags', 'fields', 'optional'] as const;
export type Rung = (typeof RUNGS)[number];

/** What gives way, and in which order. */
export interface Ladder {
  /** What gives way first stands first; what is not there does not give way. */
  order: readonly Rung[];
  /** Where fields are cut. */
  cutAt: 'either' | 'sentence' | 'word';
}
export const DEFAULT_LADDER: Ladder = { order: RUNGS, cutAt: 'either' };

/** How an outlet counts, and how much it takes. */
export interface Room {
  /** In the outlet's own unit. More words must not count less. */
  length: (pieces: readonly Piece[]) => number;
  limit: number;
}

export type Fitted =
  | { fits: true; pieces: readonly Piece[] }
  /** What may give way is not enough; the whole is so much too long. */
  | { fits: false; over: number };

const ADDRESS = /https?:\/\/\S*[^\s.,;:!?)\]}"'…»”’]/gu;
/** Addresses, mentions and hashtags: whole or not at all. */
const WHOLE =
  /(?:https?:\/\/\S*[^\s.,;:!?)\]}"'…»”’]|(?<![\p{XID_Continue}])[@#＃][\p{XID_Continue}][\p{XID_Continue}.-]*)/gu;
const LAST_HASHTAG = /\s*(?<![\p{XID_Continue}])[#＃][\p{XID_Continue}]+\s*$/u;
const ELLIPSIS = '…';
/** A sentence's end is taken rather than a word's when it leaves at least this share of what the word's would. */
const ENOUGH = 0.5;

/**
 * The longest caption that fits, by the ladder. The same pieces and room give the same; what fits stays as it is.
 *
 * @param locale a BCP 47 tag, for the ends of sentences and words (UAX #29)
 */
export function fitPieces(pieces: readonly Piece[], room: Room, locale: string, ladder = DEFAULT_LADDER): Fitted {
  const whole = tidyPieces(pieces);
  const fits = (candidate: readonly Piece[]) => room.length(tidyPieces(candidate, false)) <= room.limit;
  if (room.length(whole) <= room.limit) return { fits: true, pieces: whole };
  const found = give(whole.flatMap(aroundItsAddress), ladder.order.length - 1, { ladder, room, locale, fits });
  if (!found) return { fits: false, over: room.length(whole) - room.limit };
  return { fits: true, pieces: tidyPieces(found, false) };
}

/**
 * A field with one address in it is about that address, so what is around it gives way. Of several, those behind the cut
 * go with it.
 */
function aroundItsAddress(piece: Piece): Piece[] {
  if (!piece.field || piece.keep) return [piece];
  const addresses = [...piece.text.matchAll(ADDRESS)];
  const [only] = addresses;
  if (addresses.length !== 1 || !only || only[0] === piece.text.trim()) return [piece];
  const end = only.index + only[0].length;
  const { field: _, ...kept } = piece;
  return [
    { ...piece, text: piece.text.slice(0, only.index) },
    { ...kept, text: only[0] },
    { ...piece, text: piece.text.slice(end) },
  ].filter((part) => part.text !== '');
}

/** The same for a text of which nothing is known: its runs of plain words give way, the longest first. */
export function fitText(
  text: string,
  room: { length: (text: string) => number; limit: number },
  locale: string,
): { fits: true; text: string } | { fits: false; over: number } {
  const whole = text.trim();
  if (room.length(whole) <= room.limit) return { fits: true, text: whole };
  const length = (pieces: readonly Piece[]) => room.length(textOf(pieces));
  let pieces: readonly Piece[] = piecesOfText(whole);
  for (;;) {
    const made = fitPieces(pieces, { length, limit: room.limit }, locale);
    if (made.fits && textOf(made.pieces) !== '') return { fits: true, text: textOf(made.pieces) };
    // A run that cannot be cut short enough goes as a whole.
    const longest = longestField(pieces, length);
    if (longest < 0) return { fits: false, over: room.length(whole) - room.limit };
    pieces = pieces.map((piece, index) => (index === longest ? { text: gapAfter(piece.text) || ' ' } : piece));
  }
}

const textOf = (pieces: readonly Piece[]) => pieces.map((piece) => piece.text).join('');

/** A text of which nothing is known as pieces: its runs of plain words may give way, the rest is kept. */
export function piecesOfText(text: string): Piece[] {
  const pieces: Piece[] = [];
  let from = 0;
  for (const match of text.matchAll(WHOLE)) {
    if (match.index > from) pieces.push({ text: text.slice(from, match.index), field: true });
    pieces.push({ text: match[0] });
    from = match.index + match[0].length;
  }
  if (from < text.length) pieces.push({ text: text.slice(from), field: true });
  return pieces;
}

interface Giving {
  ladder: Ladder;
  room: Room;
  locale: string;
  fits: (pieces: readonly Piece[]) => boolean;
}

/** Gives up as little as is enough on this rung and on those below it; undefined when all of it is not enough. */
function give(pieces: readonly Piece[], rung: number, how: Giving): readonly Piece[] | undefined {
  if (rung < 0) return how.fits(pieces) ? pieces : undefined;
  const name = how.ladder.order[rung]!;
  if (name !== 'fields') {
    const levels = name === 'hashtags' ? hashtagLevels(pieces) : optionalLevels(pieces);
    // Where not even the last is enough, none is.
    if (rung === 0 && levels.length > 1 && !how.fits(levels.at(-1)!)) return undefined;
    for (const level of levels) {
      const found = give(level, rung - 1, how);
      if (found) return found;
    }
    return undefined;
  }
  const uncut = give(pieces, rung - 1, how);
  if (uncut) return uncut;
  // The least that has to be cut is what has to be cut when everything below has given way; what then has room again
  // comes back.
  const least = how.ladder.order.slice(0, rung).reduce((given, below) => lastLevel(given, below), pieces);
  const cuts = cutFields(least, how);
  if (!cuts) return undefined;
  const cut = pieces.map((piece, index) => {
    const text = cuts.get(index);
    return text === undefined ? piece : { ...piece, text };
  });
  return give(cut, rung - 1, how);
}

function lastLevel(pieces: readonly Piece[], rung: Rung): readonly Piece[] {
  const levels = rung === 'hashtags' ? hashtagLevels(pieces) : rung === 'optional' ? optionalLevels(pieces) : [pieces];
  return levels.at(-1)!;
}

/** The pieces with ever fewer of the hashtags at their end. Their number stays, so that cuts can be told apart. */
function hashtagLevels(pieces: readonly Piece[]): (readonly Piece[])[] {
  const levels = [pieces];
  for (;;) {
    const now = levels.at(-1)!;
    const last = now.findLastIndex((piece) => piece.text.trim() !== '');
    const piece = now[last];
    if (!piece || piece.keep || piece.code || piece.link !== undefined) return levels;
    const shorter = piece.text.replace(LAST_HASHTAG, '');
    if (shorter === piece.text) return levels;
    const without = now.map((each, index) => (index === last ? { ...each, text: shorter } : each));
    // A text of nothing but hashtags keeps its first.
    if (without.every((each) => each.text.trim() === '')) return levels;
    levels.push(without);
  }
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
const mayBeCut = (piece: Piece) => piece.field === true && !piece.keep && hasWords(piece.text);

function longestField(pieces: readonly Piece[], length: (pieces: readonly Piece[]) => number): number {
  let longest = -1;
  for (const [index, piece] of pieces.entries()) {
    if (mayBeCut(piece) && (longest < 0 || length([piece]) > length([pieces[longest]!]))) longest = index;
  }
  return longest;
}

/** A way to cut a field, and how long it leaves it, in graphemes without the white space at its end. */
interface Cut {
  text: string;
  length: number;
}

/** The cuts that give up least, by the number of the piece; undefined when none is enough. */
function cutFields(pieces: readonly Piece[], how: Giving): Map<number, string> | undefined {
  const fields = new Map<number, readonly Cut[]>();
  for (const [index, piece] of pieces.entries()) {
    if (!mayBeCut(piece)) continue;
    const cuts = cutsOf(piece.text, how);
    if (cuts.length > 1) fields.set(index, cuts);
  }
  if (fields.size === 0) return undefined;
  const chosen = new Map<number, string>();
  const tryOut = (index: number, cut: Cut) => {
    const before = chosen.get(index);
    chosen.set(index, cut.text);
    const fits = how.fits(apply());
    if (!fits) chosen.set(index, before ?? pieces[index]!.text);
    return fits;
  };
  const apply = () => pieces.map((piece, index) => ({ ...piece, text: chosen.get(index) ?? piece.text }));
  // First all of them to one length, the longest that fits; lengths grow and so do the texts.
  const lengths = [...new Set([...fields.values()].flatMap((cuts) => cuts.map((cut) => cut.length)))].sort(
    (a, b) => a - b,
  );
  const cutTo = (most: number) => {
    for (const [index, cuts] of fields)
      chosen.set(index, (cuts.findLast((cut) => cut.length <= most) ?? cuts[0]!).text);
  };
  let low = 0;
  let high = lengths.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    cutTo(lengths[middle]!);
    if (how.fits(apply())) low = middle + 1;
    else high = middle;
  }
  cutTo(lengths[Math.max(0, low - 1)]!);
  // Fields that cannot be cut as short stay longer, so the shortest cuts of all are tried even if no length will do.
  if (low === 0 && !how.fits(apply())) return undefined;
  // Then whatever room is left goes to the first that can use it.
  for (const [index, cuts] of fields) {
    const at = cuts.findIndex((cut) => cut.text === chosen.get(index));
    for (let longer = at + 1; longer < cuts.length && tryOut(index, cuts[longer]!); longer++);
  }
  return chosen;
}

/** The ways to cut a field, from the shortest to the whole: of each length only the best. */
function cutsOf(text: string, { ladder, locale }: Giving): readonly Cut[] {
  const key = `${locale} ${ladder.cutAt}`;
  let cuts = cutters.get(key);
  if (!cuts) cutters.set(key, (cuts = remembering(3000, (each) => makeCuts(each, ladder.cutAt, locale))));
  return cuts(text);
}
const cutters = new Map<string, (text: string) => readonly Cut[]>();

function makeCuts(text: string, where: Ladder['cutAt'], locale: string): readonly Cut[] {
  const units = Array.from(text.matchAll(WHOLE), (match) => [match.index, match.index + match[0].length] as const);
  const outside = (end: number) => units.every(([from, to]) => end <= from || end >= to);
  const tail = gapAfter(text);
  const cutAt = (end: number, mark: string): Cut => {
    const cut = text.slice(0, end) + mark;
    return { text: cut + tail, length: countGraphemes(cut) };
  };
  const whole: Cut = { text, length: countGraphemes(text.trimEnd()) };
  const sentences =
    where === 'word'
      ? []
      : sentenceEnds(text, locale)
          .filter(outside)
          .map((end) => cutAt(end, ''));
  const words =
    where === 'sentence'
      ? []
      : wordEnds(text, locale)
          .filter(outside)
          .map((end) => cutAt(end, ELLIPSIS));
  if (where !== 'either') return rising([...(sentences.length ? sentences : words), whole]);
  // At each length the sentence, if it leaves enough of what the word would.
  const best: Cut[] = [];
  for (const most of [...sentences, ...words].map((cut) => cut.length).sort((a, b) => a - b)) {
    const sentence = sentences.findLast((cut) => cut.length <= most);
    const word = words.findLast((cut) => cut.length <= most);
    best.push(sentence && (!word || sentence.length >= word.length * ENOUGH) ? sentence : word!);
  }
  return rising([...best, whole]);
}

/** Only cuts that are longer than those before. A cut longer than the whole is none. */
function rising(cuts: readonly Cut[]): Cut[] {
  const whole = cuts.at(-1)!;
  const kept: Cut[] = [];
  for (const cut of cuts) {
    if (cut !== whole && cut.length >= whole.length) continue;
    if (kept.length === 0 || cut.length > kept.at(-1)!.length) kept.push(cut);
  }
  return kept;
}

/** What keeps a field apart from what follows it: its own line breaks, or its own space. */
function gapAfter(text: string): string {
  const tail = text.slice(text.trimEnd().length);
  return /\n\s*\n/u.test(tail) ? '\n\n' : tail.includes('\n') ? '\n' : tail === '' ? '' : ' ';
}

function sentenceEnds(text: string, locale: string): number[] {
  const ends: number[] = [];
  const length = text.trimEnd().length;
  for (const part of segmenter(locale, 'sentence').segment(text)) {
    const stop = part.index + part.segment.trimEnd().length;
    const closed = /[.!?…。！？]["'”’»)\]]*$/u.test(text.slice(0, stop)) || /\n\s*$/u.test(part.segment);
    if (closed && stop < length && stop > 0) ends.push(stop);
  }
  return ends;
}

function wordEnds(text: string, locale: string): number[] {
  const ends: number[] = [];
  const length = text.trimEnd().length;
  for (const part of segmenter(locale, 'word').segment(text)) {
    const stop = part.index + part.segment.length;
    if ((part.isWordLike || /\p{Extended_Pictographic}/u.test(part.segment)) && stop < length) ends.push(stop);
  }
  return ends;
}

const segmenters = new Map<string, Intl.Segmenter>();
function segmenter(locale: string, granularity: 'sentence' | 'word'): Intl.Segmenter {
  const key = `${locale} ${granularity}`;
  let known = segmenters.get(key);
  if (!known) segmenters.set(key, (known = new Intl.Segmenter(locale, { granularity })));
  return known;
}
