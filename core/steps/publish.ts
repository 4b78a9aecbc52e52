import { POST } from './made.ts';
import { LINK, list, MOMENT, TEXT } from '../shapes/shape.ts';
import { z } from 'zod';
import { wordsFor } from '../captions/worded.ts';
import { hasMedia, type PublishInput } from '../model/acts.ts';
import type { PlannedEffect } from '../model/effects.ts';
import type { Fields } from '../items/item.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { KIND_RULES, type KindRules } from '../outlets/kinds.ts';
import { titleRules, wordRules } from '../outlets/length.ts';
import { sayBy } from '../captions/say.ts';
import { writtenIn, type World } from '../model/world.ts';
import { localMoment } from '../text/local-moment.ts';
import { hasTimes, NO_TIMETABLE } from '../timetable/timetable.ts';
import { askForMoment, placer, publishWhenSchema, sayWhen, type PublishWhen } from './publish-when.ts';
import { stepBase } from './base.ts';
import { fittingShape, ladderOf, type Fitting } from './fitting.ts';
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
import type { Phrase, Plan, Prepared, StepBase, Verb } from './verb.ts';
import { NAME, readWords, textNamed, wordsProblems, type Words } from './words.ts';

export interface PublishStep extends StepBase, Fitting {
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
  /** When it goes; at once when left out. */
  when?: PublishWhen | undefined;
  /** The least time between two of the outlets, in seconds. */
  apart?: number | undefined;
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
    ...fittingShape,
    when: publishWhenSchema.optional(),
    apart: z
      .number()
      .int()
      .min(1)
      .max(7 * 86_400)
      .optional(),
    as: z.string().regex(NAME).optional(),
  }),

  sentence(step, world) {
    if (step.outlets.length === 0) return ['Publish nowhere yet'];
    return ['Publish to ', ...outletNames(step.outlets, world), ` ${sayWhen(step.when)}`];
  },

  prepare(step, world): Prepared {
    const { as } = step;
    const outlets = [...new Set(step.outlets)].map((id) => ({ id, outlet: world.outlets.get(id) }));
    const extras = readExtras(step, world);
    const ladder = ladderOf(step);
    // What was chosen for a post is not left out silently.
    const gone = (rules: KindRules): PlannedEffect['blocked'] =>
      extras?.media.some(({ type, file }) => file === null && rules.media.takes.includes(type))
        ? { trouble: 'empty', says: 'The file of this post is gone. Choose another.' }
        : undefined;
    const placed = placer(step, world);
    const plan: Prepared['plan'] = ({ fields }) => planAt(fields, null);
    /** @param given when it goes, as a person wrote it */
    const planAt = (fields: Fields, given: string | null): Plan => {
      const placings = placed(fields, given);
      if (!placings) return askForMoment(fields, step.when, given);
      const text = textNamed(fields, step.caption);
      const card = step.card === null ? null : fieldText(readField(fields, step.card)) || null;
      const title = extras?.title?.worded(fields);
      const media = extras && plannedMedia(extras.media, fields);
      const effects: PlannedEffect[] = [];
      for (const [index, { id, outlet }] of outlets.entries()) {
        const placing = placings(index, id);
        const words = wordsFor(fields, step.caption, text, id);
        if (!outlet) {
          const blocked = { trouble: 'no-outlet' as const, says: 'The outlet is gone.' };
          const input = { text: words.text, card };
          effects.push({ action: 'publish', outlet: id, input, length: words.text.length, blocked, placing });
          continue;
        }
        const rules = KIND_RULES[outlet.kind];
        const input: PublishInput = { text: '', card: rules.linkCard ? card : null };
        const kept = media?.length ? mediaFor(rules, media, card) : undefined;
        if (kept?.media.length) input.media = kept.media;
        const said = sayBy(
          wordRules(outlet.kind, 'post', Boolean(input.media)),
          words,
          ladder,
          world.locale,
          outlet.name,
        );
        input.text = said.text;
        if (said.markup !== undefined) input.markup = said.markup;
        const takenTitle = titleRules(outlet.kind);
        const heading = title?.text && takenTitle && sayBy(takenTitle, title, ladder, world.locale, outlet.name);
        if (heading) input.title = heading.text;
        for (const name of rules.options) {
          const value = step.options?.[name];
          if (value !== undefined) Object.assign(input, { [name]: value });
        }
        const trimmedTitle = (heading && heading.trimmed) || undefined;
        effects.push({
          action: 'publish',
          outlet: id,
          input,
          length: said.length,
          limit: said.limit,
          left: kept?.left || undefined,
          trimmed: said.trimmed || trimmedTitle ? { text: said.trimmed, title: trimmedTitle } : undefined,
          blocked:
            gone(rules) ??
            blockedBecause(outlet.name, rules, input, said.refused, heading ? heading.refused : undefined),
          placing,
        });
      }
      return { go: 'perform', effects };
    };
    const asksWhen = step.when?.type === 'field';
    if (as === undefined && !asksWhen) return { plan };
    return {
      plan,
      // Where it would be, nobody knows before it is there.
      pretend: () => ({ url: '(link of the post)' }),
      settled: ({ fields }, slots) => {
        const [first] = slots;
        if (first?.action === 'hold') {
          if (first.status !== 'done') return { go: 'stop', cell: { kind: 'stops', why: 'a person said no' } };
          return planAt(fields, fieldText(first.outcome?.result?.text));
        }
        if (as === undefined) return { go: 'on', cell: null };
        const done = slots.flatMap((slot) => (slot.status === 'done' && slot.outcome ? [slot.outcome] : []));
        const values: Fields = {
          [`${as}.url`]: done.map((outcome) => outcome.url ?? outcome.result?.url ?? '').find(Boolean) ?? '',
          [`${as}.id`]: done[0]?.remoteId ?? '',
          [`${as}.urls`]: done.flatMap((outcome) => outcome.url ?? []),
          // When the first of them went out.
          [`${as}.at`]: done.length ? new Date(Math.min(...done.map((outcome) => outcome.at))).toISOString() : '',
          // Where each one went, for a Revise that follows.
          [`${as}.posts`]: slots.flatMap(({ status, outcome, outlet, input }) =>
            status === 'done' && outcome && outlet !== null
              ? [{ outlet, id: outcome.remoteId, url: outcome.url, ...(hasMedia(input) ? { media: true } : {}) }]
              : [],
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
    if (step.when?.type === 'field' && step.when.field === '') problems.push(harm('Choose the field that says when.'));
    if (step.when?.type === 'moment' && localMoment(step.when.at, writtenIn(world)) === null)
      problems.push(harm('Say when it goes.'));
    if (step.when?.type === 'free' || step.when?.type === 'front')
      for (const id of step.outlets) {
        const outlet = world.outlets.get(id);
        if (outlet && !hasTimes(outlet.timetable ?? NO_TIMETABLE))
          problems.push({
            level: 'advice' as const,
            step: step.id,
            says: `${outlet.name} has no timetable: there it goes at once.`,
          });
      }
    if (step.title !== undefined) problems.push(...wordsProblems(step.id, 'The title', step.title, false));
    problems.push(...mediaProblems(step.id, step.media ?? [], step.outlets, world));
    return problems;
  },

  makes: ({ as }) =>
    as === undefined
      ? {}
      : {
          [`${as}.url`]: LINK,
          [`${as}.at`]: MOMENT,
          [`${as}.id`]: TEXT,
          [`${as}.urls`]: list(LINK),
          [`${as}.posts`]: list(POST),
        },
} satisfies Verb<PublishStep>;

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
  words: string | undefined,
  title: string | undefined,
): PlannedEffect['blocked'] {
  const empty = (says: string) => ({ trouble: 'empty' as const, says });
  // A picture speaks for itself where the kind lets it; everywhere else there are words.
  if (input.text.trim() === '' && !input.media?.length) return empty('The caption is empty.');
  if (words !== undefined) return { trouble: 'too-long', says: words, fault: 'words' };
  if (rules.media.needed && !input.media?.length)
    return empty(`${name} needs a ${rules.media.takes[0]}, and there is none.`);
  if (rules.title?.needed && !input.title)
    return { ...empty(`${name} needs a title, and it is empty.`), fault: 'title' };
  return title === undefined ? undefined : { trouble: 'too-long', says: `The title: ${title}`, fault: 'title' };
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
