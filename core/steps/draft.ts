import { LONG_TEXT } from '../shapes/shape.ts';
import { z } from 'zod';
import { stepBase } from './base.ts';
import type { Prepared, StepBase, Verb } from './verb.ts';
import { NAME, outletPhrase, outletProblems, readWords, wordsProblems } from './words.ts';

export interface DraftStep extends StepBase {
  verb: 'draft';
  /** The text model that is asked: an outlet of an account that has one. */
  outlet: number | null;
  /** What later steps call the text. */
  name: string;
  /** What the model is told to do; a wording. */
  instruction: string;
  /** What it is about; a wording. */
  about: string;
  /** Characters at most. */
  longest: number;
  /** 0 always says the same, 1 varies most. */
  variety: number;
}

/** Draft: have a text model word something. */
export const draft = {
  verb: 'draft',
  title: 'Draft',
  sort: 'thinking',
  schema: z.object({
    ...stepBase,
    verb: z.literal('draft'),
    outlet: z.number().int().positive().nullable(),
    name: z.string().regex(NAME),
    instruction: z.string().max(5000),
    about: z.string().max(5000),
    longest: z.number().int().min(10).max(5000),
    variety: z.number().min(0).max(1),
  }),

  sentence: (step, world) => [`Draft ${step.name} by `, outletPhrase(step.outlet, world)],

  prepare(step, world): Prepared {
    const instruction = readWords(step.instruction, world.locale);
    const about = readWords(step.about, world.locale);
    return {
      plan: (env) => ({
        go: 'perform',
        effects: [
          {
            action: 'draft',
            outlet: step.outlet,
            input: {
              instruction: instruction.format(env.fields),
              about: about.format(env.fields),
              longest: step.longest,
              variety: step.variety,
              seed: Math.floor(env.chance('draft') * 2 ** 31),
            },
            blocked: step.outlet === null ? { trouble: 'no-outlet', says: 'No text model is chosen.' } : undefined,
          },
        ],
      }),
      settled: (_, [slot]) => {
        const text = slot?.outcome?.result?.text;
        return { go: 'on', cell: null, values: { [step.name]: typeof text === 'string' ? text : '' } };
      },
      result: (outcome) => String(outcome.result?.text ?? ''),
      pretend: () => ({ text: '(drafted when it runs)' }),
    };
  },

  problems: (step, world) => [
    ...outletProblems(step.id, step.outlet, 'draft', world),
    ...wordsProblems(step.id, 'The instruction', step.instruction),
    ...wordsProblems(step.id, 'What it is about', step.about, false),
  ],

  makes: (step) => ({ [step.name]: LONG_TEXT }),
} satisfies Verb<DraftStep>;
