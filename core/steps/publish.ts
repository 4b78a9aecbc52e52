import { z } from 'zod';
import type { PlannedEffect } from '../engine/effects.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { KIND_RULES, textLength } from '../outlets/kinds.ts';
import type { World } from '../workflow/world.ts';
import { stepBase } from './base.ts';
import type { Phrase, StepBase, Verb } from './verb.ts';

export interface PublishStep extends StepBase {
  verb: 'publish';
  /** Outlets by number, in the order they are shown. */
  outlets: number[];
  /** The name of the composed text to send. */
  caption: string;
  /** The field whose link is shown as a card below the text; null for none. */
  card: string | null;
}

/** Publish: send a composed text to one or more outlets. */
export const publish = {
  verb: 'publish',
  sort: 'sending',
  schema: z.object({
    ...stepBase,
    verb: z.literal('publish'),
    outlets: z.array(z.number().int().positive()).max(50),
    caption: z.string().max(40),
    card: z.string().max(300).nullable(),
  }),

  sentence(step, world) {
    if (step.outlets.length === 0) return ['Publish nowhere yet'];
    return ['Publish to ', ...outletNames(step.outlets, world), ' at once'];
  },

  prepare(step, world) {
    const outlets = [...new Set(step.outlets)].map((id) => {
      const outlet = world.outlets.get(id);
      return { id, outlet, limit: outlet ? KIND_RULES[outlet.kind].text.limit : null };
    });
    return ({ item, texts }) => {
      const text = texts[step.caption] ?? '';
      const card = step.card === null ? null : fieldText(readField(item.fields, step.card)) || null;
      const effects: PlannedEffect[] = [];
      for (const { id, outlet, limit } of outlets) {
        const length = outlet ? textLength(outlet.kind, text) : text.length;
        const blocked = blockedBecause(outlet && { limit, name: outlet.name }, text, length);
        effects.push({ action: 'publish', outlet: id, input: { text, card }, length, limit, blocked });
      }
      return { go: 'perform', effects };
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
