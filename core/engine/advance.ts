import { stepOf, type Trace } from '../model/cells.ts';
import type { Effect } from '../model/effects.ts';
import { CannotGoAgain, cellsOfActs, Known, memoryOf, remember } from './known.ts';
import { deliver, goOn } from './passage.ts';
import { Ended } from './settled.ts';
import { newPassage, type Context, type PassageEvent, type Transition, type Where } from './scope.ts';
import type { Program } from './program.ts';
import { pathTo, standAt, stepsFrom } from './rerun.ts';
import { passagesIn, type RunEvent, type RunState } from '../model/state.ts';

export type { Context } from './scope.ts';
export { effectKey } from './slots.ts';

/** What came of an event: the new state, what is to be done, and the cells that changed. */
export interface Advanced {
  state: RunState;
  effects: Effect[];
  trace: Trace;
  /** Steps whose cells no longer say what happened. */
  forget?: string[];
  /** The thing has changed, but the run goes on as it was: part of it went out for what is no longer there. */
  kept?: boolean;
}

/**
 * Takes a run one event further. Pure: the same arguments give the same result, and nothing is done here; the live
 * driver performs the effects for real, the rehearsal driver pretends.
 *
 * An event that no longer fits (an effect reported twice, a decision on something settled, a wake that comes early)
 * changes nothing, so drivers may deliver events more than once.
 *
 * @param state null for a run that has not begun
 */
export function advance(program: Program, state: RunState | null, event: RunEvent, context: Context): Advanced {
  return advanceInPlace(program, state && structuredClone(state), event, context);
}

/** The same for drivers that hand over the state for good: it is changed instead of copied. */
export function advanceInPlace(
  program: Program,
  state: RunState | null,
  event: PassageEvent,
  context: Context,
): Advanced {
  if (event.type === 'arrived') {
    if (state) return unchanged(state);
    const fresh: RunState = { status: 'waiting', root: newPassage(program.root), generation: 1, failures: 0 };
    return begin({ program, state: fresh, context, effects: [], trace: {} });
  }
  if (!state && event.type === 'cancelled') {
    const never: RunState = { status: 'cancelled', root: newPassage(program.root), generation: 1, failures: 0 };
    return { state: never, effects: [{ do: 'finish', outcome: 'cancelled' }], trace: {} };
  }
  if (!state) throw new Error(`A run that has not begun cannot take the event “${event.type}”.`);
  const known = state.memory && new Known(state.memory, state.yes, null);
  const transition: Transition = { program, state, context, effects: [], trace: {}, known };
  if (event.type === 'changed') return goAgain(transition, event);
  if (event.type === 'rerun') {
    const path = pathTo(program, event.from);
    if (!path) return unchanged(state);
    const forget = stepsFrom(program, event.from);
    state.generation++;
    state.yes = undefined;
    state.memory = undefined;
    transition.known = undefined;
    standAt(state, path, context.now);
    const where = deliver(transition, program.root, state.root, null, '', { type: 'woke' });
    return { ...finish(transition, where ?? 'open'), forget };
  }
  const open = state.status === 'waiting' || state.status === 'held';
  // One that has put something into what is gathered has stopped, and its thing can be withdrawn all the same.
  if (!open && !(event.type === 'withdrawn' && state.status === 'stopped')) return unchanged(state);
  if (event.type === 'cancelled') {
    state.status = 'cancelled';
    state.root.wait = undefined;
    return { state, effects: [{ do: 'finish', outcome: 'cancelled' }], trace: {} };
  }
  if (event.type === 'withdrawn') {
    const place = state.root.at;
    if (place !== null) transition.trace[place] = { kind: 'stops', why: event.why };
    return finish(transition, 'stopped');
  }
  try {
    const where = deliver(transition, program.root, state.root, null, '', event);
    // An act may be one that the run has yet to come to again.
    if (where === undefined) remember(state.memory, event as RunEvent);
    return where === undefined ? unchanged(state) : finish(transition, where);
  } catch (error) {
    if (error instanceof Ended) return finish(transition, 'stopped');
    throw error;
  }
}

/** From the source's own check through the steps. */
function begin(transition: Transition): Advanced {
  const { program, state, context } = transition;
  const source = context.watch === undefined ? undefined : program.sources.get(context.watch);
  if (source?.check) {
    const plan = source.check.plan({ ...NO_ENV, item: context.item, fields: context.item.fields, now: context.now });
    if ('cell' in plan && plan.cell) transition.trace[source.id] = plan.cell;
    if (plan.go === 'stop') return finish(transition, 'stopped');
  }
  return finish(transition, goOn(transition, program.root, state.root, null, ''));
}

/** Through all steps again, with the thing as it is now and what is known of the run. */
function goAgain(transition: Transition, event: Extract<RunEvent, { type: 'changed' }>): Advanced {
  const { program, state } = transition;
  const { trace, outcomes, takenBack } = event;
  const memory = memoryOf(state, trace, outcomes, takenBack);
  const kept = cellsOfActs(memory, trace);
  const known = new Known(memory, state.yes, trace);
  const fresh: RunState = {
    status: 'waiting',
    root: newPassage(program.root),
    // Keys of what is asked for anew are like none before.
    generation: state.generation + 1,
    failures: state.failures,
    yes: state.yes,
    memory,
  };
  try {
    const gone = begin({ ...transition, state: fresh, known });
    known.checkRest();
    const forget = [...new Set(Object.keys(trace).map(stepOf))];
    return { ...gone, trace: { ...kept, ...gone.trace }, forget };
  } catch (error) {
    if (error instanceof CannotGoAgain) return { ...unchanged(state), kept: true };
    throw error;
  }
}

const NO_ENV = { chance: () => 0, gathered: () => [], tries: 0 };

function finish(transition: Transition, where: Where): Advanced {
  const { state, effects, trace } = transition;
  if (where === 'open') state.status = isHeld(state) ? 'held' : 'waiting';
  else {
    state.status = where === 'through' ? 'done' : 'stopped';
    state.root.wait = undefined;
    effects.push({ do: 'finish', outcome: state.status as 'done' | 'stopped' });
  }
  return { state, effects, trace };
}

function isHeld(state: RunState): boolean {
  const { wait } = state.root;
  if (wait?.for === 'acts') return wait.slots.some((slot) => slot.status === 'held');
  for (const passage of passagesIn(state.root))
    if (passage.wait?.for === 'acts' && passage.wait.slots.some((slot) => slot.status === 'held')) return true;
  return false;
}

function unchanged(state: RunState): Advanced {
  return { state, effects: [], trace: {} };
}
