import { z } from 'zod';
import { sortedJson } from './sorted-json.ts';
import type { ActInput, Outcome } from './acts.ts';

/** What a text model worded, held against the rules of the brand: the `result` of a draft. */
export const draftedSchema = z.object({
  /** The first that nothing is wrong with, or else the first. */
  text: z.string(),
  /** Others that nothing is wrong with. */
  others: z.array(z.string()).optional(),
  /** What is wrong with `text`; left out where nothing is. */
  faults: z.array(z.string()).optional(),
  /** What the text model counted. */
  used: z.number().optional(),
});
export type Drafted = z.infer<typeof draftedSchema>;

/** Reads what came of a draft, also of one that an older version of Playa asked for. */
export function draftedBy(outcome: Outcome | undefined): Drafted {
  return draftedSchema.safeParse(outcome?.result).data ?? { text: '' };
}

/** Real drafts by what was asked, for showing samples with them: one that was tried stands for all that ask the same. */
export type TriedDrafts = ReadonlyMap<string, Drafted>;

/** What a draft is known by: everything that was asked of the text model. */
export const draftKey = (outlet: number | null, input: ActInput<'draft'>): string => sortedJson([outlet, input]);
