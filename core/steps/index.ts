// Every verb that a step can have. A new one is entered here and in step.ts, and nowhere else in core.
import { type ShapeFields } from '../shapes/shape.ts';
import type { Problem } from '../model/problems.ts';
import type { World } from '../model/world.ts';
import { answer } from './answer.ts';
import { call } from './call.ts';
import { check } from './check.ts';
import { compose } from './compose.ts';
import { draft } from './draft.ts';
import { end } from './end.ts';
import { find } from './find.ts';
import { forEach } from './foreach.ts';
import { gather } from './gather.ts';
import { hold } from './hold.ts';
import { labelStep } from './label.ts';
import { notify } from './notify.ts';
import { post } from './post.ts';
import { publish } from './publish.ts';
import { record } from './record.ts';
import { message, react, reply } from './respond.ts';
import { revise } from './revise.ts';
import { split } from './split.ts';
import { wait } from './wait.ts';
import { register, verbNamed } from './registry.ts';
import type { Step } from './step.ts';
import type { Before, Branch, Phrase, Prepared, Sort } from './verb.ts';

export { stepSchema, stepVerbs } from './registry.ts';
export type { OfferedVerb, Step } from './step.ts';
export type StepVerb = Step['verb'];

// In the order they are offered.
register(
  check,
  split,
  forEach,
  gather,
  compose,
  draft,
  wait,
  find,
  publish,
  post,
  answer,
  reply,
  message,
  react,
  revise,
  record,
  labelStep,
  call,
  notify,
  hold,
  end,
);

export function prepareStep(step: Step, world: World): Prepared {
  return verbNamed(step.verb).prepare(step, world);
}

export function stepSentence(step: Step, world: World): Phrase {
  return verbNamed(step.verb).sentence(step, world);
}

/** How a verb is called as a heading: "For each". */
export function stepTitle(verb: StepVerb): string {
  return verbNamed(verb).title;
}

export function stepSort(verb: StepVerb): Sort {
  return verbNamed(verb).sort;
}

export function stepProblems(step: Step, world: World, before: Before): Problem[] {
  return step.off ? [] : verbNamed(step.verb).problems(step, world, before);
}

/** The lists of steps inside a step, in reading order. */
export function stepBranches(step: Step): Branch<Step>[] {
  return (verbNamed(step.verb).branches?.(step) ?? []) as Branch<Step>[];
}

/** What a step makes for those that follow: shapes by name. */
export function stepMakes(step: Step, world: World): ShapeFields {
  return step.off ? {} : (verbNamed(step.verb).makes?.(step, world) ?? {});
}
