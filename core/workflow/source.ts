import { z } from 'zod';
import { groupSchema, type Group } from '../conditions/condition.ts';
import { triggerSchema, type Trigger } from '../triggers/trigger.ts';

/** Where items come from: a watch of the brand's, by its number. Null until one has been chosen. */
export const sourceSchema = z.object({
  id: z.string().regex(/^[\w-]{1,40}$/),
  watch: z.number().int().positive().nullable(),
  /** What must hold for this source's items, before any step. */
  condition: groupSchema.optional(),
  /** What of this source starts the workflow; what appears when left out. */
  trigger: triggerSchema.optional(),
});
export type Source = z.infer<typeof sourceSchema>;

/**
 * What must hold before any step: the source's own check, and the condition that was waited for, which may have turned
 * again by the time a run begins or is brought up to date.
 */
export function gateOf({ condition, trigger }: Pick<Source, 'condition' | 'trigger'>): Group | undefined {
  const groups = [condition, trigger?.on === 'becomes' ? trigger.when : undefined].filter((each) => each?.items.length);
  return groups.length > 1 ? { type: 'group', match: 'all', items: groups as Group[] } : groups[0];
}

/** What of a watch starts a workflow; what appears where nothing else is said. */
export function triggerAt(sources: readonly Source[] | undefined, watch: number): Trigger {
  return sources?.find((source) => source.watch === watch)?.trigger ?? { on: 'appears' };
}
