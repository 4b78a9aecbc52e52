import type { Item } from '../items/item.ts';
import { countGraphemes } from '../text/graphemes.ts';
import type { Cell, Trace } from './cells.ts';
import type { Effect, Outcome, PlannedEffect } from './effects.ts';
import type { Program } from './program.ts';
import type { Decision, RunEvent, RunState, Slot } from './state.ts';

/** What a run is about and when it is now. Handed in by the driver. */
export interface Context {
  item: Item;
  /** Milliseconds since 1970 UTC. */
  now: number;
  /** Unlike that of any other run, ever: keys of effects are made from it. */
  run: string;
}

/** What came of an event: the new state, what is to be done, and the cells that changed. */
export interface Advanced {
  state: RunState;
  effects: Effect[];
  trace: Trace;
}

/**
 * Takes a run one event further. Pure: the same arguments give the same result, and nothing is done here; the live
 * driver performs the effects for real, the rehearsal driver pretends.
 *
 * An event that no longer fits (an effect reported twice, a decision on something settled) changes nothing, so drivers
 * may deliver events more than once.
 *
 * @param state null for a run that has not begun
 */
export function advance(program: Program, state: RunState | null, event: RunEvent, context: Context): Advanced {
  if (event.type === 'arrived') {
    if (state) return unchanged(state);
    return goOn(program, { status: 'waiting', at: 0, texts: NO_TEXTS, slots: [] }, context, {});
  }
  if (!state) throw new Error(`A run that has not begun cannot take the event “${event.type}”.`);
  if (event.type === 'pretended') return pretend(program, state, event.at, context);
  const index = state.slots.findIndex((slot) => slot.key === event.key);
  const slot = state.slots[index];
  if (!slot || slot.status === 'done' || slot.status === 'skipped') return unchanged(state);

  const settled = settle(slot, event, context);
  if (!settled) return unchanged(state);
  const slots = state.slots.with(index, settled.slot);
  const step = program.steps[state.at]!.id;
  const trace: Trace = { [step]: postsCell(slots, context.now) };
  if (slots.some((each) => each.status === 'asked' || each.status === 'held')) {
    return { state: { ...state, slots, status: statusOf(slots) }, effects: settled.effects(step), trace };
  }
  const next = goOn(program, afterStep(state), context, trace);
  return { ...next, effects: [...settled.effects(step), ...next.effects] };
}

/** All that was asked counts as done; what is held stays held, since in a rehearsal nobody is there to decide. */
function pretend(program: Program, state: RunState, at: number, context: Context): Advanced {
  if (!state.slots.some((slot) => slot.status === 'held')) return goOn(program, afterStep(state), context, {});
  const slots = state.slots.map((slot) =>
    slot.status === 'asked' ? settledSlot(slot, 'done', { remoteId: 'rehearsal', url: null, at }) : slot,
  );
  return { state: { ...state, slots, status: 'held' }, effects: [], trace: {} };
}

function afterStep(state: RunState): RunState {
  return { status: 'waiting', at: state.at + 1, texts: state.texts, slots: [] };
}

/** What a run begins with. Never changed: new texts make a new record. */
const NO_TEXTS: Record<string, string> = Object.freeze({});

/** Runs steps from where the state stands until one waits, stops, or none is left. */
function goOn(program: Program, from: RunState, context: Context, trace: Trace): Advanced {
  let texts = from.texts;
  const env = { item: context.item, texts, now: context.now };
  for (let at = from.at; at < program.steps.length; at++) {
    const step = program.steps[at]!;
    const plan = step.plan(env);
    if (step.off) {
      // It shows what would have been and changes nothing.
      const cell = plan.go === 'perform' ? plannedCell(plan.effects, context.now) : plan.cell;
      trace[step.id] = { ...cell, off: true };
      continue;
    }
    if (plan.go === 'perform') {
      const slots = plan.effects.map((effect) => slotFor(effect, step.id, context));
      trace[step.id] = postsCell(slots, context.now);
      if (slots.length === 0) continue;
      return {
        state: { status: statusOf(slots), at, texts, slots },
        effects: slots.map((slot) => (slot.status === 'asked' ? perform(slot, step.id) : hold(slot, step.id))),
        trace,
      };
    }
    trace[step.id] = plan.cell;
    if (plan.go === 'stop') return finished({ status: 'stopped', at, texts, slots: [] }, trace);
    if (plan.texts) env.texts = texts = texts === NO_TEXTS ? plan.texts : { ...texts, ...plan.texts };
  }
  return finished({ status: 'done', at: program.steps.length, texts, slots: [] }, trace);
}

function finished(state: RunState, trace: Trace): Advanced {
  return { state, effects: [{ do: 'finish', outcome: state.status === 'stopped' ? 'stopped' : 'done' }], trace };
}

function unchanged(state: RunState): Advanced {
  return { state, effects: [], trace: {} };
}

function statusOf(slots: readonly Slot[]): RunState['status'] {
  return slots.some((slot) => slot.status === 'held') ? 'held' : 'waiting';
}

function slotFor(planned: PlannedEffect, step: string, context: Context): Slot {
  const { outlet, action, input, length, limit, blocked } = planned;
  return {
    key: effectKey(context.run, step, outlet, 1),
    outlet,
    action,
    input,
    length,
    limit,
    generation: 1,
    status: blocked ? 'held' : 'asked',
    outcome: undefined,
    says: blocked?.says,
    trouble: blocked?.trouble,
  };
}

/**
 * The key of an effect. Networks see it, so it tells nothing about the brand. The generation changes only when a person
 * decides to try anew: the network may have remembered the key together with its refusal.
 */
export function effectKey(run: string, step: string, outlet: number, generation: number): string {
  return `${run}.${step}.${outlet}.${generation}`;
}

function perform(slot: Slot, step: string): Effect {
  return { do: 'perform', key: slot.key, step, action: slot.action, outlet: slot.outlet, input: slot.input };
}

function hold(slot: Slot, step: string): Effect {
  return { do: 'hold', key: slot.key, step, says: slot.says ?? '' };
}

interface Settled {
  slot: Slot;
  effects: (step: string) => Effect[];
}

const nothing = () => [];

/** What an event makes of the slot it is about; undefined when it does not fit. */
function settle(slot: Slot, event: Extract<RunEvent, { key: string }>, context: Context): Settled | undefined {
  switch (event.type) {
    case 'done':
      // Also when it was held as unknown in the meantime: a late answer is an answer.
      return { slot: settledSlot(slot, 'done', event.outcome), effects: nothing };
    case 'failed': {
      if (slot.status !== 'asked') return undefined;
      const held: Slot = { ...slot, status: 'held', says: event.says, trouble: event.unknown ? 'unknown' : 'failed' };
      return { slot: held, effects: (step) => [hold(held, step)] };
    }
    case 'decided':
      return slot.status === 'held' ? decided(slot, event.decision, context) : undefined;
  }
}

function decided(slot: Slot, decision: Decision, context: Context): Settled {
  switch (decision.do) {
    case 'skip':
      return { slot: settledSlot(slot, 'skipped'), effects: nothing };
    case 'itWentOut': {
      const outcome = { remoteId: '', url: decision.url ?? null, at: context.now };
      return { slot: settledSlot(slot, 'done', outcome), effects: nothing };
    }
    case 'retry': {
      const generation = slot.generation + 1;
      const input = decision.text === undefined ? slot.input : { ...slot.input, text: decision.text };
      const again: Slot = {
        ...settledSlot(slot, 'asked'),
        generation,
        key: slot.key.replace(/\.\d+$/, `.${generation}`),
        input,
        length: decision.text === undefined ? slot.length : countGraphemes(decision.text),
      };
      return { slot: again, effects: (step) => [perform(again, step)] };
    }
  }
}

/** The slot in a new status, its trouble forgotten. */
function settledSlot(slot: Slot, status: Slot['status'], outcome?: Outcome): Slot {
  const { key, outlet, action, input, length, limit, generation } = slot;
  return {
    key,
    outlet,
    action,
    input,
    length,
    limit,
    generation,
    status,
    outcome,
    says: undefined,
    trouble: undefined,
  };
}

const SHOWN = { asked: 'sending', done: 'posted', held: 'held', skipped: 'skipped' } as const;

// The objects below are written out field by field: rehearsals make tens of thousands a second, and a spread costs
// several times as much.

/** The cell of a step that sends, from where its effects stand. */
function postsCell(slots: readonly Slot[], now: number): Cell {
  return {
    kind: 'posts',
    posts: slots.map(({ outlet, status, input, length, limit, outcome, says, trouble, key }) => ({
      outlet,
      status: SHOWN[status],
      text: input.text,
      card: input.card,
      length,
      limit,
      at: outcome === undefined ? now : outcome.at,
      url: outcome?.url ?? undefined,
      says,
      trouble,
      key,
    })),
  };
}

/** The cell of a step that would send, were it not switched off. */
function plannedCell(effects: readonly PlannedEffect[], now: number): Cell {
  return {
    kind: 'posts',
    posts: effects.map(({ outlet, input, length, limit, blocked }) => ({
      outlet,
      status: 'planned',
      text: input.text,
      card: input.card,
      length,
      limit,
      at: now,
      url: undefined,
      says: blocked?.says,
      trouble: blocked?.trouble,
      key: undefined,
    })),
  };
}
