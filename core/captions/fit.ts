// Making a caption fit an outlet. What gives way first, in this order: hashtags at the end, from the last; then the
// longest run of plain words, at the end of a sentence if much is left of it, otherwise at the end of a word with an
// ellipsis; then runs as a whole, the longest first. Addresses, mentions and hashtags within the text are never cut.

/** How an outlet counts, and how much it takes. */
export interface Room {
  /** In the outlet's own unit. Longer texts must not count less. */
  length: (text: string) => number;
  limit: number;
}

export type Fitted =
  | { fits: true; text: string }
  /** What may give way is not enough; the whole is so much too long. */
  | { fits: false; over: number };

/** Addresses, mentions and hashtags: whole or not at all. */
const WHOLE =
  /(?:https?:\/\/\S*[^\s.,;:!?)\]}"'…»”’]|(?<![\p{XID_Continue}])[@#＃][\p{XID_Continue}][\p{XID_Continue}.-]*)/gu;
const LAST_HASHTAG = /\s*(?<![\p{XID_Continue}])[#＃][\p{XID_Continue}]+\s*$/u;
const ELLIPSIS = '…';
/** A sentence's end is taken rather than a word's when it leaves at least this share of what the word's would. */
const ENOUGH = 0.5;

/**
 * The longest text that fits, by the ladder above. The same text and room give the same; what fits stays as it is.
 *
 * @param locale a BCP 47 tag, for the ends of sentences and words (UAX #29)
 */
export function fitText(text: string, room: Room, locale: string): Fitted {
  let now = text.trim();
  const fits = (candidate: string) => room.length(candidate) <= room.limit;
  if (fits(now)) return { fits: true, text: now };
  for (let shorter = now.replace(LAST_HASHTAG, ''); shorter !== now; shorter = now.replace(LAST_HASHTAG, '')) {
    // A text of nothing but hashtags keeps its first.
    if (shorter.trim() === '') break;
    now = shorter;
    if (fits(now)) return { fits: true, text: now };
  }
  const pieces = piecesOf(now);
  for (;;) {
    const index = longestRun(pieces, room);
    if (index < 0) return { fits: false, over: room.length(text.trim()) - room.limit };
    const shortened = shortenRun(pieces, index, fits, locale);
    if (shortened !== undefined) return { fits: true, text: shortened };
    pieces[index] = { text: spaceFor(pieces[index]!.text), run: false };
    const rest = joined(pieces);
    if (rest !== '' && fits(rest)) return { fits: true, text: rest };
  }
}

interface Piece {
  text: string;
  /** Plain words, which may give way. */
  run: boolean;
}

function piecesOf(text: string): Piece[] {
  const pieces: Piece[] = [];
  let from = 0;
  for (const match of text.matchAll(WHOLE)) {
    if (match.index > from) pieces.push({ text: text.slice(from, match.index), run: true });
    pieces.push({ text: match[0], run: false });
    from = match.index + match[0].length;
  }
  if (from < text.length) pieces.push({ text: text.slice(from), run: true });
  return pieces;
}

const hasWords = (text: string) => /[\p{L}\p{N}\p{Extended_Pictographic}]/u.test(text);

function longestRun(pieces: readonly Piece[], room: Room): number {
  let longest = -1;
  for (const [index, piece] of pieces.entries()) {
    if (!piece.run || !hasWords(piece.text)) continue;
    if (longest < 0 || room.length(piece.text) > room.length(pieces[longest]!.text)) longest = index;
  }
  return longest;
}

/** The whole with one run cut as little as needed; undefined when no cut of it is enough. */
function shortenRun(
  pieces: readonly Piece[],
  index: number,
  fits: (text: string) => boolean,
  locale: string,
): string | undefined {
  const run = pieces[index]!.text;
  const whole = (kept: string) => joined(pieces.map((piece, at) => (at === index ? { ...piece, text: kept } : piece)));
  const longest = (ends: readonly number[], mark: string) => {
    // Ends grow, and so do the texts: the last one that fits is the longest.
    let low = 0;
    let high = ends.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (fits(whole(cutAt(run, ends[middle]!, mark)))) low = middle + 1;
      else high = middle;
    }
    return low === 0 ? undefined : ends[low - 1]!;
  };
  const sentence = longest(sentenceEnds(run, locale), '');
  const word = longest(wordEnds(run, locale), ELLIPSIS);
  if (sentence !== undefined && (word === undefined || sentence >= word * ENOUGH))
    return whole(cutAt(run, sentence, ''));
  return word === undefined ? undefined : whole(cutAt(run, word, ELLIPSIS));
}

/** A run up to an end, with a mark, and the white space that stood at its own end. */
function cutAt(run: string, end: number, mark: string): string {
  return run.slice(0, end) + mark + spaceFor(run);
}

/** What keeps the pieces on both sides of a run apart: its line breaks, or a space. */
function spaceFor(run: string): string {
  const tail = /\s*$/u.exec(run)![0];
  const breaks = /\n\s*\n/u.test(tail) ? '\n\n' : tail.includes('\n') ? '\n' : '';
  return breaks || ' ';
}

function joined(pieces: readonly Piece[]): string {
  return pieces
    .map((piece) => piece.text)
    .join('')
    .replace(/[^\S\n]{2,}/g, ' ')
    .replace(/[^\S\n]*\n[^\S\n]*/g, '\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
}

function sentenceEnds(run: string, locale: string): number[] {
  const ends: number[] = [];
  for (const part of segmenter(locale, 'sentence').segment(run)) {
    const stop = part.index + part.segment.trimEnd().length;
    const closed = /[.!?…。！？]["'”’»)\]]*$/u.test(run.slice(0, stop)) || /\n\s*$/u.test(part.segment);
    if (closed && stop < run.trimEnd().length && stop > 0) ends.push(stop);
  }
  return ends;
}

function wordEnds(run: string, locale: string): number[] {
  const ends: number[] = [];
  for (const part of segmenter(locale, 'word').segment(run)) {
    const stop = part.index + part.segment.length;
    if ((part.isWordLike || /\p{Extended_Pictographic}/u.test(part.segment)) && stop < run.trimEnd().length)
      ends.push(stop);
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
