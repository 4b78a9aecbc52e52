import type { z } from 'zod';
import type { Answer, Ask } from '../model/asks.ts';
import type { Cell } from '../model/cells.ts';
import type { Outcome, PlannedEffect } from '../model/effects.ts';
import type { Slot } from '../model/state.ts';
import type { FieldValue, Fields, Item } from '../items/item.ts';
import type { Problem } from '../model/problems.ts';
import type { ShapeFields } from '../shapes/shape.ts';
import type { World } from '../model/world.ts';

/** What every step has. */
export interface StepBase {
  id: string;
  /** Switched off: it is shown, and what it would have done, but it does nothing. */
  off?: boolean | undefined;
}

/** What a step may look at when it decides. Nothing else exists for it: no clock, no network, no chance of its own. */
export interface Env {
  item: Item;
  /** The source that the item was seen at, where it is known. */
  watch?: number | undefined;
  /** The item's fields and, over them, what earlier steps have made. */
  fields: Fields;
  /** Milliseconds since 1970 UTC. */
  now: number;
  /** A number in [0, 1), always the same for the same item, step and element. */
  chance(about: string): number;
  /** What the elements of an earlier For each made; null for those that were stopped. */
  gathered(step: string): readonly (Fields | null)[];
  /** How often the step has been planned before for this item: it was told to wait and plan again. */
  tries: number;
}

/** What a step decides for one item. */
export type Plan =
  /** Without a cell, the one that is there stays. */
  | { go: 'on'; cell: Cell | null; values?: Fields }
  | { go: 'stop'; cell: Cell }
  /** The interpreter makes the cell, from where the acts stand. */
  | { go: 'perform'; effects: PlannedEffect[] }
  /** Until a moment; then on to the next step, or plan this one again. */
  | {
      go: 'wait';
      until: number;
      why: string;
      then: 'next' | 'plan';
      /** It counts from when the run first came here, also when it goes through its steps again. */
      counted?: boolean;
      /** What the step wants to know when it is planned again, and later steps may. */
      values?: Fields;
    }
  | { go: 'ask'; ask: Ask; cell: Cell | null }
  /** Until others have joined what was asked about, or the moment comes; then `ask` again. */
  | { go: 'others'; ask: Ask; until: number | null; cell: Cell }
  /** Into the steps of a branch; null for none of them. */
  | { go: 'into'; branch: string | null; cell: Cell }
  /** Through the branch `each` for every element, known there by the name `as`. */
  | { go: 'each'; elements: FieldValue[]; as: string; together: boolean; labels: string[]; why: string };

/** A step made ready for many items. */
export interface Prepared {
  plan: (env: Env) => Plan;
  /** What follows once every act is settled. Without it the run goes on. */
  settled?: (env: Env, slots: readonly Slot[]) => Plan;
  /** What follows from an answer of the driver. */
  answered?: (env: Env, answer: Answer) => Plan;
  /** What came of an act, in a few words for the cell. */
  result?: (outcome: Outcome) => string;
  /** What a rehearsal takes an act to have given, since nothing is sent. */
  pretend?: (env: Env, slot: Slot) => Fields | undefined;
}

/** A list of steps inside a step. */
export interface Branch<S extends StepBase = StepBase> {
  id: string;
  label: string;
  steps: S[];
}

/** A piece of a sentence. Names of things are marked so that a screen can make them links. */
export type Phrase = (string | { name: string; kind: 'outlet' | 'watch'; id: number })[];

/** How a row of the run sheet is coloured: what sort of work the step does. */
export type Sort = 'looking' | 'thinking' | 'sending' | 'keeping';

/** What is known at a step when a definition is looked over: the names earlier steps have made. */
export interface Before {
  texts: ReadonlySet<string>;
  /** The watches that items come from. */
  watches: readonly number[];
  /** Ids of earlier steps, with the steps themselves. */
  steps: ReadonlyMap<string, StepBase & { verb: string }>;
}

/**
 * A step verb: everything Playa knows about it. Adding one is a file like check.ts, a line in step.ts and in index.ts, and
 * an editor in web.
 */
export interface Verb<S extends StepBase> {
  verb: string;
  /** The verb as a heading: "For each". */
  title: string;
  sort: Sort;
  /** False for one that people do not put into their workflows. */
  offered?: false;
  schema: z.ZodType<S>;
  /** The row's sentence: what the step does, with its real names. It starts with the verb. */
  sentence(step: S, world: World): Phrase;
  /**
   * Prepares a step once for many items. It never throws on a definition that the schema accepts: what cannot work
   * becomes a cell that says so.
   */
  prepare(step: S, world: World): Prepared;
  /** What is wrong with the step as it stands, whatever the item. */
  problems(step: S, world: World, before: Before): Problem[];
  /** The steps inside it. */
  branches?(step: S): Branch[];
  /** What it makes for later steps: shapes by name. A name may have dots, as `post.url` has. */
  makes?(step: S, world: World): ShapeFields;
}
