import { z } from 'zod';
import { CaptionError, readCaption, type Caption } from '../captions/caption.ts';
import { countGraphemes } from '../text/graphemes.ts';
import { stepBase } from './base.ts';
import type { StepBase, Verb } from './verb.ts';

export interface ComposeStep extends StepBase {
  verb: 'compose';
  /** What later steps call the text. */
  name: string;
  /** A MessageFormat 2 message. */
  text: string;
}

/** Compose: word a caption from the item's fields. */
export const compose = {
  verb: 'compose',
  sort: 'thinking',
  schema: z.object({
    ...stepBase,
    verb: z.literal('compose'),
    name: z
      .string()
      .regex(/^\p{L}[\p{L}\p{N} _-]{0,39}$/u, 'A name starts with a letter and has at most 40 characters.'),
    text: z.string().max(20_000),
  }),

  sentence(step) {
    return ['Compose ', step.name];
  },

  prepare(step, world) {
    let caption: Caption;
    try {
      caption = readCaption(step.text, world.locale);
    } catch (error) {
      const wrong = error instanceof CaptionError ? error.message : String(error);
      return () => ({
        go: 'on',
        cell: { kind: 'text', name: step.name, text: '', length: 0, empty: [], wrong },
        texts: { [step.name]: '' },
      });
    }
    return ({ item }) => {
      const text = caption.format(item.fields).trim();
      return {
        go: 'on',
        cell: {
          kind: 'text',
          name: step.name,
          text,
          length: countGraphemes(text),
          empty: caption.emptyIn(item.fields),
        },
        texts: { [step.name]: text },
      };
    };
  },

  problems(step) {
    if (step.text.trim() === '') return [{ level: 'harm', step: step.id, says: `The ${step.name} has no words yet.` }];
    try {
      readCaption(step.text);
      return [];
    } catch (error) {
      return [{ level: 'harm', step: step.id, says: `The ${step.name} cannot be used: ${(error as Error).message}` }];
    }
  },
} satisfies Verb<ComposeStep>;
