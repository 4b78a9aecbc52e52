import { evaluate } from '../conditions/evaluate.ts';
import type { Fields } from '../items/item.ts';
import { uniqueValue } from '../items/person.ts';
import { fieldText, readField } from '../items/read-field.ts';
import type { Prepared } from '../steps/verb.ts';
import { prepareStep, stepBranches, type Step } from '../steps/index.ts';
import { firstHolds } from '../triggers/turning.ts';
import type { Timetable } from '../timetable/timetable.ts';
import type { WeeklyHours } from '../timetable/opening-hours.ts';
import type { Definition } from '../workflow/definition.ts';
import { gateOf } from '../workflow/source.ts';
import { NO_SETTINGS, type Settings } from '../workflow/settings.ts';
import { writtenIn, type World } from '../model/world.ts';

/** A step made ready, with the steps inside it. */
export interface Node {
  id: string;
  off: boolean;
  prepared: Prepared;
  branches: ReadonlyMap<string, Block> | null;
  /** Whether a later Gather wants what this For each made. */
  keeps: boolean;
}

/** Steps that follow one another. */
export interface Block {
  nodes: readonly Node[];
  index: ReadonlyMap<string, number>;
}

/** A definition made ready for many items: every step's conditions and captions parsed once. */
export interface Program {
  definition: Definition;
  root: Block;
  /** What is done when an act has failed for good; null when a person is asked. */
  onFailure: { do: 'skip' } | { do: 'end' } | { do: 'steps'; block: Block } | null;
  /** Checks of single sources, by watch. */
  sources: ReadonlyMap<
    number,
    {
      id: string;
      check: Prepared | null;
      /** Where a condition is waited for: the first moment from one on at which it holds; null when it never will. */
      comesAt: ((fields: Fields, now: number) => number | null) | null;
    }
  >;
  hours: WeeklyHours | null;
  zone: string;
  settings: Settings;
  /** The account an outlet belongs to; undefined when it is gone. */
  accountOf: (outlet: number) => number | null | undefined;
  /** What an outlet is called. */
  outletName: (outlet: number) => string;
  /** When an outlet publishes; undefined where nobody has said anything. */
  timetableOf: (outlet: number) => Timetable | undefined;
  /** Outlets whose own posts, or rows, appear at a source. */
  shows: (watch: number) => readonly number[];
  /** The brand's snippets by name; null when it has none. */
  snippets: Fields | null;
  /** Whether what becomes of one item may depend on others. */
  together: boolean;
  /** Whether something is gathered over many runs. */
  gathers: boolean;
}

/** The implicit step that lets each person (or whatever was chosen) through once. */
export const ONCE = '~once';
/** The branch of a step whose act failed, when the workflow has steps for that. */
export const FAILURE = '~failure';

/**
 * What was made of steps before. Steps that are the very same objects as at the last time, in the same world, are not made
 * ready anew: an editor that keeps what it does not change compiles one step for a keystroke.
 */
export class StepMemory {
  #around: World | undefined;
  #of: { world: World; parts: string } | undefined;
  #nodes = new WeakMap<Step, Node>();

  /** What steps stand in: the same as before where nothing of it differs. */
  around(world: World, parts: ReadonlySet<string>): World {
    const named = [...parts].sort().join('\n');
    if (!this.#around || this.#of?.world !== world || this.#of.parts !== named) {
      this.#around = { ...world, parts };
      this.#of = { world, parts: named };
      this.#nodes = new WeakMap();
    }
    return this.#around;
  }

  node(step: Step, keeps: boolean, make: () => Node): Node {
    let node = this.#nodes.get(step);
    if (!node || node.keeps !== keeps) this.#nodes.set(step, (node = make()));
    return node;
  }
}

/** @param memory of the program compiled before, for an editor that compiles again and again */
export function compile(definition: Definition, world: World, memory = new StepMemory()): Program {
  const settings = definition.settings ?? NO_SETTINGS;
  const wanted = new Set<string>();
  const parts = new Set<string>();
  let together = settings.atOnce !== null || settings.inOrder !== null || hasPace(settings);
  let gathers = false;
  const visit = (step: Step) => {
    if (step.verb === 'gather' && step.from.type === 'each') wanted.add(step.from.step);
    if ('fit' in step && step.fit && step.caption) parts.add(step.caption);
    if (step.verb === 'publish' && (step.when || step.outlets.some((id) => world.outlets.get(id)?.timetable)))
      together ||= !step.off;
    if (step.verb === 'gather' && step.from.type === 'runs') gathers ||= !step.off;
    if (gathers || (step.verb === 'compose' && step.others?.length)) together ||= !step.off;
    for (const branch of stepBranches(step)) branch.steps.forEach(visit);
  };
  definition.steps.forEach(visit);
  if (settings.onFailure.do === 'steps')
    gathers ||= settings.onFailure.steps.some((step) => step.verb === 'gather' && step.from.type === 'runs');

  const around = memory.around(world, parts);
  const nodeOf = (step: Step): Node => memory.node(step, wanted.has(step.id), () => makeNode(step));
  const makeNode = (step: Step): Node => {
    const branches = stepBranches(step);
    return {
      id: step.id,
      off: step.off === true,
      prepared: prepareStep(step, around),
      branches: branches.length
        ? new Map(branches.map((branch) => [branch.id, blockOf(branch.steps.map(nodeOf))]))
        : null,
      keeps: wanted.has(step.id),
    };
  };
  const written = writtenIn(world);
  const nodes = definition.steps.map(nodeOf);
  if (settings.once) {
    together = true;
    // After the first checks: who was only looked at and passed over has not had a turn.
    const first = definition.steps.findIndex((step) => step.verb !== 'check' || step.off);
    const place = first < 0 ? nodes.length : first;
    nodes.splice(place, 0, {
      id: ONCE,
      off: false,
      prepared: prepareOnce(settings.once),
      branches: null,
      keeps: false,
    });
  }
  const { onFailure } = settings;
  return {
    definition,
    root: blockOf(nodes),
    onFailure:
      onFailure.do === 'hold'
        ? null
        : onFailure.do === 'steps'
          ? { do: 'steps', block: blockOf(onFailure.steps.map(nodeOf)) }
          : { do: onFailure.do },
    sources: new Map(
      definition.sources.flatMap((source) => {
        const { id, watch } = source;
        const gate = gateOf(source);
        if (watch === null) return [];
        const check = gate ? prepareSource(gate, world) : null;
        const comesAt =
          gate && source.trigger?.on === 'becomes'
            ? (fields: Fields, now: number) => firstHolds(gate, fields, now, written)
            : null;
        return [[watch, { id, check, comesAt }] as const];
      }),
    ),
    hours: settings.hours,
    zone: world.timeZone,
    settings,
    snippets: world.snippets?.size ? Object.fromEntries(world.snippets) : null,
    outletName: (outlet) => world.outlets.get(outlet)?.name ?? 'an outlet that is gone',
    shows: (watch) => world.watches.get(watch)?.shows ?? [],
    accountOf: (outlet) => world.outlets.get(outlet)?.accountId,
    timetableOf: (outlet) => world.outlets.get(outlet)?.timetable,
    together,
    gathers,
  };
}

function blockOf(nodes: Node[]): Block {
  return { nodes, index: new Map(nodes.map((node, index) => [node.id, index])) };
}

function hasPace(settings: Settings): boolean {
  return Object.values(settings.pace).some((pace) => pace !== null);
}

function prepareOnce(once: NonNullable<Settings['once']>): Prepared {
  return {
    plan: ({ fields }) => {
      const by = fieldText(readField(fields, once.by)).trim();
      // Whoever cannot be told apart from others is let through.
      if (by === '') return { go: 'on', cell: { kind: 'passes', why: `${once.by} is empty` } };
      return { go: 'ask', ask: { of: 'once', by: uniqueValue(fields, once.by, by), within: once.within }, cell: null };
    },
    answered: (_, answer) =>
      answer.of === 'once' && !answer.fresh
        ? { go: 'stop', cell: { kind: 'stops', why: 'has been through already' } }
        : { go: 'on', cell: { kind: 'passes', why: 'the first time' } },
  };
}

function prepareSource(condition: Parameters<typeof evaluate>[0], world: World): Prepared {
  const written = writtenIn(world);
  return {
    plan: ({ fields, now }) => {
      const { holds, why } = evaluate(condition, fields, now, written);
      return holds ? { go: 'on', cell: { kind: 'passes', why } } : { go: 'stop', cell: { kind: 'stops', why } };
    },
  };
}
