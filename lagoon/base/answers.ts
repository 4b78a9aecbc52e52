/** An answer to a comment. All answers stand under the comment of the first level, whichever of those below is meant. */
export interface Answer {
  /** The comment of the first level that it stands under; null for one of the first level. */
  under: number | null;
  /** The very comment that is answered. Left out: the one it stands under. */
  to?: number;
}

/** Which comment is answered: an answer to one below is none to the one above. */
export const answeredBy = ({ to, under }: Answer): number | null => to ?? under;
