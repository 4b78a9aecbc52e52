// The steps of a workflow, of every verb. Those that hold steps of their own are described here, beside what they hold.
import type { Group } from '../conditions/condition.ts';
import type { StepBase } from './verb.ts';
import type { AnswerStep } from './answer.ts';
import type { CallStep } from './call.ts';
import type { CheckStep } from './check.ts';
import type { ComposeStep } from './compose.ts';
import type { DraftStep } from './draft.ts';
import type { EndStep } from './end.ts';
import type { FindStep } from './find.ts';
import type { GatherStep } from './gather.ts';
import type { HoldStep } from './hold.ts';
import type { LabelStep } from './label.ts';
import type { NotifyStep } from './notify.ts';
import type { PostStep } from './post.ts';
import type { PublishStep } from './publish.ts';
import type { RecordStep } from './record.ts';
import type { MessageStep, ReactStep, ReplyStep } from './respond.ts';
import type { ReviseStep } from './revise.ts';
import type { WaitStep } from './wait.ts';

/** One step. Its verb says which sort it is. */
export type Step =
  | AnswerStep
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
  | PostStep
  | PublishStep
  | ReactStep
  | RecordStep
  | ReplyStep
  | ReviseStep
  | SplitStep
  | WaitStep;
export type StepVerb = Step['verb'];
/** The verbs of steps that people put into their workflows. */
export type OfferedVerb = Exclude<StepVerb, 'post' | 'answer'>;

/** One way of a Split. */
export interface SplitCase {
  id: string;
  /** What the band is called; without one, its condition says it. */
  name: string;
  /** When it is taken, if the split asks. */
  when: Group;
  /** How large its share is, if chance decides; shares are relative to one another. */
  share: number;
  steps: Step[];
}

export interface SplitStep extends StepBase {
  verb: 'split';
  /** asks: the first case whose condition holds, or otherwise. chance: one case at random, by shares. */
  by: 'asks' | 'chance';
  cases: SplitCase[];
  otherwise: Step[];
}

export interface ForEachStep extends StepBase {
  verb: 'foreach';
  /** A field that is a list, or a JSONPath query (RFC 9535) over all fields. */
  list: string;
  /** What an element is called inside. */
  as: string;
  /** How many are taken at most, the first ones; null for all. */
  most: number | null;
  /** Whether elements go through together, or each waits for the one before. */
  together: boolean;
  steps: Step[];
}
