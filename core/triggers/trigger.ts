// What of a source starts a workflow.
import { z } from 'zod';
import { groupSchema, type Group } from '../conditions/condition.ts';
import { sayCondition } from '../conditions/evaluate.ts';
import { fieldLabel } from '../items/field-label.ts';

export type Trigger =
  /** Something is there that was not. */
  | { on: 'appears' }
  /** One of these fields of something known says something else than before. */
  | { on: 'changes'; fields: string[] }
  /** A condition turns true, by a change or as time goes by. */
  | {
      on: 'becomes';
      when: Group;
      /** Whether it starts anew when it turns true once more after something has gone out for it. */
      again?: boolean | undefined;
    };

export const triggerSchema: z.ZodType<Trigger> = z.discriminatedUnion('on', [
  z.object({ on: z.literal('appears') }),
  z.object({ on: z.literal('changes'), fields: z.array(z.string().min(1).max(300)).min(1).max(20) }),
  z.object({ on: z.literal('becomes'), when: groupSchema, again: z.boolean().optional() }),
]);

/**
 * A trigger as the end of "Rows of …": " when status is “ready”", " when their status changes"; empty for what appears,
 * which goes without saying.
 */
export function sayTrigger(trigger: Trigger | undefined): string {
  switch (trigger?.on) {
    case 'changes':
      return ` when ${trigger.fields.map((path) => fieldLabel(path).toLowerCase()).join(' or ')} changes`;
    case 'becomes':
      return ` when ${sayCondition(trigger.when) || 'nothing yet'}`;
    default:
      return '';
  }
}

/** What starts a workflow at a source: "new rows", "rows when status changes". @param things its things, in the plural */
export function sayStarts(trigger: Trigger | undefined, things: string): string {
  return !trigger || trigger.on === 'appears' ? `new ${things}` : `${things}${sayTrigger(trigger)}`;
}
