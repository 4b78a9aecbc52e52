// What gives way so that words fit, in which order.

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
