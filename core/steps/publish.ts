import { z } from 'zod';
import { fitText } from '../captions/fit.ts';
import type { Media, PublishInput } from '../engine/acts.ts';
import type { PlannedEffect } from '../engine/effects.ts';
import type { Fields } from '../items/item.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { KIND_RULES, MEDIA_TYPES, type KindRules, type MediaType } from '../outlets/kinds.ts';
import { textLength, textLimit } from '../outlets/length.ts';
import { countGraphemes } from '../text/graphemes.ts';
import type { World } from '../workflow/world.ts';
import { stepBase } from './base.ts';
import type { Phrase, Prepared, StepBase, Verb } from './verb.ts';
import { NAME, readWords, textNamed, wordsProblems, type Words } from './words.ts';

export interface PublishStep extends StepBase {
  verb: 'publish';
  /** Outlets by number, in the order they are shown. */
  outlets: number[];
  /** The name of the composed text to send. */
  caption: string;
  /** The field whose link is shown as a card below the text; null for none. */
  card: string | null;
  /** A wording for the title, where a kind has one. */
  title?: string | undefined;
  /** Pictures and files, by the field with their address; the wording says what they show. */
  media?: { type: MediaType; from: string; alt: string }[] | undefined;
  /** How it is sent, where a kind knows it. */
  options?: PostOptions | undefined;
  /** Shorten the words where an outlet takes fewer, rather than hold the post. */
  fit?: boolean | undefined;
  /** What later steps call the post: `name.url`, `name.id`. */
  as?: string | undefined;
}
export type PostOptions = Pick<PublishInput, 'silent' | 'preview' | 'show' | 'colour' | 'mention'>;

const optionsSchema = z.object({
  silent: z.boolean().optional(),
  preview: z.boolean().optional(),
  show: z.enum(['text', 'card', 'both']).optional(),
  colour: z
    .string()
    .regex(/^#[0-9a-f]{6}$/i)
    .optional(),
  mention: z.string().max(100).optional(),
});

/** Publish: send a composed text to one or more outlets. */
export const publish = {
  verb: 'publish',
  title: 'Publish',
  sort: 'sending',
  schema: z.object({
    ...stepBase,
    verb: z.literal('publish'),
    outlets: z.array(z.number().int().positive()).max(50),
    caption: z.string().max(40),
    card: z.string().max(300).nullable(),
    title: z.string().max(2000).optional(),
    media: z
      .array(z.object({ type: z.enum(MEDIA_TYPES), from: z.string().max(300), alt: z.string().max(2000) }))
      .max(10)
      .optional(),
    options: optionsSchema.optional(),
    fit: z.boolean().optional(),
    as: z.string().regex(NAME).optional(),
  }),

  sentence(step, world) {
    if (step.outlets.length === 0) return ['Publish nowhere yet'];
    return ['Publish to ', ...outletNames(step.outlets, world), ' at once'];
  },

  prepare(step, world): Prepared {
    const { as } = step;
    const outlets = [...new Set(step.outlets)].map((id) => ({ id, outlet: world.outlets.get(id) }));
    const extras = readExtras(step, world.locale);
    const plan: Prepared['plan'] = ({ fields }) => {
      const text = textNamed(fields, step.caption);
      const card = step.card === null ? null : fieldText(readField(fields, step.card)) || null;
      const title = extras?.title?.format(fields);
      const media = extras?.media.flatMap(({ type, from, alt }): Media[] => {
        const url = fieldText(readField(fields, from));
        return url === '' ? [] : [{ type, url, alt: alt.format(fields) }];
      });
      const effects: PlannedEffect[] = [];
      for (const { id, outlet } of outlets) {
        if (!outlet) {
          const blocked = { trouble: 'no-outlet' as const, says: 'The outlet is gone.' };
          effects.push({ action: 'publish', outlet: id, input: { text, card }, length: text.length, blocked });
          continue;
        }
        const rules = KIND_RULES[outlet.kind];
        const input = extras ? inputFor(rules, { text, card, title, media, options: step.options }) : { text, card };
        const limit = textLimit(outlet.kind, Boolean(input.media?.length));
        let length = textLength(outlet.kind, text);
        if (step.fit && limit !== null && length > limit) {
          const room = { length: (each: string) => textLength(outlet.kind, each), limit };
          const fitted = fitText(text, room, world.locale);
          if (fitted.fits) {
            input.text = fitted.text;
            length = textLength(outlet.kind, fitted.text);
          }
        }
        const blocked = blockedBecause(outlet.name, rules, input, length, limit);
        effects.push({ action: 'publish', outlet: id, input, length, limit, blocked });
      }
      return { go: 'perform', effects };
    };
    if (as === undefined) return { plan };
    return {
      plan,
      // Where it would be, nobody knows before it is there.
      pretend: () => ({ url: '(link of the post)' }),
      settled: (_, slots) => {
        const done = slots.flatMap((slot) => (slot.status === 'done' && slot.outcome ? [slot.outcome] : []));
        const values: Fields = {
          [`${as}.url`]: done.map((outcome) => outcome.url ?? outcome.result?.url ?? '').find(Boolean) ?? '',
          [`${as}.id`]: done[0]?.remoteId ?? '',
          [`${as}.urls`]: done.flatMap((outcome) => outcome.url ?? []),
          // Where each one went, for a Revise that follows.
          [`${as}.posts`]: slots.flatMap(({ status, outcome, outlet }) =>
            status === 'done' && outcome && outlet !== null ? [{ outlet, id: outcome.remoteId, url: outcome.url }] : [],
          ),
        };
        return { go: 'on', cell: null, values };
      },
    };
  },

  problems(step, world, before) {
    const harm = (says: string) => ({ level: 'harm' as const, step: step.id, says });
    const problems = [];
    if (step.outlets.length === 0) problems.push(harm('Choose at least one outlet to publish to.'));
    if (!before.texts.has(step.caption)) problems.push(harm(`Nothing above composes a text called “${step.caption}”.`));
    for (const id of step.outlets) {
      const outlet = world.outlets.get(id);
      if (!outlet) problems.push(harm('An outlet of this step is gone. Choose another.'));
      else if (outlet.trouble) problems.push(harm(outlet.trouble));
      else problems.push(...missingParts(step, outlet.name, KIND_RULES[outlet.kind]).map(harm));
    }
    if (step.title !== undefined) problems.push(...wordsProblems(step.id, 'The title', step.title, false));
    for (const { alt } of step.media ?? [])
      problems.push(...wordsProblems(step.id, 'What the picture shows', alt, false));
    return problems;
  },

  makes: (step) => (step.as === undefined ? [] : ['url', 'id', 'urls', 'posts'].map((part) => `${step.as}.${part}`)),
} satisfies Verb<PublishStep>;

interface Extras {
  title: Words | undefined;
  media: { type: MediaType; from: string; alt: Words }[];
}

/** What a post has beside text and card, made ready; undefined when it has nothing, as most have. */
function readExtras(step: PublishStep, locale: string): Extras | undefined {
  if (!step.title && !step.media?.length && !step.options) return undefined;
  return {
    title: step.title ? readWords(step.title, locale) : undefined,
    media: (step.media ?? []).map(({ type, from, alt }) => ({ type, from, alt: readWords(alt, locale) })),
  };
}

/** What a kind knows of a post; the rest is left out. */
function inputFor(
  rules: KindRules,
  post: {
    text: string;
    card: string | null;
    title: string | undefined;
    media: readonly Media[] | undefined;
    options: PostOptions | undefined;
  },
): PublishInput {
  const input: PublishInput = { text: post.text, card: rules.linkCard ? post.card : null };
  if (rules.title && post.title) input.title = post.title;
  const media = post.media?.filter(({ type }) => rules.media.takes.includes(type)) ?? [];
  if (media.length) input.media = media;
  for (const name of rules.options) {
    const value = post.options?.[name];
    if (value !== undefined) Object.assign(input, { [name]: value });
  }
  return input;
}

/** What a step does not say at all that a kind needs. */
function missingParts(step: PublishStep, name: string, rules: KindRules): string[] {
  const missing: string[] = [];
  if (rules.media.needed && !step.media?.some(({ type }) => rules.media.takes.includes(type)))
    missing.push(`${name} needs a ${rules.media.takes[0]}. Choose the field it comes from.`);
  if (rules.title?.needed && !step.title) missing.push(`${name} needs a title.`);
  return missing;
}

function blockedBecause(
  name: string,
  rules: KindRules,
  input: PublishInput,
  length: number,
  limit: number | null,
): PlannedEffect['blocked'] {
  const empty = (says: string) => ({ trouble: 'empty' as const, says });
  // A picture speaks for itself where the kind lets it; everywhere else there are words.
  if (input.text.trim() === '' && !input.media?.length) return empty('The caption is empty.');
  if (limit !== null && length > limit)
    return { trouble: 'too-long', says: `${length} characters, ${length - limit} more than ${name} takes.` };
  if (rules.media.needed && !input.media?.length)
    return empty(`${name} needs a ${rules.media.takes[0]}, and there is none.`);
  if (rules.title?.needed && !input.title) return empty(`${name} needs a title, and it is empty.`);
  if (rules.title && input.title) {
    const title = countGraphemes(input.title);
    if (title > rules.title.limit)
      return { trouble: 'too-long', says: `The title has ${title} characters, ${title - rules.title.limit} too many.` };
  }
  return undefined;
}

/** "Tern Bay page", "Tern Bay page and Old Quay", "5 outlets". */
export function outletNames(ids: readonly number[], world: World): Phrase {
  if (ids.length === 0) return ['nowhere yet'];
  if (ids.length > 3) return [`${ids.length} outlets`];
  return ids.flatMap((id, index): Phrase => {
    const between = index === 0 ? '' : index === ids.length - 1 ? ' and ' : ', ';
    return [between, { name: world.outlets.get(id)?.name ?? 'an outlet that is gone', kind: 'outlet', id }];
  });
}
