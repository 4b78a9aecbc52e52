// Whether and how an act of a run is settled.
import type { Plan } from '../steps/verb.ts';
import { type Outcome } from '../model/acts.ts';
import type { Trace } from '../model/cells.ts';
import { FAILURE, type Node } from './program.ts';
import { decidedSlot, plannedCell, settledSlot } from './slots.ts';
import type { Passage, RunState, Slot } from '../model/state.ts';
import { type PassageEvent, type Taking, Scope } from './scope.ts';

/** What a switched-off step would have shown. */
export function offCell(plan: Plan, now: number): Trace[string] {
  switch (plan.go) {
    case 'perform':
      return plannedCell(plan.effects, now);
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

export const isSettled = (slot: Slot) => slot.status !== 'asked' && slot.status !== 'held';

/** A person ended the run while it was being taken further. */
export class Ended extends Error {
  override name = 'Ended';
}

/** What an event makes of the slot it is about; undefined when it does not fit. */
export function settledBy(taking: Taking, slot: Slot, event: PassageEvent): Slot | undefined {
  if (slot.status === 'done' || slot.status === 'skipped' || slot.status === 'failed') return undefined;
  switch (event.type) {
    case 'done':
      // Also when it was held as unknown in the meantime: a late answer is an answer.
      return settledSlot(slot, 'done', event.outcome);
    case 'failed': {
      if (slot.status !== 'asked') return undefined;
      taking.state.failures++;
      // Nobody but a person settles what is not known.
      if (taking.program.onFailure && !event.unknown && !inFailure(taking.state))
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
      if (slot.status !== 'asked') return undefined;
      const { says, then, found } = event.outdated;
      if (then === 'end') return { ...settledSlot(slot, 'skipped'), says, trouble: 'outdated' };
      return { ...slot, status: 'held', says, trouble: 'outdated', fault: undefined, found };
    }
    case 'decided':
      if (slot.status !== 'held') return undefined;
      return decidedSlot(slot, event.decision, taking.context.now, ++taking.state.generation);
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
    if (slot.status !== 'asked' && !asks) return;
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
