import { z } from 'zod';
import { fieldsSchema, fieldValueSchema, type FieldValue, type Fields } from '../items/item.ts';
import { ACT_INPUTS, outcomeSchema, type Act, type ActName, type Outcome } from './acts.ts';
import { askSchema, type Answer, type Ask } from './asks.ts';
import { trimmedPartsSchema, faultSchema, type Fault, type Trace } from './cells.ts';
import type { TrimmedParts, Trouble } from './effects.ts';
import { memorySchema, type Memory } from './memory.ts';
import type { Outdated } from './meanwhile.ts';
import { placingSchema, type Placing } from '../timetable/placing.ts';

/** One act a run has asked for and waits for. */
export type Slot = Act & {
  key: string;
  outlet: number | null;
  length?: number | undefined;
  limit?: number | null | undefined;
  /** Pictures that were left out, since no more go with one post there. */
  left?: number | undefined;
  trimmed?: TrimmedParts | undefined;
  /** When it is to go; at once when left out. */
  placing?: Placing | undefined;
  /** How often a person has decided to try anew. Part of the key. */
  generation: number;
  /** failed: given up by the workflow's own rule, without asking anybody. */
  status: 'planned' | 'done' | 'held' | 'skipped' | 'failed';
  outcome?: Outcome | undefined;
  says?: string | undefined;
  trouble?: Trouble | undefined;
  /** Which part of it is at fault, where that is known. */
  fault?: Fault | undefined;
  /** What a held answer has met there: a person who says yes has seen it. */
  found?: { text: string | null; answers: string[] } | undefined;
};

/** What a passage waits for. */
export type Waiting =
  | { for: 'acts'; slots: Slot[]; tries: number }
  | {
      for: 'moment';
      /** Milliseconds since 1970 UTC. */
      until: number;
      /** What waking leads to: the step goes on, or is planned (again). */
      then: 'next' | 'plan';
      tries: number;
    }
  | { for: 'answer'; key: string; ask: Ask; tries: number }
  /** Others to join what this run carries. */
  | { for: 'others'; key: string; ask: Ask; until: number | null }
  | { for: 'inside'; branch: string; passage: Passage }
  | {
      for: 'elements';
      /** Elements that have not begun. */
      rest: FieldValue[];
      count: number;
      open: { number: number; passage: Passage }[];
      /** What each element made, by number; null for one that was stopped. */
      made: (Fields | null)[];
    };

/** One way through a list of steps: the whole workflow, a case of a Split, an element of a For each. */
export interface Passage {
  /** The id of the step it stands at; null once it is through. */
  at: string | null;
  /** What its steps have made so far, by name. */
  values: Fields;
  wait?: Waiting | undefined;
  /** What the elements of its For each steps made, by step, where a Gather wants them. */
  gathered?: Record<string, (Fields | null)[]> | undefined;
}

/** Where a run stands. Plain JSON, all there is to know besides the program and the item. */
export interface RunState {
  status: 'waiting' | 'held' | 'done' | 'stopped' | 'cancelled';
  root: Passage;
  /** Grows with every decision to do something anew, so that keys are never used twice. */
  generation: number;
  /** How many acts failed for good, whatever was done about it. */
  failures: number;
  /** What people said yes to, by place: the words as they were asked, and as they were given. */
  yes?: Record<string, { asked: string | null; given: string | null; at: number }> | undefined;
  /** What is known of steps that it has yet to come to again, after the thing it is about has changed. */
  memory?: Memory | undefined;
}

const slotBase = {
  key: z.string(),
  outlet: z.number().nullable(),
  length: z.number().optional(),
  limit: z.number().nullable().optional(),
  left: z.number().optional(),
  trimmed: trimmedPartsSchema.optional(),
  placing: placingSchema.optional(),
  generation: z.number().int(),
  status: z.enum(['planned', 'done', 'held', 'skipped', 'failed']),
  outcome: outcomeSchema.optional(),
  says: z.string().optional(),
  found: z.object({ text: z.string().nullable(), answers: z.array(z.string()) }).optional(),
  fault: faultSchema.optional(),
  trouble: z
    .enum([
      'empty',
      'too-long',
      'no-outlet',
      'failed',
      'unknown',
      'asks',
      'none',
      'several',
      'outdated',
      'date',
      'draft',
    ])
    .optional(),
};
const slotSchema = z.discriminatedUnion(
  'action',
  (Object.keys(ACT_INPUTS) as ActName[]).map((action) =>
    z.object({ ...slotBase, action: z.literal(action), input: ACT_INPUTS[action] }),
  ) as unknown as [z.ZodObject<{ action: z.ZodLiteral<string> }>],
) as unknown as z.ZodType<Slot>;

const passageSchema: z.ZodType<Passage> = z.lazy(() =>
  z.object({
    at: z.string().nullable(),
    values: fieldsSchema,
    wait: waitingSchema.optional(),
    gathered: z.record(z.string(), z.array(fieldsSchema.nullable())).optional(),
  }),
);
const waitingSchema: z.ZodType<Waiting> = z.lazy(() =>
  z.discriminatedUnion('for', [
    z.object({ for: z.literal('acts'), slots: z.array(slotSchema), tries: z.number() }),
    z.object({ for: z.literal('moment'), until: z.number(), then: z.enum(['next', 'plan']), tries: z.number() }),
    z.object({ for: z.literal('answer'), key: z.string(), ask: askSchema, tries: z.number() }),
    z.object({ for: z.literal('others'), key: z.string(), ask: askSchema, until: z.number().nullable() }),
    z.object({ for: z.literal('inside'), branch: z.string(), passage: passageSchema }),
    z.object({
      for: z.literal('elements'),
      rest: z.array(fieldValueSchema),
      count: z.number(),
      open: z.array(z.object({ number: z.number(), passage: passageSchema })),
      made: z.array(fieldsSchema.nullable()),
    }),
  ]),
);
export const runStateSchema: z.ZodType<RunState> = z.object({
  status: z.enum(['waiting', 'held', 'done', 'stopped', 'cancelled']),
  root: passageSchema,
  generation: z.number().int(),
  failures: z.number().int(),
  yes: z
    .record(z.string(), z.object({ asked: z.string().nullable(), given: z.string().nullable(), at: z.number() }))
    .optional(),
  memory: memorySchema.optional(),
});

/** What can happen to a run. */
export type RunEvent =
  | { type: 'arrived' }
  | { type: 'done'; key: string; outcome: Outcome }
  /** Will not be tried again by itself: a refusal, too many failures, or (`unknown`) nobody knows whether it was done. */
  | { type: 'failed'; key: string; says: string; unknown: boolean; fault?: Fault | undefined }
  /** An answer that is no longer right: what it would answer was answered, edited, closed or deleted meanwhile. */
  | { type: 'outdated'; key: string; outdated: Outdated }
  | { type: 'answered'; key: string; answer: Answer }
  /** Time has passed: whatever waits for a moment that has come goes on. */
  | { type: 'woke' }
  | { type: 'decided'; key: string; decision: Decision }
  /** A person ends the run; what is not sent yet is not sent. */
  | { type: 'cancelled' }
  /** A person has it run again from a step that it had reached. */
  | { type: 'rerun'; from: string }
  /** The thing it is about is gone, or changed where that ends the run. What is not sent yet is not sent. */
  | { type: 'withdrawn'; why: string }
  /**
   * The thing it is about has changed: it goes through its steps again, without doing again what was done. `outcomes`
   * has what came of acts, by key; `takenBack` those that were asked for and will not be done now.
   */
  | { type: 'changed'; trace: Trace; outcomes: ReadonlyMap<string, Outcome>; takenBack: ReadonlySet<string> };

/** What a person says of something held. */
export type Decision =
  /** Try anew, perhaps with another input; the answer to a question: yes, perhaps with other words. */
  | {
      do: 'retry';
      text?: string | undefined;
      input?: Act['input'] | undefined;
      /** Of the other words, as their outlet counts them. */
      length?: number | undefined;
    }
  /** Go on without it. */
  | { do: 'skip' }
  /** The person has seen that it did go out. */
  | { do: 'itWentOut'; url?: string | undefined }
  /** The run ends here. */
  | { do: 'end' };

/** Every passage that has not ended, outer ones first. */
export function* passagesIn(passage: Passage): Generator<Passage> {
  yield passage;
  if (passage.wait?.for === 'inside') yield* passagesIn(passage.wait.passage);
  if (passage.wait?.for === 'elements') for (const each of passage.wait.open) yield* passagesIn(each.passage);
}

/** Every act a run waits for or has just settled, wherever it stands. */
export function slotsIn(state: RunState): Slot[] {
  const slots: Slot[] = [];
  for (const { wait } of passagesIn(state.root)) if (wait?.for === 'acts') slots.push(...wait.slots);
  return slots;
}

/** When a run wants to be woken next, milliseconds since 1970 UTC; null when nothing in it waits for a moment. */
export function nextWake(state: RunState): number | null {
  if (state.status !== 'waiting' && state.status !== 'held') return null;
  let next: number | null = null;
  for (const { wait } of passagesIn(state.root)) {
    const until = wait?.for === 'moment' || wait?.for === 'others' ? wait.until : null;
    if (until !== null && (next === null || until < next)) next = until;
  }
  return next;
}
