import { z } from 'zod';
import { stepSchema } from '../steps/index.ts';
import { settingsSchema } from './settings.ts';
import { sourceSchema } from './source.ts';
import { allSteps } from './tree.ts';

/** What a workflow does: its sources, and the steps in the order they happen. This is what a version keeps. */
export const definitionSchema = z
  .object({
    schema: z.literal(1),
    sources: z.array(sourceSchema).min(1).max(20),
    steps: z.array(stepSchema).max(100),
    /** Left out when nothing is set. */
    settings: settingsSchema.optional(),
  })
  .superRefine((definition, context) => {
    const steps = allSteps(definition);
    const ids = [...definition.sources.map((source) => source.id), ...steps.map(({ step }) => step.id)];
    if (new Set(ids).size < ids.length) context.addIssue({ code: 'custom', message: 'Two steps have the same id.' });
    if (steps.length > 200) context.addIssue({ code: 'custom', message: 'A workflow has at most 200 steps.' });
    if (steps.some(({ depth }) => depth > 6))
      context.addIssue({ code: 'custom', message: 'Steps lie at most six deep inside one another.' });
  });
export type Definition = z.infer<typeof definitionSchema>;
