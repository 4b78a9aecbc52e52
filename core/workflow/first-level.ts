// Comments on a post alone, or also what people answer to one another below them: a check of the source's own.
import type { Group } from '../conditions/condition.ts';

const FIRST_LEVEL = { type: 'test', field: 'level', op: 'below', value: 2 } as const;
const isFirstLevel = (item: Group['items'][number]): boolean =>
  item.type === 'test' && item.field === FIRST_LEVEL.field && item.op === FIRST_LEVEL.op && item.value === 2;

/** Whether a source's check takes only what stands directly below a post. */
export const takesFirstLevel = (condition: Group | undefined): boolean =>
  condition?.match === 'all' && condition.items.some(isFirstLevel);

/** The same check with it, or without. Undefined when nothing is left to check. */
export function withFirstLevel(condition: Group | undefined, only: boolean): Group | undefined {
  const rest = (condition?.match === 'all' ? condition.items : condition ? [condition] : []).filter(
    (item) => !isFirstLevel(item),
  );
  const items = only ? [FIRST_LEVEL, ...rest] : rest;
  if (items.length === 0) return undefined;
  // A check in which one of several was enough stays as it was.
  const [alone] = items;
  if (!only && items.length === 1 && alone?.type === 'group') return alone;
  return { type: 'group', match: 'all', items: [...items] };
}
