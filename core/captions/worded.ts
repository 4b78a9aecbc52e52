// What a Compose hands on beside the text itself: its parts, and the wordings that single outlets have of their own. It
// travels with the item's fields under a name that no field can have, and only when a later step has a use for it.
import type { Fields, FieldValue } from '../items/item.ts';
import { correctedPieces } from './corrected.ts';
import type { Piece } from './pieces.ts';
import { writePlain } from './write/plain.ts';

/** The words of one outlet, or of all. */
export interface Worded {
  text: string;
  /** Undefined when nothing is known but the text. */
  pieces?: readonly Piece[] | undefined;
}

/** What is handed on under a caption's name. */
export interface Wordings {
  pieces?: readonly Piece[] | undefined;
  own?: Readonly<Record<string, Worded>> | undefined;
}

const key = (caption: string) => `~words of ${caption}`;

/** The fields that a Compose adds for its caption. */
export function handedOn(caption: string, wordings: Wordings): Fields {
  // Pieces and wordings are plain JSON, as fields are.
  return { [key(caption)]: wordings as unknown as FieldValue };
}

/**
 * The fields that change when a person has corrected a caption: its words for all outlets, those with words of their own
 * too, since these are the words that were approved. Formatting stays where the person left it.
 *
 * @param before the words as the person saw them
 */
export function corrected(fields: Fields, caption: string, before: string, after: string): Fields {
  const { pieces } = (fields[key(caption)] ?? {}) as unknown as Wordings;
  return { [caption]: after, ...handedOn(caption, { pieces: pieces && correctedPieces(pieces, before, after) }) };
}

/** The parts of a text that an earlier step has made, where more is known than the text. */
export function piecesHanded(fields: Fields, name: string): readonly Piece[] | undefined {
  return (fields[key(name)] as unknown as Wordings | undefined)?.pieces;
}

/** The outlets that have words of their own in one of these texts of earlier steps. */
export function outletsWithOwn(fields: Fields, names: readonly string[]): string[] {
  const own = names.flatMap((name) => Object.keys((fields[key(name)] as unknown as Wordings | undefined)?.own ?? {}));
  return [...new Set(own)];
}

/** The fields as they are for one outlet: where an earlier step has words of its own for it, these. */
export function fieldsFor(fields: Fields, names: readonly string[], outlet: string): Fields {
  const theirs: Fields = {};
  for (const name of names) {
    const own = (fields[key(name)] as unknown as Wordings | undefined)?.own?.[outlet];
    if (own) Object.assign(theirs, { [name]: own.text }, handedOn(name, own.pieces ? { pieces: own.pieces } : {}));
  }
  return { ...fields, ...theirs };
}

/**
 * Pieces in which a text of an earlier step stands as a field, with that text's own parts in its place: what was bold or
 * led somewhere still does. What was done to the text on the way leaves it plain.
 */
export function withHandedPieces(pieces: readonly Piece[], fields: Fields): Piece[] {
  return pieces.flatMap((piece): Piece[] => {
    const handed = piece.field === undefined ? undefined : piecesHanded(fields, piece.field);
    if (!handed || writePlain(handed).trim() !== piece.text.trim()) return [piece];
    const { text: _text, field: _field, ...look } = piece;
    return handed.map((part) => ({ ...look, ...part }));
  });
}

/** The words of a caption for an outlet: its own, or those of all. */
export function wordsFor(fields: Fields, caption: string, text: string, outlet: number): Worded {
  const handed = fields[key(caption)] as unknown as Wordings | undefined;
  if (!handed) return { text };
  return handed.own?.[outlet] ?? { text, pieces: handed.pieces };
}
