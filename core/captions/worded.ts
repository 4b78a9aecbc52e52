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

/** Keys by name, kept: a name put together anew is looked up many times more slowly, and this is asked for every post. */
const keys = new Map<string, string>();
const MOST_KEYS = 1000;

function key(caption: string): string {
  let known = keys.get(caption);
  if (known === undefined) {
    if (keys.size >= MOST_KEYS) keys.clear();
    keys.set(caption, (known = `~words of ${caption}`));
  }
  return known;
}

/** What is handed on under a key. Asked first whether there is anything: to look for what is not there costs ten times that. */
const handedUnder = (fields: Fields, under: string): Wordings | undefined =>
  Object.hasOwn(fields, under) ? (fields[under] as unknown as Wordings) : undefined;

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
  const pieces = handedUnder(fields, key(caption))?.pieces;
  return { [caption]: after, ...handedOn(caption, { pieces: pieces && correctedPieces(pieces, before, after) }) };
}

/** The parts of a text that an earlier step has made, where more is known than the text. */
function piecesHanded(fields: Fields, name: string): readonly Piece[] | undefined {
  return handedUnder(fields, key(name))?.pieces;
}

/** What may be handed on beside texts of these names, to be asked for of many items. */
export class HandedBeside {
  readonly #keys: readonly string[];

  constructor(names: readonly string[]) {
    this.#keys = names.map(key);
  }

  /** Whether anything is. */
  isIn(fields: Fields): boolean {
    for (const each of this.#keys) if (Object.hasOwn(fields, each)) return true;
    return false;
  }

  /** Whether more is known of the parts of one of these texts. */
  hasPieces(fields: Fields): boolean {
    return this.#keys.some((each) => handedUnder(fields, each)?.pieces !== undefined);
  }

  /** The outlets that have words of their own in one of these texts. */
  outletsWithOwn(fields: Fields): string[] {
    let own: string[] = [];
    for (const each of this.#keys) {
      const theirs = handedUnder(fields, each)?.own;
      if (theirs) own = [...new Set([...own, ...Object.keys(theirs)])];
    }
    return own;
  }
}

/** The fields as they are for one outlet: where an earlier step has words of its own for it, these. */
export function fieldsFor(fields: Fields, names: readonly string[], outlet: string): Fields {
  const theirs: Fields = {};
  for (const name of names) {
    const own = handedUnder(fields, key(name))?.own?.[outlet];
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
  const handed = handedUnder(fields, key(caption));
  if (!handed) return { text };
  return handed.own?.[outlet] ?? { text, pieces: handed.pieces };
}
