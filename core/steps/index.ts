import { z } from 'zod';
import type { Problem } from '../workflow/problems.ts';
import type { World } from '../workflow/world.ts';
import { call, type CallStep } from './call.ts';
import { check, type CheckStep } from './check.ts';
import { compose, type ComposeStep } from './compose.ts';
import { draft, type DraftStep } from './draft.ts';
import { end, type EndStep } from './end.ts';
import { find, type FindStep } from './find.ts';
import { forEach, type ForEachStep } from './foreach.ts';
import { gather, type GatherStep } from './gather.ts';
import { hold, type HoldStep } from './hold.ts';
import { labelStep, type LabelStep } from './label.ts';
import { notify, type NotifyStep } from './notify.ts';
import { publish, type PublishStep } from './publish.ts';
import { record, type RecordStep } from './record.ts';
import { message, react, reply, type MessageStep, type ReactStep, type ReplyStep } from './respond.ts';
import { revise, type ReviseStep } from './revise.ts';
import { split, type SplitStep } from './split.ts';
import type { Before, Branch, Phrase, Prepared, Sort, StepBase, Verb } from './verb.ts';
import { wait, type WaitStep } from './wait.ts';

export type Step =
  | CallStep
  | CheckStep
  | ComposeStep
  | DraftStep
  | EndStep
  | FindStep
  | ForEachStep
  | GatherStep
  | HoldStep
  | LabelStep
  | MessageStep
  | NotifyStep
  | PublishStep
  | ReactStep
  | RecordStep
  | ReplyStep
  | ReviseStep
  | SplitStep
  | WaitStep;
export type StepVerb = Step['verb'];

/** Every step verb, in the order they are offered. A new one is added here and nowhere else in core. */
const makeVerbs = () => ({
  check,
  split,
  foreach: forEach,
  gather,
  compose,
  draft,
  wait,
  find,
  publish,
  reply,
  message,
  react,
  revise,
  record,
  label: labelStep,
  call,
  notify,
  hold,
  end,
});
// Made when first asked for: verbs with steps inside them refer back to this file.
let made: ReturnType<typeof makeVerbs> | undefined;
const verbs = () => (made ??= makeVerbs());

export const stepSchema: z.ZodType<Step> = z.lazy(
  () =>
    z.discriminatedUnion(
      'verb',
      Object.values(verbs()).map((verb) => verb.schema) as unknown as [typeof check.schema],
    ) as unknown as z.ZodType<Step>,
);

// Each verb takes only its own sort of step; which one that is, the step's own `verb` says.
const verbNamed = (name: StepVerb) => verbs()[name] as unknown as Verb<StepBase>;

/** The verbs in the order they are offered. */
export function stepVerbs(): StepVerb[] {
  return Object.keys(verbs()) as StepVerb[];
}

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
export function stepBranches(step: Step): Branch[] {
  return verbNamed(step.verb).branches?.(step) ?? [];
}

/** Names a step makes for those that follow. */
export function stepMakes(step: Step): string[] {
  return step.off ? [] : (verbNamed(step.verb).makes?.(step) ?? []);
}
