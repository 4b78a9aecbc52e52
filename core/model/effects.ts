import type { Act } from './acts.ts';
import type { TrimmedWords } from '../captions/say.ts';
import type { Ask } from './asks.ts';
import type { Fault } from './cells.ts';
import type { Placing } from '../timetable/placing.ts';

export { outcomeSchema, publishInputSchema, type Outcome, type PublishInput } from './acts.ts';

/** Why an act must not be done as it stands. */
export type Trouble =
  | 'empty'
  | 'too-long'
  | 'no-outlet'
  | 'failed'
  | 'unknown'
  | 'asks'
  | 'none'
  | 'several'
  | 'outdated'
  | 'date'
  | 'draft';

/** What was given up of the words of an act, and of their title. */
export interface TrimmedParts {
  text?: TrimmedWords | undefined;
  title?: TrimmedWords | undefined;
}

/** Something a step wants done. `blocked` says why it must not be done as it stands. */
export type PlannedEffect = Act & {
  /** The outlet it is done at; null for what no network does. */
  outlet: number | null;
  /** Length of the text as the outlet's kind counts it, and its limit there. */
  length?: number | undefined;
  limit?: number | null | undefined;
  /** Pictures that were left out, since no more go with one post there. */
  left?: number | undefined;
  /** What was given up so that words fit. */
  trimmed?: TrimmedParts | undefined;
  blocked?: { trouble: Trouble; says: string; fault?: Fault } | undefined;
  /** When it is to go; at once when left out. */
  placing?: Placing | undefined;
};

/** What the interpreter asks its driver to do. */
export type Effect =
  | ({
      do: 'perform';
      /** The same after a crash, a retry or on another worker; different for a second try that a person decided on. */
      key: string;
      /** The step, with the numbers of the elements it is done for: "post", "post#2". */
      place: string;
      outlet: number | null;
      placing?: Placing | undefined;
    } & Act)
  | { do: 'hold'; key: string; place: string; says: string }
  /** Answered at once, with the event `answered`. */
  | { do: 'ask'; key: string; ask: Ask }
  | { do: 'finish'; outcome: 'done' | 'stopped' | 'cancelled' };
