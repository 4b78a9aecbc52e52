import { z } from 'zod';
import { wordsFor } from '../captions/worded.ts';
import { REVISIONS, type ActInput, type Revision } from '../model/acts.ts';
import type { PlannedEffect } from '../model/effects.ts';
import { readField } from '../items/read-field.ts';
import { wordRules } from '../outlets/length.ts';
import { sayBy } from '../captions/say.ts';
import { stepBase } from './base.ts';
import { fittingShape, ladderOf, type Fitting } from './fitting.ts';
import type { PublishStep } from './publish.ts';
import type { Prepared, StepBase, Verb } from './verb.ts';
import { textNamed } from './words.ts';

export interface ReviseStep extends StepBase, Fitting {
  verb: 'revise';
  change: Revision;
  /** What an earlier Publish or Find calls the post. */
  of: string;
  /** The name of the composed text an edit puts in its place. */
  caption: string | null;
  /** The outlet that a forwarded post goes to. */
  to?: number | null | undefined;
}

const SAYS: Record<Revision, string> = {
  edit: 'Edit',
  delete: 'Delete',
  pin: 'Pin',
  unpin: 'Unpin',
  forward: 'Forward',
};

const CHANGED: Record<Revision, string> = {
  edit: 'edited',
  delete: 'deleted',
  pin: 'pinned',
  unpin: 'unpinned',
  forward: 'forwarded',
};

const isPublish = (step: StepBase & { verb: string }): step is PublishStep => step.verb === 'publish';

/** Revise: change something already published. */
export const revise = {
  verb: 'revise',
  title: 'Revise',
  sort: 'sending',
  schema: z.object({
    ...stepBase,
    ...fittingShape,
    verb: z.literal('revise'),
    change: z.enum(REVISIONS),
    of: z.string().max(40),
    caption: z.string().max(40).nullable(),
    to: z.number().int().positive().nullable().optional(),
  }),

  sentence: (step) => [
    `Revise: ${SAYS[step.change].toLowerCase()} ${step.of || '…'}${step.change === 'edit' ? ` to ${step.caption ?? '…'}` : ''}`,
  ],

  prepare(step, world): Prepared {
    const ladder = ladderOf(step);
    return {
      plan: ({ fields }) => {
        const posts = readField(fields, `${step.of}.posts`);
        const effects: PlannedEffect[] = [];
        const text = step.change === 'edit' ? textNamed(fields, step.caption ?? '').trim() : null;
        for (const post of Array.isArray(posts) ? posts : []) {
          if (post === null || typeof post !== 'object' || Array.isArray(post)) continue;
          if (typeof post.outlet !== 'number') continue;
          const to = step.change === 'forward' && step.to ? { to: step.to } : {};
          const input: ActInput<'revise'> = { post: String(post.id ?? ''), change: step.change, text, ...to };
          const effect: PlannedEffect = { action: 'revise', outlet: post.outlet, input };
          effects.push(effect);
          if (step.change === 'forward' && !step.to)
            effect.blocked = { trouble: 'no-outlet', says: 'Nobody has said where it is forwarded to.' };
          if (text === null) continue;
          // New words go by the rules of what they stand in.
          const outlet = world.outlets.get(post.outlet);
          const rules = wordRules(outlet?.kind ?? 'address', 'post', post.media === true);
          const words = wordsFor(fields, step.caption ?? '', text, post.outlet);
          const said = sayBy(rules, words, ladder, world.locale, outlet?.name ?? 'the outlet');
          input.text = said.text;
          if (said.markup !== undefined) input.markup = said.markup;
          Object.assign(effect, {
            length: said.length,
            limit: said.limit,
            trimmed: said.trimmed && { text: said.trimmed },
            blocked:
              said.text === ''
                ? { trouble: 'empty', says: 'There are no words.' }
                : said.refused && { trouble: 'too-long', says: said.refused },
          });
        }
        if (effects.length === 0)
          return { go: 'on', cell: { kind: 'passes', why: `there is no ${step.of} to ${step.change}` } };
        return { go: 'perform', effects };
      },
    };
  },

  problems(step, world, before) {
    const harm = (says: string) => ({ level: 'harm' as const, step: step.id, says });
    const problems = [];
    const source = [...before.steps.values()].find((each) => 'as' in each && each.as === step.of);
    if (!source) problems.push(harm('Choose the earlier post that is meant.'));
    if (source && isPublish(source)) {
      for (const id of source.outlets) {
        const outlet = world.outlets.get(id);
        // Of outlets of before it was known, only whether they offer any.
        const offered = outlet?.revisions ?? (outlet?.acts?.includes('revise') === false ? [] : null);
        if (offered && !offered.includes(step.change))
          problems.push(harm(`${outlet!.name} does not let posts be ${CHANGED[step.change]}.`));
      }
    }
    if (step.change === 'forward' && !step.to) problems.push(harm('Choose where it is forwarded to.'));
    if (step.change === 'edit' && !before.texts.has(step.caption ?? ''))
      problems.push(harm(`Nothing above composes a text called “${step.caption ?? ''}”.`));
    return problems;
  },
} satisfies Verb<ReviseStep>;
