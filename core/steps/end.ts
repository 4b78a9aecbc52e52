import { z } from 'zod';
import { stepBase } from './base.ts';
import type { StepBase, Verb } from './verb.ts';

export interface EndStep extends StepBase {
  verb: 'end';
  /** Why, for whoever reads the sheet. */
  why: string;
}

/** End: nothing further is done for this item; inside a For each, for this element. */
export const end = {
  verb: 'end',
  title: 'End',
  sort: 'thinking',
  schema: z.object({ ...stepBase, verb: z.literal('end'), why: z.string().max(200) }),
  sentence: (step) => [step.why ? `End: ${step.why}` : 'End here'],
  prepare: (step) => ({ plan: () => ({ go: 'stop', cell: { kind: 'stops', why: step.why || 'ends here' } }) }),
  problems: () => [],
} satisfies Verb<EndStep>;
