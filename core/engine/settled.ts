// Whether and how an act of a run is settled.
import type { Plan } from '../steps/verb.ts';
import { type Outcome } from '../model/acts.ts';
import type { Trace } from '../model/cells.ts';
import { FAILURE, type Node } from './program.ts';
import { decidedSlot, effectOf, wouldBeCell, settledSlot, slotsCell } from './slots.ts';
import type { Passage, RunState, Slot, Waiting } from '../model/state.ts';
import { type PassageEvent, type Transition, Scope } from './scope.ts';

/** What a switched-off step would have shown. */
export function offCell(plan: Plan, now: number): Trace[string] {
  switch (plan.go) {
    case 'perform':
      return wouldBeCell(plan.effects, now);
    case 'wait':
      return { kind: 'waits', until: plan.until, why: plan.why, over: plan.until <= now };
    case 'each':
      return { kind: 'elements', labels: plan.labels, left: plan.elements.length, why: plan.why };
    default:
      return plan.cell ?? { kind: 'passes', why: '' };
  }
}

export function overCell(plan: Plan, until: number): Trace[string] {
  return { kind: 'waits', until, why: plan.go === 'wait' ? plan.why : '', over: true };
}

export const isSettled = (slot: Slot) => slot.status !== 'planned' && slot.status !== 'held';

/** A person ended the run while it was being taken further. */
export class Ended extends Error {
  override name = 'Ended';
}

/** What an event makes of the slot it is about; undefined when it does not fit. */
export function settledBy(transition: Transition, slot: Slot, event: PassageEvent): Slot | undefined {
  if (slot.status === 'done' || slot.status === 'skipped' || slot.status === 'failed') return undefined;
  switch (event.type) {
    case 'done':
      // Also when it was held as unknown in the meantime: a late answer is an answer.
      return settledSlot(slot, 'done', event.outcome);
    case 'failed': {
      if (slot.status !== 'planned') return undefined;
      transition.state.failures++;
      // Nobody but a person settles what is not known.
      if (transition.program.onFailure && !event.unknown && !inFailure(transition.state))
        return { ...settledSlot(slot, 'failed'), says: event.says, trouble: 'failed', fault: event.fault };
      return {
        ...slot,
        status: 'held',
        says: event.says,
        trouble: event.unknown ? 'unknown' : 'failed',
        fault: event.fault,
      };
    }
    case 'outdated': {
      if (slot.status !== 'planned') return undefined;
      const { says, then, found } = event.outdated;
      if (then === 'end') return { ...settledSlot(slot, 'skipped'), says, trouble: 'outdated' };
      return { ...slot, status: 'held', says, trouble: 'outdated', fault: undefined, found };
    }
    case 'decided':
      if (slot.status !== 'held') return undefined;
      return decidedSlot(slot, event.decision, transition.context.now, ++transition.state.generation);
    default:
      return undefined;
  }
}

/** Whether the run is already in the steps that follow a failure: what fails there goes to a person. */
function inFailure(state: RunState): boolean {
  const within = (passage: Passage): boolean => {
    const { wait } = passage;
    if (wait?.for === 'inside') return wait.branch === FAILURE || within(wait.passage);
    return wait?.for === 'elements' && wait.open.some((each) => within(each.passage));
  };
  return within(state.root);
}

/** All that was asked counts as done; what is held stays held, but for questions: a rehearsal takes them for answered. */
export function pretend(node: Node, scope: Scope, slots: Slot[], at: number): boolean {
  let met = false;
  slots.forEach((slot, index) => {
    const asks = slot.status === 'held' && slot.trouble === 'asks';
    if (slot.status !== 'planned' && !asks) return;
    met = true;
    const outcome: Outcome = { remoteId: 'rehearsal', url: null, at };
    const result = asks
      ? slot.action === 'hold' && slot.input.text !== null
        ? { text: slot.input.text }
        : undefined
      : node.prepared.pretend?.(scope, slot);
    if (result) outcome.result = result;
    slots[index] = settledSlot(slot, 'done', outcome);
  });
  return met;
}

/**
 * Takes an event to the acts that a passage waits for.
 *
 * @returns unmet: it is about none of them, and nothing has changed; stops: the run stops here
 * @throws Ended when a person has ended the run
 */
export function meetSlots(
  transition: Transition,
  node: Node,
  scope: Scope,
  wait: Extract<Waiting, { for: 'acts' }>,
  event: PassageEvent,
): 'unmet' | 'met' | 'stops' {
  if (event.type === 'pretended') return pretend(node, scope, wait.slots, event.at) ? 'met' : 'unmet';
  if (!('key' in event)) return 'unmet';
  const index = wait.slots.findIndex((slot) => slot.key === event.key);
  const slot = wait.slots[index];
  const settled = slot && settledBy(transition, slot, event);
  if (!settled) return 'unmet';
  wait.slots[index] = settled;
  if (settled.action === 'hold' && settled.status === 'done' && settled.outcome) {
    const given = settled.outcome.result?.text;
    const { at } = settled.outcome;
    transition.state.yes = {
      ...transition.state.yes,
      [scope.place]: { asked: settled.input.text, given: typeof given === 'string' ? given : null, at },
    };
  }
  if (event.type === 'outdated' && event.outdated.then === 'end') {
    transition.trace[scope.place] = slotsCell(wait.slots, scope.now, node.prepared.result);
    return 'stops';
  }
  if (settled.status === 'planned' || settled.status === 'held')
    transition.effects.push(effectOf(settled, scope.place));
  if (event.type === 'decided' && event.decision.do === 'end') {
    transition.trace[scope.place] = slotsCell(wait.slots, scope.now, node.prepared.result);
    throw new Ended();
  }
  return 'met';
}
