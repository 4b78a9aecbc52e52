// How a run goes through its steps. A passage stands at one step of one list; Split and For each open passages inside
// it. Everything here changes the state it is given: advance.ts hands in a copy.
import type { FieldValue, Fields } from '../items/item.ts';
import type { Env, Plan } from '../steps/verb.ts';
import { FAILURE, type Block, type Node } from './program.ts';
import { ask, askKey } from './asking.ts';
import { afterInside, branchOf, positionOf, waitFor } from './inside.ts';
import { opensAt, slotsFor } from './performing.ts';
import { effectOf, slotsCell } from './slots.ts';
import type { Passage, Slot, Waiting } from '../model/state.ts';
import { type PassageEvent, type StepEnd, type Transition, type Where, Scope, newPassage } from './scope.ts';
import { overCell, isSettled, meetSlots, offCell } from './settled.ts';

/** Runs steps from where the passage stands until one waits, stops, or none is left. */
export function goOn(transition: Transition, block: Block, passage: Passage, outer: Env | null, suffix: string): Where {
  if (passage.at === null) return 'through';
  const scope = new Scope(transition, passage, outer);
  return from(transition, block, passage, scope, suffix, positionOf(block, passage.at));
}

export function from(
  transition: Transition,
  block: Block,
  passage: Passage,
  scope: Scope,
  suffix: string,
  start: number,
): Where {
  const { nodes } = block;
  for (let index = start; index < nodes.length; index++) {
    const node = nodes[index]!;
    passage.at = node.id;
    scope.place = suffix === '' ? node.id : node.id + suffix;
    scope.tries = 0;
    const end = take(transition, node, node.prepared.plan(scope), passage, scope, suffix);
    if (end !== 'next') return end;
  }
  passage.at = null;
  return 'through';
}

/** Carries out what a step has decided. */
export function take(
  transition: Transition,
  node: Node,
  first: Plan,
  passage: Passage,
  scope: Scope,
  suffix: string,
): StepEnd {
  const { trace, context } = transition;
  const { place } = scope;
  if (node.off) {
    trace[place] = { ...offCell(first, context.now), off: true };
    return 'next';
  }
  let plan = first;
  for (;;) {
    switch (plan.go) {
      case 'on':
        if (plan.cell) trace[place] = plan.cell;
        if (plan.values) scope.setValues(plan.values);
        return 'next';
      case 'stop':
        trace[place] = plan.cell;
        return 'stopped';
      case 'wait': {
        if (plan.values) scope.setValues(plan.values);
        const begun = plan.counted ? transition.known?.until(place) : undefined;
        if (begun !== undefined) plan = { ...plan, until: begun };
        const over = plan.until <= context.now;
        trace[place] = { kind: 'waits', until: plan.until, why: plan.why, over };
        if (!over) {
          passage.wait = { for: 'moment', until: plan.until, then: plan.then, tries: scope.tries + 1 };
          return 'open';
        }
        if (plan.then === 'next') return 'next';
        scope.tries++;
        plan = node.prepared.plan(scope);
        continue;
      }
      case 'ask':
        if (plan.cell) trace[place] = plan.cell;
        if (plan.ask.of === 'rotation' && node.prepared.answered) {
          const choice = transition.known?.rotation(place);
          if (choice !== undefined) {
            plan = node.prepared.answered(scope, { of: 'rotation', choice });
            continue;
          }
        }
        return ask(transition, passage, place, plan.ask, scope.tries);
      case 'others':
        trace[place] = plan.cell;
        passage.wait = { for: 'others', key: askKey(transition, place), ask: plan.ask, until: plan.until };
        return 'open';
      case 'perform': {
        const opens = opensAt(transition, plan.effects);
        if (opens !== null) {
          plan = { go: 'wait', until: opens, why: 'for the opening hours', then: 'plan' };
          continue;
        }
        const { tries } = scope;
        const slots = slotsFor(transition, plan.effects, place, tries);
        trace[place] = slotsCell(slots, context.now, transition.known && node.prepared.result);
        if (slots.length === 0) return 'next';
        if (transition.known && slots.every(isSettled)) {
          const next = afterActs(transition, node, passage, scope, suffix, slots);
          if (typeof next === 'string') return next;
          plan = next;
          continue;
        }
        passage.wait = { for: 'acts', slots, tries };
        for (const slot of slots)
          if (!transition.known?.has(slot.key) && !isSettled(slot)) transition.effects.push(effectOf(slot, place));
        return 'open';
      }
      case 'into': {
        trace[place] = plan.cell;
        if (plan.branch === null) return 'next';
        return enter(transition, node, plan.branch, passage, scope, suffix, {});
      }
      case 'each': {
        transition.known?.checkElements(place, plan.labels);
        passage.wait = waitFor(node, plan.elements);
        return pump(transition, node, passage, scope, suffix, plan);
      }
    }
  }
}

/** Opens the steps inside a branch. */
function enter(
  transition: Transition,
  node: Node,
  branch: string,
  passage: Passage,
  scope: Scope,
  suffix: string,
  values: Fields,
): StepEnd {
  const block = branchOf(transition, node, branch);
  const inner = newPassage(block, values);
  return afterInside(passage, scope, branch, inner, goOn(transition, block, inner, scope, suffix));
}

/** Lets elements begin: all together, or the next one when none is under way. */
function pump(
  transition: Transition,
  node: Node,
  passage: Passage,
  scope: Scope,
  suffix: string,
  plan: Extract<Plan, { go: 'each' }>,
): StepEnd {
  const wait = passage.wait as Extract<Waiting, { for: 'elements' }>;
  const block = branchOf(transition, node, 'each');
  while (wait.rest.length > 0 && (plan.together || wait.open.length === 0)) {
    const number = wait.count - wait.rest.length;
    const element: FieldValue = wait.rest.shift()!;
    const inner = newPassage(block, { [plan.as]: element, [`${plan.as}.number`]: number + 1 });
    const where = goOn(transition, block, inner, scope, `${suffix}#${number}`);
    if (where === 'open') wait.open.push({ number, passage: inner });
    else if (node.keeps) wait.made[number] = where === 'through' ? inner.values : null;
  }
  const left = wait.open.length + wait.rest.length;
  transition.trace[scope.place] = { kind: 'elements', labels: plan.labels, left, why: plan.why };
  if (left > 0) return 'open';
  if (node.keeps) passage.gathered = { ...passage.gathered, [node.id]: wait.made };
  return 'next';
}

/**
 * Takes an event to the step it is about, and goes on from there.
 *
 * @returns undefined when it is about nothing in this passage, or no longer fits: then nothing has changed
 */
export function deliver(
  transition: Transition,
  block: Block,
  passage: Passage,
  outer: Env | null,
  suffix: string,
  event: PassageEvent,
): Where | undefined {
  const { wait } = passage;
  if (!wait || passage.at === null) return undefined;
  const position = positionOf(block, passage.at);
  const node = block.nodes[position]!;
  const scope = new Scope(transition, passage, outer);
  scope.place = node.id + suffix;
  const end = meet(transition, node, passage, scope, suffix, wait, event);
  if (end !== 'next') return end;
  passage.wait = undefined;
  return from(transition, block, passage, scope, suffix, position + 1);
}

/** What an event makes of what a passage waits for. */
function meet(
  transition: Transition,
  node: Node,
  passage: Passage,
  scope: Scope,
  suffix: string,
  wait: Waiting,
  event: PassageEvent,
): StepEnd | undefined {
  const { now } = transition.context;
  const decide = (plan: Plan): StepEnd => {
    passage.wait = undefined;
    return take(transition, node, plan, passage, scope, suffix);
  };
  switch (wait.for) {
    case 'inside': {
      const inner = deliver(transition, branchOf(transition, node, wait.branch), wait.passage, scope, suffix, event);
      if (inner === undefined) return undefined;
      if (inner !== 'open') passage.wait = undefined;
      return afterInside(passage, scope, wait.branch, wait.passage, inner);
    }
    case 'elements': {
      const block = branchOf(transition, node, 'each');
      let met = false;
      for (const each of [...wait.open]) {
        const where = deliver(transition, block, each.passage, scope, `${suffix}#${each.number}`, event);
        if (where === undefined) continue;
        met = true;
        if (where === 'open') continue;
        wait.open.splice(wait.open.indexOf(each), 1);
        if (node.keeps) wait.made[each.number] = where === 'through' ? each.passage.values : null;
      }
      if (!met) return undefined;
      // Planned again only for what it says of its elements; they are those it began with.
      const plan = node.prepared.plan(scope);
      return plan.go === 'each' ? pump(transition, node, passage, scope, suffix, plan) : 'open';
    }
    case 'moment': {
      if (event.type !== 'woke' || wait.until > now) return undefined;
      scope.tries = wait.tries;
      if (wait.then === 'plan') return decide(node.prepared.plan(scope));
      const cell = transition.trace[scope.place];
      transition.trace[scope.place] =
        cell?.kind === 'waits' ? { ...cell, over: true } : overCell(node.prepared.plan(scope), wait.until);
      return 'next';
    }
    case 'answer': {
      if (event.type !== 'answered' || event.key !== wait.key) return undefined;
      scope.tries = wait.tries;
      return decide(node.prepared.answered?.(scope, event.answer) ?? { go: 'on', cell: null });
    }
    case 'others':
      // Others may have changed the moment since, so the driver is asked whatever it was.
      return event.type === 'woke' ? ask(transition, passage, scope.place, wait.ask, 0) : undefined;
    case 'acts':
      return settle(transition, node, passage, scope, suffix, wait, event);
  }
}

function settle(
  transition: Transition,
  node: Node,
  passage: Passage,
  scope: Scope,
  suffix: string,
  wait: Extract<Waiting, { for: 'acts' }>,
  event: PassageEvent,
): StepEnd | undefined {
  scope.tries = wait.tries;
  const met = meetSlots(transition, node, scope, wait, event);
  if (met === 'unmet') return undefined;
  if (met === 'stops') {
    passage.wait = undefined;
    return 'stopped';
  }
  const { slots } = wait;
  // What a rehearsal plans to post looks the same before and after; other acts show what they are taken to give.
  if (event.type !== 'pretended' || slots[0]?.action !== 'publish')
    transition.trace[scope.place] = slotsCell(slots, scope.now, node.prepared.result);
  if (!slots.every(isSettled)) return 'open';
  passage.wait = undefined;
  const next = afterActs(transition, node, passage, scope, suffix, slots);
  return typeof next === 'string' ? next : take(transition, node, next, passage, scope, suffix);
}

/** What follows once every act of a step is settled. */
function afterActs(
  transition: Transition,
  node: Node,
  passage: Passage,
  scope: Scope,
  suffix: string,
  slots: readonly Slot[],
): StepEnd | Plan {
  const { onFailure } = transition.program;
  if (slots.some((slot) => slot.status === 'failed')) {
    if (onFailure?.do === 'end') return 'stopped';
    const says = slots.map((slot) => slot.says).find(Boolean) ?? '';
    const values = { 'failure.says': says, 'failure.step': node.id };
    if (onFailure?.do === 'steps') return enter(transition, node, FAILURE, passage, scope, suffix, values);
  }
  return node.prepared.settled?.(scope, slots) ?? 'next';
}
