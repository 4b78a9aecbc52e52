import { z } from 'zod';
import { stepBase } from './base.ts';
import type { Prepared, StepBase, Verb } from './verb.ts';
import { readWords, wordsProblems } from './words.ts';

export interface NotifyStep extends StepBase {
  verb: 'notify';
  /** Colleagues by number; none means everybody of the brand. */
  to: number[];
  /** A wording. */
  text: string;
}

/** Notify: tell a colleague. */
export const notify = {
  verb: 'notify',
  title: 'Notify',
  sort: 'keeping',
  schema: z.object({
    ...stepBase,
    verb: z.literal('notify'),
    to: z.array(z.number().int().positive()).max(50),
    text: z.string().max(5000),
  }),

  sentence(step, world) {
    const names = step.to.map((id) => world.colleagues?.get(id) ?? 'a colleague who is gone');
    return [`Notify ${names.length ? names.join(' and ') : 'everybody'}`];
  },

  prepare(step, world): Prepared {
    const words = readWords(step.text, world.locale);
    return {
      plan: ({ fields }) => {
        const text = words.format(fields);
        const blocked = text === '' ? { trouble: 'empty' as const, says: 'There are no words.' } : undefined;
        return { go: 'perform', effects: [{ action: 'notify', outlet: null, input: { to: step.to, text }, blocked }] };
      },
    };
  },

  problems(step, world) {
    const problems = wordsProblems(step.id, 'The notice', step.text);
    if (world.colleagues && step.to.some((id) => !world.colleagues!.has(id)))
      problems.push({ level: 'harm', step: step.id, says: 'A colleague of this step is gone. Choose another.' });
    return problems;
  },
} satisfies Verb<NotifyStep>;
