import { z } from 'zod';
import { corrected } from '../captions/worded.ts';
import { stepBase } from './base.ts';
import type { Prepared, StepBase, Verb } from './verb.ts';
import { readWords, textNamed, wordsProblems } from './words.ts';

/** Under this name later steps find that a person has said yes. No field of an item can have it. */
export const YES = ' yes';
const SAID_YES = { [YES]: true };

export interface HoldStep extends StepBase {
  verb: 'hold';
  /** What the person is asked, a wording. */
  question: string;
  /** The composed text that is shown and may be changed; null when only yes or no is wanted. */
  text: string | null;
}

/** Hold: wait for a person's yes. A no ends it. */
export const hold = {
  verb: 'hold',
  title: 'Hold',
  sort: 'thinking',
  schema: z.object({
    ...stepBase,
    verb: z.literal('hold'),
    question: z.string().max(1000),
    text: z.string().max(40).nullable(),
  }),

  sentence: (step) => [step.text ? `Hold ${step.text} for a yes` : 'Hold for a yes'],

  prepare(step, world): Prepared {
    const question = readWords(step.question, world.locale);
    const { text } = step;
    return {
      plan: ({ fields }) => ({
        go: 'perform',
        effects: [
          {
            action: 'hold',
            outlet: null,
            input: { text: text === null ? null : textNamed(fields, text) },
            blocked: { trouble: 'asks', says: question.format(fields) || 'May this go on?' },
          },
        ],
      }),
      settled: ({ fields }, [slot]) => {
        if (slot?.status !== 'done') return { go: 'stop', cell: { kind: 'stops', why: 'a person said no' } };
        const words = slot.outcome?.result?.text;
        const before = slot.action === 'hold' ? slot.input.text : null;
        // A yes to the words as they are leaves them as they are, with all their parts.
        if (text === null || before === null || typeof words !== 'string' || words === before)
          return { go: 'on', cell: null, values: SAID_YES };
        return { go: 'on', cell: null, values: { ...corrected(fields, text, before, words), ...SAID_YES } };
      },
    };
  },

  problems(step, _world, before) {
    const problems = wordsProblems(step.id, 'The question', step.question, false);
    if (step.text !== null && !before.texts.has(step.text))
      problems.push({ level: 'harm', step: step.id, says: `Nothing above composes a text called “${step.text}”.` });
    return problems;
  },
} satisfies Verb<HoldStep>;
