import { z } from 'zod';
import { fieldLabel } from '../items/field-label.ts';
import { networkOf } from '../items/person.ts';
import { stepBase } from './base.ts';
import type { Prepared, StepBase, Verb } from './verb.ts';
import { textNamed } from './words.ts';

export interface LabelStep extends StepBase {
  verb: 'label';
  /** The field that tells people apart. */
  person: string;
  /** The field with their name. */
  name: string;
  add: string[];
  remove: string[];
}

const label = z.string().trim().min(1).max(60);

/** Label: mark the person, or take a mark away. */
export const labelStep = {
  verb: 'label',
  title: 'Label',
  sort: 'keeping',
  schema: z.object({
    ...stepBase,
    verb: z.literal('label'),
    person: z.string().max(300),
    name: z.string().max(300),
    add: z.array(label).max(20),
    remove: z.array(label).max(20),
  }),

  sentence(step) {
    const said = [...step.add.map((each) => `“${each}”`), ...step.remove.map((each) => `not “${each}”`)];
    return [`Label the ${step.person ? fieldLabel(step.person).toLowerCase() : 'person'} ${said.join(', ') || '…'}`];
  },

  prepare(step): Prepared {
    return {
      plan: ({ fields }) => {
        const person = textNamed(fields, step.person);
        if (person === '')
          return { go: 'on', cell: { kind: 'passes', why: `${fieldLabel(step.person)} is empty: nobody to label` } };
        const network = networkOf(fields, step.person) || undefined;
        const name = textNamed(fields, step.name) || person;
        const input = { person, network, name, add: step.add, remove: step.remove };
        return { go: 'perform', effects: [{ action: 'label', outlet: null, input }] };
      },
    };
  },

  problems(step) {
    const harm = (says: string) => [{ level: 'harm' as const, step: step.id, says }];
    if (step.person === '') return harm('Choose the field that says who it is.');
    return step.add.length + step.remove.length === 0 ? harm('Say which label.') : [];
  },
} satisfies Verb<LabelStep>;
