import { z } from 'zod';
import { sayBy } from '../captions/say.ts';
import { readField } from '../items/read-field.ts';
import { wordRules } from '../outlets/length.ts';
import { stepBase } from './base.ts';
import type { Prepared, StepBase, Verb } from './verb.ts';
import { writtenAnswerSchema } from './written-answer.ts';

/** Sends what somebody has answered by hand: each item brings its words, and what they are an answer to. */
export interface AnswerStep extends StepBase {
  verb: 'answer';
  /** The field with the answer. */
  from: string;
}

/** Answer: send answers that were written at the desk. It is in the workflow that Playa keeps for them, and in no other. */
export const answer = {
  verb: 'answer',
  title: 'Answer',
  sort: 'sending',
  offered: false,
  schema: z.object({ ...stepBase, verb: z.literal('answer'), from: z.string().min(1).max(300) }),

  sentence: () => ['Answer with what was written at the desk'],

  prepare(step, world): Prepared {
    return {
      plan: ({ fields }) => {
        const read = writtenAnswerSchema.safeParse(readField(fields, step.from));
        if (!read.success) return { go: 'stop', cell: { kind: 'stops', why: 'the answer cannot be read' } };
        const { act, outlet, to, text, was } = read.data;
        const known = world.outlets.get(outlet);
        const rules = wordRules(known?.kind ?? 'address', act === 'reply' ? 'answer' : 'message');
        // What somebody wrote is sent as it is, or not at all: nothing gives way.
        const said = sayBy(rules, { text }, null, world.locale, known?.name ?? 'the outlet');
        const blocked = said.refused === undefined ? undefined : { trouble: 'too-long' as const, says: said.refused };
        const planned = { outlet, length: said.length, limit: said.limit, blocked };
        if (act === 'message')
          return { go: 'perform', effects: [{ action: 'message', input: { to, text }, ...planned }] };
        // A person has seen what was there: only what came since is news to them.
        const input = { to, text, was, over: [] };
        return { go: 'perform', effects: [{ action: 'reply', input, ...planned }] };
      },
    };
  },

  problems: () => [],
} satisfies Verb<AnswerStep>;
