// What a step may look at while a run takes an event, and where the run stands in it.
import type { Fields, Item } from '../items/item.ts';
import type { Env } from '../steps/verb.ts';
import type { Trace } from '../model/cells.ts';
import { chanceOf } from './chance.ts';
import type { Effect } from '../model/effects.ts';
import type { Known } from './known.ts';
import { type Block, type Program } from './program.ts';
import type { Passage, RunEvent, RunState } from '../model/state.ts';

/** The context of an advance: what the run is about and when it is now. Handed in by the driver. */
export interface Context {
  item: Item;
  /** The watch the item came from, when the workflow has several sources. */
  watch?: number | undefined;
  /** Milliseconds since 1970 UTC. */
  now: number;
  /** Unlike that of any other run, ever: keys of effects are made from it. */
  run: string;
}

/** Events as passages take them: also the rehearsal's, for which whatever was asked counts as done. */
export type PassageEvent = RunEvent | { type: 'pretended'; at: number };

/** One event of a run being taken: the state before, what it is about, and what comes of it. */
export interface Transition {
  program: Program;
  state: RunState;
  context: Context;
  effects: Effect[];
  trace: Trace;
  /** What the run has come to know, while it goes through its steps again. */
  known?: Known | undefined;
}

/** Where a passage is after it went as far as it could. */
export type Where = 'open' | 'through' | 'stopped';

/** How a step ends for the passage it stands in. */
export type StepEnd = 'next' | 'open' | 'stopped';

const NOTHING: readonly (Fields | null)[] = [];

/**
 * A step's surroundings: what it may look at, and the passage it stands in. A class whose fields are put together when
 * first asked for, because rehearsals make two for every item.
 */
export class Scope implements Env {
  readonly item: Item;
  readonly watch: number | undefined;
  readonly now: number;
  place = '';
  tries = 0;
  readonly #passage: Passage;
  readonly #outer: Env | null;
  readonly #snippets: Fields | null;
  #fields: Fields | null = null;
  /** Whether the fields belong to this passage alone and may be added to. */
  #own = false;

  constructor(transition: Transition, passage: Passage, outer: Env | null) {
    this.item = transition.context.item;
    this.watch = transition.context.watch;
    this.now = transition.context.now;
    this.#passage = passage;
    this.#outer = outer;
    this.#snippets = transition.program.snippets;
  }

  get fields(): Fields {
    if (this.#fields) return this.#fields;
    const base = this.#outer
      ? this.#outer.fields
      : this.#snippets
        ? { ...this.item.fields, snippet: this.#snippets }
        : this.item.fields;
    for (const _ in this.#passage.values) {
      this.#own = true;
      // Not spread: what is added to a spread object costs five times as much.
      return (this.#fields = Object.assign({}, base, this.#passage.values));
    }
    return (this.#fields = base);
  }

  chance(about: string): number {
    return chanceOf(`${this.item.identity}\n${this.place}\n${about}`);
  }

  gathered(step: string): readonly (Fields | null)[] {
    return this.#passage.gathered?.[step] ?? this.#outer?.gathered(step) ?? NOTHING;
  }

  /** Makes values known to this step and those that follow. */
  setValues(values: Fields): void {
    // Put together when the next step asks: the last one mostly does not.
    if (!this.#own) this.#fields = null;
    for (const name of Object.keys(values)) {
      this.#passage.values[name] = values[name]!;
      if (this.#fields) this.#fields[name] = values[name]!;
    }
  }
}

export const newPassage = (block: Block, values: Fields = {}): Passage => ({
  at: block.nodes[0]?.id ?? null,
  values,
  wait: undefined,
});
