import { z } from 'zod';
import type { Problem } from '../workflow/problems.ts';
import type { World } from '../workflow/world.ts';
import { check } from './check.ts';
import { compose } from './compose.ts';
import { publish } from './publish.ts';
import type { Env, Phrase, Plan, Sort, StepBase, Verb } from './verb.ts';

/** Every step verb. A new one is added here and nowhere else in core. */
const VERBS = { check, compose, publish } as const;

export const stepSchema = z.discriminatedUnion('verb', [check.schema, compose.schema, publish.schema]);
export type Step = z.infer<typeof stepSchema>;
export type StepVerb = Step['verb'];

// Each verb takes only its own sort of step; which one that is, the step's own `verb` says.
const verbOf = (step: Step) => VERBS[step.verb] as unknown as Verb<StepBase>;

export function prepareStep(step: Step, world: World): (env: Env) => Plan {
  return verbOf(step).prepare(step, world);
}

export function stepSentence(step: Step, world: World): Phrase {
  return verbOf(step).sentence(step, world);
}

export function stepSort(verb: StepVerb): Sort {
  return VERBS[verb].sort;
}

export function stepProblems(step: Step, world: World, before: { texts: ReadonlySet<string> }): Problem[] {
  return step.off ? [] : verbOf(step).problems(step, world, before);
}
