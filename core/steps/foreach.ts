import { z } from 'zod';
import { PathError, readPath } from '../items/json-path.ts';
import type { FieldValue } from '../items/item.ts';
import { fieldLabel } from '../items/field-label.ts';
import { fieldText } from '../items/read-field.ts';
import { cutUnits } from '../text/graphemes.ts';
import { stepBase } from './base.ts';
import { stepSchema } from './registry.ts';
import type { ForEachStep } from './step.ts';
import type { Verb } from './verb.ts';
import { NAME } from './words.ts';

/** More elements than this are never taken from one list. */
export const MOST_ELEMENTS = 500;

/** For each: the steps inside for every element of a list. */
export const forEach = {
  verb: 'foreach',
  title: 'For each',
  sort: 'thinking',
  schema: z.object({
    ...stepBase,
    verb: z.literal('foreach'),
    list: z.string().max(300),
    as: z.string().regex(NAME),
    most: z.number().int().min(1).max(MOST_ELEMENTS).nullable(),
    together: z.boolean(),
    steps: z.array(stepSchema).max(50),
  }),

  sentence(step) {
    const list = step.list.startsWith('$') ? step.list : fieldLabel(step.list).toLowerCase();
    return [`For each ${step.as} of ${list || 'no list yet'}${step.most ? `, at most ${step.most}` : ''}`];
  },

  prepare(step) {
    let path;
    try {
      path = readPath(step.list);
    } catch (error) {
      const why = error instanceof PathError ? error.message : String(error);
      return { plan: () => ({ go: 'stop', cell: { kind: 'stops', why } }) };
    }
    const most = Math.min(step.most ?? MOST_ELEMENTS, MOST_ELEMENTS);
    return {
      plan: ({ fields }) => {
        const found = path.read(fields);
        const elements = found.slice(0, most);
        const dropped = found.length - elements.length;
        return {
          go: 'each',
          elements,
          as: step.as,
          together: step.together,
          labels: elements.map(labelOf),
          why: dropped > 0 ? `${dropped} more left out` : '',
        };
      },
    };
  },

  problems(step) {
    const harm = (says: string) => [{ level: 'harm' as const, step: step.id, says }];
    if (step.list === '') return harm('Choose the list whose elements are meant.');
    try {
      readPath(step.list);
    } catch (error) {
      return harm((error as Error).message);
    }
    return step.steps.length === 0
      ? [{ level: 'advice', step: step.id, says: 'There are no steps inside this For each yet.' }]
      : [];
  },

  branches: (step) => [{ id: 'each', label: `Each ${step.as}`, steps: step.steps }],
} satisfies Verb<ForEachStep>;

/** What an element is called in a cell: its title or name, or itself. */
function labelOf(element: FieldValue, index: number): string {
  const named =
    element !== null && typeof element === 'object' && !Array.isArray(element)
      ? (['title', 'name', 'id'].map((key) => fieldText(element[key])).find(Boolean) ?? '')
      : fieldText(element);
  return cutUnits(named, 80) || `${index + 1}`;
}
