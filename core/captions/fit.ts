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
import { countHashtags } from '../text/hashtags.ts';
import { LONGEST_WORDING } from './limits.ts';
import { tidyPieces, type Piece } from './pieces.ts';
import { WHOLE, gapAfter } from './cuts.ts';
import { HASHTAGS_ONLY } from './hashtag-levels.ts';
import { DEFAULT_LADDER } from './ladder.ts';
import { NOTHING, longestField, Trimming, trimPieces, type Trimmed, type Over } from './trimming.ts';

export type Fitted =
  | { fits: true; pieces: readonly Piece[]; trimmed: Trimmed }
  /** What may give way is not enough; the whole is so much too long. */
  | { fits: false; over: number };

const ADDRESS = /https?:\/\/\S*[^\s.,;:!?)\]}"'…»”’]/gu;

/**
 * The longest caption that fits, by the ladder. The same pieces and room give the same; what fits stays as it is.
 *
 * @param locale a BCP 47 tag, for the ends of sentences and words (UAX #29)
 */
export function fitPieces(pieces: readonly Piece[], over: Over, locale: string, ladder = DEFAULT_LADDER): Fitted {
  const whole = tidyPieces(pieces);
  const tooMuch = over(whole);
  if (tooMuch <= 0) return { fits: true, pieces: whole, trimmed: NOTHING };
  if (isEndless(textOf(whole))) return { fits: false, over: tooMuch };
  const begun = whole.flatMap(aroundItsAddress);
  const found = trimPieces(begun, ladder.order.length - 1, new Trimming(ladder, over, locale));
  if (!found) return { fits: false, over: tooMuch };
  return { fits: true, pieces: tidyPieces(found, false), trimmed: whatTrimmed(begun, found) };
}

/** Whether words are longer than any wording gets: then something went wrong, and cutting it is no help. */
const isEndless = (text: string) => text.length > LONGEST_WORDING;

/** What is missing of pieces. Their number has stayed. */
function whatTrimmed(before: readonly Piece[], after: readonly Piece[]): Trimmed {
  const fields = new Set<string>();
  const optional = new Set<number>();
  let hashtags = 0;
  for (const [index, piece] of before.entries()) {
    const { text } = after[index]!;
    if (text === piece.text) continue;
    if (text === '' && piece.optional !== undefined) optional.add(piece.optional);
    // A field that ended in hashtags has lost those, and perhaps more.
    else if (piece.text.startsWith(text) && HASHTAGS_ONLY.test(piece.text.slice(text.length)))
      hashtags += countHashtags(piece.text) - countHashtags(text);
    else if (piece.field !== undefined) fields.add(piece.field);
  }
  return { hashtags, fields: [...fields], optional: optional.size };
}

/**
 * A field with one address in it is about that address, so what is around it gives way. Of several, those behind the cut
 * go with it.
 */
function aroundItsAddress(piece: Piece): Piece[] {
  if (piece.field === undefined || piece.keep) return [piece];
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
  over: (text: string) => number,
  locale: string,
  ladder = DEFAULT_LADDER,
): { fits: true; text: string; trimmed: Trimmed } | { fits: false; over: number } {
  const whole = text.trim();
  const tooMuch = over(whole);
  if (tooMuch <= 0) return { fits: true, text: whole, trimmed: NOTHING };
  if (isEndless(whole)) return { fits: false, over: tooMuch };
  const overOf: Over = (each) => over(textOf(each));
  let pieces: readonly Piece[] = piecesOfText(whole);
  let goneRuns = false;
  for (;;) {
    const made = fitPieces(pieces, overOf, locale, ladder);
    const fitted = made.fits ? textOf(made.pieces) : '';
    if (made.fits && fitted !== '') {
      const shortened = goneRuns || made.trimmed.fields.length > 0;
      return { fits: true, text: fitted, trimmed: { ...made.trimmed, fields: shortened ? [''] : [] } };
    }
    // A run that cannot be cut short enough goes as a whole.
    const longest = ladder.order.includes('fields') ? longestField(pieces, overOf) : -1;
    if (longest < 0) return { fits: false, over: tooMuch };
    pieces = pieces.map((piece, index) => (index === longest ? { text: gapAfter(piece.text) || ' ' } : piece));
    goneRuns = true;
  }
}

const textOf = (pieces: readonly Piece[]) => pieces.map((piece) => piece.text).join('');

const MOST_RUNS = 40;

/** A text of which nothing is known as pieces: its runs of plain words may give way, the rest is kept. */
export function piecesOfText(text: string): Piece[] {
  const pieces: Piece[] = [];
  let from = 0;
  for (const match of text.matchAll(WHOLE)) {
    // What stands between so many of them is one run: each is tried for itself, and nobody could tell.
    if (pieces.length >= MOST_RUNS) break;
    if (match.index > from) pieces.push({ text: text.slice(from, match.index), field: '' });
    pieces.push({ text: match[0] });
    from = match.index + match[0].length;
  }
  if (from < text.length) pieces.push({ text: text.slice(from), field: '' });
  return pieces;
}
