import type { Item } from '../items/item.ts';
import { countGraphemes } from '../text/graphemes.ts';
import type { Cell, PostCell, Trace } from './cells.ts';
import type { Effect, PlannedEffect } from './effects.ts';
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
    return goOn(program, { status: 'waiting', at: 0, texts: {}, slots: [] }, context, {});
  }
  if (!state) throw new Error(`A run that has not begun cannot take the event “${event.type}”.`);
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
  const next = goOn(program, { ...state, slots: [], status: 'waiting', at: state.at + 1 }, context, trace);
  return { ...next, effects: [...settled.effects(step), ...next.effects] };
}

/** Runs steps from where the state stands until one waits, stops, or none is left. */
function goOn(program: Program, from: RunState, context: Context, trace: Trace): Advanced {
  let texts = from.texts;
  for (let at = from.at; at < program.steps.length; at++) {
    const step = program.steps[at]!;
    const plan = step.plan({ item: context.item, texts, now: context.now });
    if (step.off) {
      // It shows what would have been and changes nothing.
      trace[step.id] = { ...plan.cell, off: true };
      continue;
    }
    trace[step.id] = plan.cell;
    if (plan.go === 'stop') {
      return finished({ status: 'stopped', at, texts, slots: [] }, trace);
    }
    if (plan.go === 'on') {
      if (plan.texts) texts = { ...texts, ...plan.texts };
      continue;
    }
    if (plan.effects.length === 0) continue;
    const slots = plan.effects.map((effect) => slotFor(effect, step.id, context));
    trace[step.id] = postsCell(slots, context.now);
    return {
      state: { status: statusOf(slots), at, texts, slots },
      effects: slots.map((slot) => (slot.status === 'asked' ? perform(slot, step.id) : hold(slot, step.id))),
      trace,
    };
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
  const slot: Slot = {
    key: effectKey(context.run, step, planned.outlet, 1),
    outlet: planned.outlet,
    action: planned.action,
    input: planned.input,
    length: planned.length,
    limit: planned.limit,
    generation: 1,
    status: planned.blocked ? 'held' : 'asked',
  };
  if (planned.blocked) {
    slot.says = planned.blocked.says;
    slot.trouble = planned.blocked.trouble;
  }
  return slot;
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
function settle(slot: Slot, event: Exclude<RunEvent, { type: 'arrived' }>, context: Context): Settled | undefined {
  switch (event.type) {
    case 'done':
      // Also when it was held as unknown in the meantime: a late answer is an answer.
      return { slot: without(slot, { status: 'done', outcome: event.outcome }), effects: nothing };
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
      return { slot: without(slot, { status: 'skipped' }), effects: nothing };
    case 'itWentOut': {
      const outcome = { remoteId: '', url: decision.url ?? null, at: context.now };
      return { slot: without(slot, { status: 'done', outcome }), effects: nothing };
    }
    case 'retry': {
      const generation = slot.generation + 1;
      const again = without(slot, {
        status: 'asked',
        generation,
        key: slot.key.replace(/\.\d+$/, `.${generation}`),
        ...(decision.text === undefined
          ? {}
          : { input: { ...slot.input, text: decision.text }, length: countGraphemes(decision.text) }),
      });
      return { slot: again, effects: (step) => [perform(again, step)] };
    }
  }
}

/** The slot with some things changed and its trouble forgotten. */
function without(slot: Slot, change: Partial<Slot>): Slot {
  const { says: _says, trouble: _trouble, ...rest } = slot;
  return { ...rest, ...change };
}

/** The cell of a step that sends, from where its effects stand. */
function postsCell(slots: readonly Slot[], now: number): Cell {
  return {
    kind: 'posts',
    posts: slots.map((slot) => {
      const post: PostCell = {
        outlet: slot.outlet,
        status: ({ asked: 'sending', done: 'posted', held: 'held', skipped: 'skipped' } as const)[slot.status],
        text: slot.input.text,
        card: slot.input.card,
        length: slot.length,
        limit: slot.limit,
        at: slot.outcome?.at ?? now,
        key: slot.key,
      };
      if (slot.outcome?.url) post.url = slot.outcome.url;
      if (slot.says !== undefined) post.says = slot.says;
      if (slot.trouble) post.trouble = slot.trouble;
      return post;
    }),
  };
}
