// Steps inside a step: the cases of a Split, the elements of a For each, what follows a failure.
import type { FieldValue } from '../items/item.ts';
import type { Passage, Waiting } from '../model/state.ts';
import { FAILURE, type Block, type Node } from './program.ts';
import type { Scope, StepEnd, Transition, Where } from './scope.ts';

/** @throws an error when this version has no such branch */
export function branchOf(transition: Transition, node: Node, branch: string): Block {
  if (branch === FAILURE && transition.program.onFailure?.do === 'steps') return transition.program.onFailure.block;
  const block = node.branches?.get(branch);
  if (!block) throw new Error(`The step ${node.id} has no branch ${branch} in this version.`);
  return block;
}

/** What the steps inside have come to, for the step around them. */
export function afterInside(passage: Passage, scope: Scope, branch: string, inner: Passage, where: Where): StepEnd {
  if (where === 'open') {
    passage.wait = { for: 'inside', branch, passage: inner };
    return 'open';
  }
  // Also of one that was stopped: running again from a later step may want them.
  scope.setValues(inner.values);
  if (inner.gathered) passage.gathered = { ...passage.gathered, ...inner.gathered };
  return where === 'stopped' || branch === FAILURE ? 'stopped' : 'next';
}

/** Where a step stands in its list. @throws an error when this version has no such step */
export function positionOf(block: Block, step: string): number {
  const index = block.index.get(step);
  if (index === undefined) throw new Error(`The step ${step} is not in this version.`);
  return index;
}

/** A passage waits for the elements of a For each; none has begun. */
export const waitFor = (node: Node, elements: readonly FieldValue[]): Extract<Waiting, { for: 'elements' }> => ({
  for: 'elements',
  rest: [...elements],
  count: elements.length,
  open: [],
  made: node.keeps ? elements.map(() => null) : [],
});
