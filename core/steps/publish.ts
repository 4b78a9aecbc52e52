import { z } from 'zod';
import { DEFAULT_LADDER, fitPieces, fitText, RUNGS, type Ladder, type Room } from '../captions/fit.ts';
import { isFormatted, tidyPieces } from '../captions/pieces.ts';
import { wordsFor, type Worded } from '../captions/worded.ts';
import type { PublishInput } from '../engine/acts.ts';
import type { PlannedEffect } from '../engine/effects.ts';
import type { Fields } from '../items/item.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { KIND_RULES, type KindRules, type OutletKind } from '../outlets/kinds.ts';
import { textLimit } from '../outlets/length.ts';
import { lengthFor, textFor, writtenFor, type Written } from '../outlets/write.ts';
import { countGraphemes } from '../text/graphemes.ts';
import type { World } from '../workflow/world.ts';
import { stepBase } from './base.ts';
import {
  hasMediaFor,
  mediaFor,
  mediaProblems,
  plannedMedia,
  postMediaSchema,
  readMedia,
  type PostMedia,
  type ReadyMedia,
} from './post-media.ts';
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
  media?: PostMedia[] | undefined;
  /** How it is sent, where a kind knows it. */
  options?: PostOptions | undefined;
  /** Shorten the words where an outlet takes fewer, rather than hold the post. */
  fit?: boolean | undefined;
  /** What gives way then, and in which order; the usual ladder without. */
  ladder?: Ladder | undefined;
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
    media: z.array(postMediaSchema).max(10).optional(),
    options: optionsSchema.optional(),
    fit: z.boolean().optional(),
    ladder: z
      .object({ order: z.array(z.enum(RUNGS)).max(RUNGS.length), cutAt: z.enum(['either', 'sentence', 'word']) })
      .refine(({ order }) => new Set(order).size === order.length, 'Each rung stands once.')
      .optional(),
    as: z.string().regex(NAME).optional(),
  }),

  sentence(step, world) {
    if (step.outlets.length === 0) return ['Publish nowhere yet'];
    return ['Publish to ', ...outletNames(step.outlets, world), ' at once'];
  },

  prepare(step, world): Prepared {
    const { as } = step;
    const outlets = [...new Set(step.outlets)].map((id) => ({ id, outlet: world.outlets.get(id) }));
    const extras = readExtras(step, world);
    const ladder = step.ladder ?? DEFAULT_LADDER;
    const fitted = (kind: OutletKind, { text, pieces }: Worded, limit: number): Written | undefined => {
      if (pieces) {
        const room: Room = { length: (each) => lengthFor(kind, each), limit };
        const made = fitPieces(pieces, room, world.locale, ladder);
        return made.fits ? writtenFor(kind, made.pieces) : undefined;
      }
      const made = fitText(text, { length: (each) => textFor(kind, each).length, limit }, world.locale);
      return made.fits ? textFor(kind, made.text) : undefined;
    };
    // What was chosen for a post is not left out silently.
    const gone = (rules: KindRules): PlannedEffect['blocked'] =>
      extras?.media.some(({ type, file }) => file === null && rules.media.takes.includes(type))
        ? { trouble: 'empty', says: 'The file of this post is gone. Choose another.' }
        : undefined;
    const plan: Prepared['plan'] = ({ fields }) => {
      const text = textNamed(fields, step.caption);
      const card = step.card === null ? null : fieldText(readField(fields, step.card)) || null;
      const title = extras?.title?.format(fields);
      const media = extras && plannedMedia(extras.media, fields);
      const effects: PlannedEffect[] = [];
      for (const { id, outlet } of outlets) {
        const words = wordsFor(fields, step.caption, text, id);
        if (!outlet) {
          const blocked = { trouble: 'no-outlet' as const, says: 'The outlet is gone.' };
          const input = { text: words.text, card };
          effects.push({ action: 'publish', outlet: id, input, length: words.text.length, blocked });
          continue;
        }
        const rules = KIND_RULES[outlet.kind];
        const post = { text: words.text, card, title, options: step.options };
        const input = extras ? inputFor(rules, post) : { text: words.text, card: rules.linkCard ? card : null };
        const kept = media?.length ? mediaFor(rules, media) : undefined;
        if (kept?.media.length) input.media = kept.media;
        const limit = textLimit(outlet.kind, Boolean(input.media?.length));
        let written = write(outlet.kind, words);
        if (step.fit && limit !== null && written.length > limit)
          written = fitted(outlet.kind, words, limit) ?? written;
        input.text = written.text;
        if (written.markup !== undefined) input.markup = written.markup;
        const { length } = written;
        const blocked = gone(rules) ?? blockedBecause(outlet.name, rules, input, length, limit);
        effects.push({ action: 'publish', outlet: id, input, length, limit, blocked, left: kept?.left || undefined });
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
      else problems.push(...missingParts(step, outlet.name, KIND_RULES[outlet.kind], world).map(harm));
    }
    if (step.title !== undefined) problems.push(...wordsProblems(step.id, 'The title', step.title, false));
    problems.push(...mediaProblems(step.id, step.media ?? [], step.outlets, world));
    return problems;
  },

  makes: (step) => (step.as === undefined ? [] : ['url', 'id', 'urls', 'posts'].map((part) => `${step.as}.${part}`)),
} satisfies Verb<PublishStep>;

/** The words as a kind takes them. Only where there is formatting do the parts say more than the text. */
function write(kind: OutletKind, { text, pieces }: Worded): Written {
  return pieces && isFormatted(pieces) ? writtenFor(kind, tidyPieces(pieces)) : textFor(kind, text);
}

interface Extras {
  title: Words | undefined;
  media: ReadyMedia[];
}

/** What a post has beside text and card, made ready; undefined when it has nothing, as most have. */
function readExtras(step: PublishStep, world: World): Extras | undefined {
  if (!step.title && !step.media?.length && !step.options) return undefined;
  return {
    title: step.title ? readWords(step.title, world.locale, world.timeZone) : undefined,
    media: readMedia(step.media ?? [], world),
  };
}

/** What a kind knows of a post; the rest is left out. */
function inputFor(
  rules: KindRules,
  post: {
    text: string;
    card: string | null;
    title: string | undefined;
    options: PostOptions | undefined;
  },
): PublishInput {
  const input: PublishInput = { text: post.text, card: rules.linkCard ? post.card : null };
  if (rules.title && post.title) input.title = post.title;
  for (const name of rules.options) {
    const value = post.options?.[name];
    if (value !== undefined) Object.assign(input, { [name]: value });
  }
  return input;
}

/** What a step does not say at all that a kind needs. */
function missingParts(step: PublishStep, name: string, rules: KindRules, world: World): string[] {
  const missing: string[] = [];
  if (rules.media.needed && !hasMediaFor(rules, step.media ?? [], world))
    missing.push(`${name} needs a ${rules.media.takes[0]}. Choose the field it comes from, or a file.`);
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
