// How long words may get while they are put together. No outlet takes nearly as much, so nothing is lost; without a limit
// a short message could grow beyond all memory.
import { cutUnits } from '../text/graphemes.ts';

/** UTF-16 code units that a tweak is given of a field: what lies beyond, no outlet could take. */
export const LONGEST_FIELD = 100_000;
/** UTF-16 code units of a whole wording, and of what a tweak makes. */
export const LONGEST_WORDING = 200_000;

/** A text of at most so many code units, cut at the end of a character, with an ellipsis where something is missing. */
export function within(text: string, most: number): string {
  return text.length <= most ? text : `${cutUnits(text, most - 1)}…`;
}
