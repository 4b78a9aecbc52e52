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
import { type PassageEvent, type StepEnd, type Taking, type Where, Scope, newPassage } from './scope.ts';
import { overCell, isSettled, meetSlots, offCell } from './settled.ts';

/** Runs steps from where the passage stands until one waits, stops, or none is left. */
export function goOn(taking: Taking, block: Block, passage: Passage, outer: Env | null, suffix: string): Where {
  if (passage.at === null) return 'through';
  const scope = new Scope(taking, passage, outer);
  return from(taking, block, passage, scope, suffix, positionOf(block, passage.at));
}

export function from(
  taking: Taking,
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
    const end = take(taking, node, node.prepared.plan(scope), passage, scope, suffix);
    if (end !== 'next') return end;
  }
  passage.at = null;
  return 'through';
}

/** Carries out what a step has decided. */
export function take(taking: Taking, node: Node, first: Plan, passage: Passage, scope: Scope, suffix: string): StepEnd {
  const { trace, context } = taking;
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
        const begun = plan.counted ? taking.known?.until(place) : undefined;
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
        if (plan.ask.of === 'turn' && node.prepared.answered) {
          const choice = taking.known?.turn(place);
          if (choice !== undefined) {
            plan = node.prepared.answered(scope, { of: 'turn', choice });
            continue;
          }
        }
        return ask(taking, passage, place, plan.ask, scope.tries);
      case 'others':
        trace[place] = plan.cell;
        passage.wait = { for: 'others', key: askKey(taking, place), ask: plan.ask, until: plan.until };
        return 'open';
      case 'perform': {
        const opens = opensAt(taking, plan.effects);
        if (opens !== null) {
          plan = { go: 'wait', until: opens, why: 'for the opening hours', then: 'plan' };
          continue;
        }
        const { tries } = scope;
        const slots = slotsFor(taking, plan.effects, place, tries);
        trace[place] = slotsCell(slots, context.now, taking.known && node.prepared.result);
        if (slots.length === 0) return 'next';
        if (taking.known && slots.every(isSettled)) {
          const next = afterActs(taking, node, passage, scope, suffix, slots);
          if (typeof next === 'string') return next;
          plan = next;
          continue;
        }
        passage.wait = { for: 'acts', slots, tries };
        for (const slot of slots)
          if (!taking.known?.has(slot.key) && !isSettled(slot)) taking.effects.push(effectOf(slot, place));
        return 'open';
      }
      case 'into': {
        trace[place] = plan.cell;
        if (plan.branch === null) return 'next';
        return enter(taking, node, plan.branch, passage, scope, suffix, {});
      }
      case 'each': {
        taking.known?.checkElements(place, plan.labels);
        passage.wait = waitFor(node, plan.elements);
        return pump(taking, node, passage, scope, suffix, plan);
      }
    }
  }
}

/** Opens the steps inside a branch. */
function enter(
  taking: Taking,
  node: Node,
  branch: string,
  passage: Passage,
  scope: Scope,
  suffix: string,
  values: Fields,
): StepEnd {
  const block = branchOf(taking, node, branch);
  const inner = newPassage(block, values);
  return afterInside(passage, scope, branch, inner, goOn(taking, block, inner, scope, suffix));
}

/** Lets elements begin: all together, or the next one when none is under way. */
function pump(
  taking: Taking,
  node: Node,
  passage: Passage,
  scope: Scope,
  suffix: string,
  plan: Extract<Plan, { go: 'each' }>,
): StepEnd {
  const wait = passage.wait as Extract<Waiting, { for: 'elements' }>;
  const block = branchOf(taking, node, 'each');
  const { place } = scope;
  while (wait.rest.length > 0 && (plan.together || wait.open.length === 0)) {
    const number = wait.count - wait.rest.length;
    const element: FieldValue = wait.rest.shift()!;
    const inner = newPassage(block, { [plan.as]: element, [`${plan.as}.number`]: number + 1 });
    const where = goOn(taking, block, inner, scope, `${suffix}#${number}`);
    if (where === 'open') wait.open.push({ number, passage: inner });
    else if (node.keeps) wait.made[number] = where === 'through' ? inner.values : null;
  }
  const left = wait.open.length + wait.rest.length;
  taking.trace[place] = { kind: 'elements', labels: plan.labels, left, why: plan.why };
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
  taking: Taking,
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
  const scope = new Scope(taking, passage, outer);
  scope.place = node.id + suffix;
  const end = meet(taking, node, passage, scope, suffix, wait, event);
  if (end !== 'next') return end;
  passage.wait = undefined;
  return from(taking, block, passage, scope, suffix, position + 1);
}

/** What an event makes of what a passage waits for. */
function meet(
  taking: Taking,
  node: Node,
  passage: Passage,
  scope: Scope,
  suffix: string,
  wait: Waiting,
  event: PassageEvent,
): StepEnd | undefined {
  const { now } = taking.context;
  const decide = (plan: Plan): StepEnd => {
    passage.wait = undefined;
    return take(taking, node, plan, passage, scope, suffix);
  };
  switch (wait.for) {
    case 'inside': {
      const inner = deliver(taking, branchOf(taking, node, wait.branch), wait.passage, scope, suffix, event);
      if (inner === undefined) return undefined;
      if (inner !== 'open') passage.wait = undefined;
      return afterInside(passage, scope, wait.branch, wait.passage, inner);
    }
    case 'elements': {
      const block = branchOf(taking, node, 'each');
      let met = false;
      for (const each of [...wait.open]) {
        const where = deliver(taking, block, each.passage, scope, `${suffix}#${each.number}`, event);
        if (where === undefined) continue;
        met = true;
        if (where === 'open') continue;
        wait.open.splice(wait.open.indexOf(each), 1);
        if (node.keeps) wait.made[each.number] = where === 'through' ? each.passage.values : null;
      }
      if (!met) return undefined;
      // Planned again only for what it says of its elements; they are those it began with.
      const plan = node.prepared.plan(scope);
      return plan.go === 'each' ? pump(taking, node, passage, scope, suffix, plan) : 'open';
    }
    case 'moment': {
      if (event.type !== 'woke' || wait.until > now) return undefined;
      scope.tries = wait.tries;
      if (wait.then === 'plan') return decide(node.prepared.plan(scope));
      const cell = taking.trace[scope.place];
      taking.trace[scope.place] =
        cell?.kind === 'waits' ? { ...cell, over: true } : overCell(node.prepared.plan(scope), wait.until);
      return 'next';
    }
    case 'answer': {
      if (event.type !== 'answered' || event.key !== wait.key) return undefined;
      scope.tries = wait.tries;
      const plan = node.prepared.answered?.(scope, event.answer);
      return decide(plan ?? { go: 'on', cell: null });
    }
    case 'others':
      // Others may have changed the moment since, so the driver is asked whatever it was.
      return event.type === 'woke' ? ask(taking, passage, scope.place, wait.ask, 0) : undefined;
    case 'acts':
      return settle(taking, node, passage, scope, suffix, wait, event);
  }
}

function settle(
  taking: Taking,
  node: Node,
  passage: Passage,
  scope: Scope,
  suffix: string,
  wait: Extract<Waiting, { for: 'acts' }>,
  event: PassageEvent,
): StepEnd | undefined {
  scope.tries = wait.tries;
  const met = meetSlots(taking, node, scope, wait, event);
  if (met === 'unmet') return undefined;
  if (met === 'stops') {
    passage.wait = undefined;
    return 'stopped';
  }
  const { slots } = wait;
  // What a rehearsal plans to post looks the same before and after; other acts show what they are taken to give.
  if (event.type !== 'pretended' || slots[0]?.action !== 'publish')
    taking.trace[scope.place] = slotsCell(slots, scope.now, node.prepared.result);
  if (!slots.every(isSettled)) return 'open';
  passage.wait = undefined;
  const next = afterActs(taking, node, passage, scope, suffix, slots);
  return typeof next === 'string' ? next : take(taking, node, next, passage, scope, suffix);
}

/** What follows once every act of a step is settled. */
function afterActs(
  taking: Taking,
  node: Node,
  passage: Passage,
  scope: Scope,
  suffix: string,
  slots: readonly Slot[],
): StepEnd | Plan {
  const { onFailure } = taking.program;
  if (slots.some((slot) => slot.status === 'failed')) {
    if (onFailure?.do === 'end') return 'stopped';
    if (onFailure?.do === 'steps') {
      const says = slots.map((slot) => slot.says).find(Boolean) ?? '';
      return enter(taking, node, FAILURE, passage, scope, suffix, { 'failure.says': says, 'failure.step': node.id });
    }
  }
  return node.prepared.settled?.(scope, slots) ?? 'next';
}
