import { z } from 'zod';
import type { PlannedEffect } from '../engine/effects.ts';
import type { Fields } from '../items/item.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { KIND_RULES, textLength } from '../outlets/kinds.ts';
import type { World } from '../workflow/world.ts';
import { stepBase } from './base.ts';
import type { Phrase, Prepared, StepBase, Verb } from './verb.ts';
import { NAME, textNamed } from './words.ts';

export interface PublishStep extends StepBase {
  verb: 'publish';
  /** Outlets by number, in the order they are shown. */
  outlets: number[];
  /** The name of the composed text to send. */
  caption: string;
  /** The field whose link is shown as a card below the text; null for none. */
  card: string | null;
  /** What later steps call the post: `name.url`, `name.id`. */
  as?: string | undefined;
}

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
    as: z.string().regex(NAME).optional(),
  }),

  sentence(step, world) {
    if (step.outlets.length === 0) return ['Publish nowhere yet'];
    return ['Publish to ', ...outletNames(step.outlets, world), ' at once'];
  },

  prepare(step, world): Prepared {
    const { as } = step;
    const outlets = [...new Set(step.outlets)].map((id) => {
      const outlet = world.outlets.get(id);
      return { id, outlet, limit: outlet ? KIND_RULES[outlet.kind].text.limit : null };
    });
    const plan: Prepared['plan'] = ({ fields }) => {
      const text = textNamed(fields, step.caption);
      const card = step.card === null ? null : fieldText(readField(fields, step.card)) || null;
      const effects: PlannedEffect[] = [];
      for (const { id, outlet, limit } of outlets) {
        const length = outlet ? textLength(outlet.kind, text) : text.length;
        const blocked = blockedBecause(outlet && { limit, name: outlet.name }, text, length);
        effects.push({ action: 'publish', outlet: id, input: { text, card }, length, limit, blocked });
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
    if (step.outlets.length === 0) problems.push(harm('Choose at least one page to publish to.'));
    if (!before.texts.has(step.caption)) problems.push(harm(`Nothing above composes a text called “${step.caption}”.`));
    for (const id of step.outlets) {
      const outlet = world.outlets.get(id);
      if (!outlet) problems.push(harm('An outlet of this step is gone. Choose another.'));
      else if (outlet.trouble) problems.push(harm(outlet.trouble));
    }
    return problems;
  },

  makes: (step) => (step.as === undefined ? [] : ['url', 'id', 'urls', 'posts'].map((part) => `${step.as}.${part}`)),
} satisfies Verb<PublishStep>;

function blockedBecause(
  outlet: { limit: number | null; name: string } | undefined,
  text: string,
  length: number,
): PlannedEffect['blocked'] {
  if (!outlet) return { trouble: 'no-outlet', says: 'The outlet is gone.' };
  if (text.trim() === '') return { trouble: 'empty', says: 'The caption is empty.' };
  if (outlet.limit !== null && length > outlet.limit) {
    return {
      trouble: 'too-long',
      says: `${length} characters, ${length - outlet.limit} more than ${outlet.name} takes.`,
    };
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
