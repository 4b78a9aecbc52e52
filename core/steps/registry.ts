// Where verbs are known by their name. They are entered by index.ts; whoever works with steps imports that file.
import { z } from 'zod';
import type { OfferedVerb, Step } from './step.ts';
import type { StepBase, Verb } from './verb.ts';

const verbs = new Map<string, Verb<StepBase>>();

/** Makes verbs known, in the order in which they are offered. */
export function register(...all: readonly unknown[]): void {
  // Each takes only its own sort of step; which one that is, the step's own `verb` says.
  for (const verb of all as Verb<StepBase>[]) verbs.set(verb.verb, verb);
}

/** @throws when no such verb was entered, which a step that its schema accepts cannot have */
export function verbNamed(name: Step['verb']): Verb<StepBase> {
  const verb = verbs.get(name);
  if (!verb) throw new Error(`There is no verb ${name}.`);
  return verb;
}

/** The verbs in the order they are offered. */
export const stepVerbs = (): OfferedVerb[] =>
  [...verbs.values()].filter(({ offered }) => offered !== false).map(({ verb }) => verb as OfferedVerb);

/** A step of any verb. Read when it is first used: steps may lie inside one another. */
export const stepSchema: z.ZodType<Step> = z.lazy(
  () =>
    z.discriminatedUnion(
      'verb',
      [...verbs.values()].map((verb) => verb.schema) as unknown as [z.ZodObject<{ verb: z.ZodLiteral<string> }>],
    ) as unknown as z.ZodType<Step>,
);
