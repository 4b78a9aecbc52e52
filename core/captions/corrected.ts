// A caption that a person corrected: the words are theirs, and where they changed nothing its formatting stays.
import { cutUnits } from '../text/graphemes.ts';
import { sameLook, type Piece } from './pieces.ts';
import { writePlain } from './write/plain.ts';

/** Pieces with the plain words that stand for them; those of one link go together, since an address follows its words. */
interface Run {
  plain: string;
  pieces: readonly Piece[];
}

/**
 * The pieces of a corrected caption. What stands before and behind the correction keeps its formatting; what was put in
 * looks like what is around it. None of it gives way any more: a person has approved these words and no others.
 *
 * @param pieces as they were before
 * @param before their plain words, as the person saw them
 * @param after the words as the person left them
 * @returns undefined when the pieces are not those of the words that were shown
 * @example correctedPieces([{ text: 'Swim ' }, { text: 'now', bold: true }], 'Swim now', 'Swim right now')
 *   // [{ text: 'Swim right ', keep: true }, { text: 'now', bold: true, keep: true }]
 */
export function correctedPieces(pieces: readonly Piece[], before: string, after: string): Piece[] | undefined {
  const runs = runsOf(pieces);
  const whole = runs.map(({ plain }) => plain).join('');
  // What is shown has no white space at its ends.
  const lead = whole.indexOf(before);
  if (lead < 0 || whole.trim() !== before.trim()) return undefined;
  const [start, end] = changed(before, after);
  const from = lead + start;
  const to = lead + before.length - end;
  const head = sliceOf(runs, lead, from);
  const tail = sliceOf(runs, to, lead + before.length);
  const middle = after.slice(start, after.length - end);
  return joined([...head, ...(middle === '' ? [] : [{ ...lookBetween(head.at(-1), tail[0]), text: middle }]), ...tail]);
}

function runsOf(pieces: readonly Piece[]): Run[] {
  const runs: Piece[][] = [];
  for (const piece of pieces) {
    const last = runs.at(-1);
    if (piece.link !== undefined && last?.[0]?.link === piece.link) last.push(piece);
    else runs.push([piece]);
  }
  return runs.map((each) => ({ plain: writePlain(each), pieces: each }));
}

/** How much is the same at both ends, in code units, never half of a character. */
function changed(before: string, after: string): [start: number, end: number] {
  const most = Math.min(before.length, after.length);
  let start = 0;
  while (start < most && before[start] === after[start]) start++;
  start = Math.min(cutUnits(before, start).length, cutUnits(after, start).length);
  let end = 0;
  while (end < most - start && before.at(-1 - end) === after.at(-1 - end)) end++;
  // From the back, a character begins where what is before it ends.
  while (end > 0 && !(endsAt(before, before.length - end) && endsAt(after, after.length - end))) end--;
  return [start, end];
}

const endsAt = (text: string, at: number) => cutUnits(text, at).length === at;

/** The pieces between two offsets of the plain words. A link that is cut in two is no link any more. */
function sliceOf(runs: readonly Run[], from: number, to: number): Piece[] {
  const slice: Piece[] = [];
  let at = 0;
  for (const { plain, pieces } of runs) {
    const [begin, end] = [Math.max(from, at), Math.min(to, at + plain.length)];
    const text = begin < end ? plain.slice(begin - at, end - at) : '';
    at += plain.length;
    if (text === '') continue;
    if (text === plain) slice.push(...pieces);
    else {
      const { link: _, item: __, ...look } = pieces[0]!;
      slice.push({ ...look, text });
    }
  }
  return slice;
}

/** What is put in between two pieces that look alike looks like them. */
function lookBetween(left: Piece | undefined, right: Piece | undefined): Omit<Piece, 'text'> {
  if (!left || !right || !sameLook(left, right) || left.link !== undefined) return {};
  const { text: _, item: __, ...look } = left;
  return look;
}

/** Neighbours that look alike are one, and nothing gives way. */
function joined(pieces: readonly Piece[]): Piece[] {
  const all: Piece[] = [];
  for (const { field: _, optional: __, ...piece } of pieces) {
    const last = all.at(-1);
    if (last && !last.item && !piece.item && sameLook(last, piece)) last.text += piece.text;
    else all.push({ ...piece, keep: true });
  }
  return all;
}
