// What steps that send words to an outlet share: whether the words are made to fit there, and what gives way.
import { z } from 'zod';
import { DEFAULT_LADDER, RUNGS, type Ladder } from '../captions/ladder.ts';

export interface Fitting {
  /** Shorten the words where an outlet takes fewer, rather than hold them. */
  fit?: boolean | undefined;
  /** What gives way then, and in which order; the usual ladder without. */
  ladder?: Ladder | undefined;
}

export const fittingShape = {
  fit: z.boolean().optional(),
  ladder: z
    .object({ order: z.array(z.enum(RUNGS)).max(RUNGS.length), cutAt: z.enum(['either', 'sentence', 'word']) })
    .refine(({ order }) => new Set(order).size === order.length, 'Each rung stands once.')
    .optional(),
};

/** The ladder of a step; null when nothing may give way. */
export function ladderOf({ fit, ladder }: Fitting): Ladder | null {
  return fit ? (ladder ?? DEFAULT_LADDER) : null;
}
