import { z } from 'zod';
import { answeredOf } from '../desk/entry.ts';
import type { Answered } from '../desk/answered.ts';
import { draftedBy, draftKey } from '../model/drafted.ts';
import type { World } from '../model/world.ts';
import { LONG_TEXT, list } from '../shapes/shape.ts';
import { stepBase } from './base.ts';
import { YES } from './hold.ts';
import type { Env, Plan, Prepared, StepBase, Verb } from './verb.ts';
import { NAME, outletPhrase, outletProblems, readWords, wordsProblems } from './words.ts';

export interface DraftStep extends StepBase {
  verb: 'draft';
  /** The text model that is asked: an outlet of an account that has one. */
  outlet: number | null;
  /** What later steps call the text. Others to choose from are a list called `name.others`. */
  name: string;
  /** What the model is told to do; a wording. */
  instruction: string;
  /** What it is about; a wording. */
  about: string;
  /** Characters at most. */
  longest: number;
  /** 0 always says the same, 1 varies most. */
  variety: number;
  /**
   * It answers what somebody wrote, in the brand's voice: what they wrote, their stars and name, and what was said
   * before go along by themselves, and the draft is held against the rules of the brand.
   */
  as?: 'answer' | undefined;
  /** How many to choose from, 1 to 3; one when left out. */
  count?: number | undefined;
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
    as: z.literal('answer').optional(),
    count: z.number().int().min(1).max(3).optional(),
  }),

  sentence: (step, world) => [
    step.as === 'answer' ? `Draft ${step.name}, an answer in your voice, by ` : `Draft ${step.name} by `,
    outletPhrase(step.outlet, world),
  ],

  prepare(step, world): Prepared {
    const instruction = readWords(step.instruction, world.locale);
    const about = readWords(step.about, world.locale);
    /** Under this name the step remembers a draft that was not used. */
    const unused = ` not used ${step.id}`;
    return {
      plan: (env) => {
        const before = env.tries > 0 ? env.fields[unused] : undefined;
        return {
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
                seed: Math.floor(env.chance(env.tries === 0 ? 'draft' : `draft ${env.tries}`) * 2 ** 31),
                ...((step.count ?? 1) > 1 ? { count: step.count } : {}),
                ...(step.as === 'answer' ? { answers: answeredBy(world, env) } : {}),
                ...(typeof before === 'string' ? { again: JSON.parse(before) as Again } : {}),
              },
              blocked: step.outlet === null ? { trouble: 'no-outlet', says: 'No text model is chosen.' } : undefined,
            },
          ],
        };
      },
      settled: (env, [slot]): Plan => {
        if (slot?.action === 'hold') {
          const words = slot.outcome?.result?.text;
          if (slot.status !== 'done') return { go: 'stop', cell: { kind: 'stops', why: 'a person said no' } };
          // Whoever has read it, and perhaps mended it, has said yes to it.
          const text = typeof words === 'string' ? words : slot.input.text;
          return { go: 'on', cell: null, values: { [step.name]: text, [YES]: true } };
        }
        const { text, others, faults = [] } = draftedBy(slot?.outcome);
        if (faults.length === 0) {
          const more = others ? { [`${step.name}.others`]: others } : {};
          return { go: 'on', cell: null, values: { [step.name]: text, ...more } };
        }
        if (env.tries === 0) {
          const again: Again = { text, because: faults };
          return {
            go: 'wait',
            until: env.now,
            why: 'to be drafted again',
            then: 'plan',
            values: { [unused]: JSON.stringify(again) },
          };
        }
        const says = `Drafted twice and not used: ${faults.join('; ')}.`;
        return {
          go: 'perform',
          effects: [{ action: 'hold', outlet: null, input: { text }, blocked: { trouble: 'draft', says } }],
        };
      },
      result: (outcome) => String(outcome.result?.text ?? ''),
      pretend: (_, { action, outlet, input }) =>
        (action === 'draft' && world.drafted?.get(draftKey(outlet, input))) || { text: '(drafted when it runs)' },
    };
  },

  problems: (step, world) => [
    ...outletProblems(step.id, step.outlet, 'draft', world),
    ...wordsProblems(step.id, 'The instruction', step.instruction, step.as !== 'answer'),
    ...wordsProblems(step.id, 'What it is about', step.about, false),
  ],

  makes: (step) => ({
    [step.name]: LONG_TEXT,
    ...((step.count ?? 1) > 1 ? { [`${step.name}.others`]: list(LONG_TEXT) } : {}),
  }),
} satisfies Verb<DraftStep>;

interface Again {
  text: string;
  because: string[];
}

/** What is answered. What a web hook or a table tells of is taken for a review where it has stars. */
function answeredBy(world: World, { watch, item }: Env): Answered {
  const kind = watch === undefined ? undefined : world.watches.get(watch)?.said;
  return answeredOf(kind ?? (item.fields.stars === undefined ? 'comment' : 'review'), item.fields);
}
