import { z } from 'zod';
import { CaptionError, readCaption, type Caption } from '../captions/caption.ts';
import type { Fields } from '../items/item.ts';
import { countGraphemes } from '../text/graphemes.ts';
import { stepBase } from './base.ts';
import type { Plan, Prepared, StepBase, Verb } from './verb.ts';

export interface ComposeStep extends StepBase {
  verb: 'compose';
  /** What later steps call the text. */
  name: string;
  /** A MessageFormat 2 message. */
  text: string;
  /** Other wordings; with them each item gets one by chance, never the one before's. */
  others?: string[] | undefined;
}

/** Compose: word a caption from the item's fields. */
export const compose = {
  verb: 'compose',
  title: 'Compose',
  sort: 'thinking',
  schema: z.object({
    ...stepBase,
    verb: z.literal('compose'),
    name: z
      .string()
      .regex(/^\p{L}[\p{L}\p{N} _-]{0,39}$/u, 'A name starts with a letter and has at most 40 characters.'),
    text: z.string().max(20_000),
    others: z.array(z.string().max(20_000)).max(30).optional(),
  }),

  sentence(step) {
    const count = (step.others?.length ?? 0) + 1;
    return ['Compose ', step.name, ...(count > 1 ? [`, ${count} wordings in turn`] : [])];
  },

  prepare(step, world): Prepared {
    const wordings = [step.text, ...(step.others ?? [])].map((text) => prepareText(step.name, text, world.locale));
    if (wordings.length === 1) {
      const only = wordings[0]!;
      return { plan: ({ fields }) => only(fields) };
    }
    return {
      plan: (env) => ({
        go: 'ask',
        ask: { of: 'turn', place: step.id, choices: wordings.length, chance: env.chance('wording') },
        cell: null,
      }),
      answered: ({ fields }, answer) => {
        const choice = answer.of === 'turn' && answer.choice < wordings.length ? answer.choice : 0;
        const plan = wordings[choice]!(fields);
        if (plan.go === 'on' && plan.cell?.kind === 'text') plan.cell.variant = [choice + 1, wordings.length];
        return plan;
      },
    };
  },

  problems(step) {
    return [step.text, ...(step.others ?? [])].flatMap((text, index) => {
      const what = index === 0 ? `The ${step.name}` : `Wording ${index + 1} of the ${step.name}`;
      if (text.trim() === '') return [{ level: 'harm', step: step.id, says: `${what} has no words yet.` }];
      try {
        readCaption(text);
        return [];
      } catch (error) {
        return [{ level: 'harm', step: step.id, says: `${what} cannot be used: ${(error as Error).message}` }];
      }
    });
  },

  makes: (step) => [step.name],
} satisfies Verb<ComposeStep>;

function prepareText(name: string, source: string, locale: string): (fields: Fields) => Plan {
  let caption: Caption;
  try {
    caption = readCaption(source, locale);
  } catch (error) {
    const wrong = error instanceof CaptionError ? error.message : String(error);
    return () => ({
      go: 'on',
      cell: { kind: 'text', name, text: '', length: 0, empty: [], wrong },
      values: { [name]: '' },
    });
  }
  return (fields) => {
    const text = caption.format(fields).trim();
    return {
      go: 'on',
      cell: { kind: 'text', name, text, length: countGraphemes(text), empty: caption.emptyIn(fields) },
      values: { [name]: text },
    };
  };
}
