import type { z } from 'zod';
import type { Cell } from '../engine/cells.ts';
import type { PlannedEffect } from '../engine/effects.ts';
import type { Item } from '../items/item.ts';
import type { Problem } from '../workflow/problems.ts';
import type { World } from '../workflow/world.ts';

/** What every step has. */
export interface StepBase {
  id: string;
  /** Switched off: it is shown, and what it would have done, but it does nothing. */
  off?: boolean | undefined;
}

/** What a step may look at when it decides. Nothing else exists for it: no clock, no network, no chance. */
export interface Env {
  item: Item;
  /** Texts made by earlier steps, by name. */
  texts: Readonly<Record<string, string>>;
  /** Milliseconds since 1970 UTC. */
  now: number;
}

/** What a step decides for one item. */
export type Plan =
  | { go: 'on'; cell: Cell; texts?: Record<string, string> }
  | { go: 'stop'; cell: Cell }
  /** The interpreter makes the cell, from where the effects stand. */
  | { go: 'perform'; effects: PlannedEffect[] };

/** A piece of a sentence. Names of things are marked so that a screen can make them links. */
export type Phrase = (string | { name: string; kind: 'outlet' | 'watch'; id: number })[];

/** How a row of the run sheet is coloured: what sort of work the step does. */
export type Sort = 'looking' | 'thinking' | 'sending' | 'keeping';

/**
 * A step verb: everything Playa knows about it. Adding one is a file like check.ts, a line in index.ts, and an editor
 * in web.
 */
export interface Verb<S extends StepBase> {
  verb: string;
  sort: Sort;
  schema: z.ZodType<S>;
  /** The row's sentence: what the step does, with its real names. It starts with the verb. */
  sentence(step: S, world: World): Phrase;
  /**
   * Prepares a step once for many items. It never throws on a definition that the schema accepts: what cannot work
   * becomes a cell that says so.
   */
  prepare(step: S, world: World): (env: Env) => Plan;
  /** What is wrong with the step as it stands, whatever the item. */
  problems(step: S, world: World, before: { texts: ReadonlySet<string> }): Problem[];
}
