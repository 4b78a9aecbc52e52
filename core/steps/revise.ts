import { z } from 'zod';
import { REVISIONS, type Revision } from '../engine/acts.ts';
import type { PlannedEffect } from '../engine/effects.ts';
import { readField } from '../items/read-field.ts';
import { stepBase } from './base.ts';
import type { Prepared, StepBase, Verb } from './verb.ts';
import { textNamed } from './words.ts';

export interface ReviseStep extends StepBase {
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

/** Revise: change something already published. */
export const revise = {
  verb: 'revise',
  title: 'Revise',
  sort: 'sending',
  schema: z.object({
    ...stepBase,
    verb: z.literal('revise'),
    change: z.enum(REVISIONS),
    of: z.string().max(40),
    caption: z.string().max(40).nullable(),
    to: z.number().int().positive().nullable().optional(),
  }),

  sentence: (step) => [
    `Revise: ${SAYS[step.change].toLowerCase()} ${step.of || '…'}${step.change === 'edit' ? ` to ${step.caption ?? '…'}` : ''}`,
  ],

  prepare(step): Prepared {
    return {
      plan: ({ fields }) => {
        const posts = readField(fields, `${step.of}.posts`);
        const effects: PlannedEffect[] = [];
        const text = step.change === 'edit' ? textNamed(fields, step.caption ?? '').trim() : null;
        for (const post of Array.isArray(posts) ? posts : []) {
          if (post === null || typeof post !== 'object' || Array.isArray(post)) continue;
          if (typeof post.outlet !== 'number') continue;
          const to = step.change === 'forward' && step.to ? { to: step.to } : {};
          const input = { post: String(post.id ?? ''), change: step.change, text, ...to };
          const blocked =
            text === ''
              ? { trouble: 'empty' as const, says: 'There are no words.' }
              : step.change === 'forward' && !step.to
                ? { trouble: 'no-outlet' as const, says: 'Nobody has said where it is forwarded to.' }
                : undefined;
          effects.push({ action: 'revise', outlet: post.outlet, input, blocked });
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
    if (source?.verb === 'publish') {
      for (const id of source.outlets) {
        const outlet = world.outlets.get(id);
        if (outlet?.acts && !outlet.acts.includes('revise')) problems.push(harm(`${outlet.name} does not offer this.`));
      }
    }
    if (step.change === 'forward' && !step.to) problems.push(harm('Choose where it is forwarded to.'));
    if (step.change === 'edit' && !before.texts.has(step.caption ?? ''))
      problems.push(harm(`Nothing above composes a text called “${step.caption ?? ''}”.`));
    return problems;
  },
} satisfies Verb<ReviseStep>;
