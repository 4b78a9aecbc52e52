// Running again from a step, and moving to another version: both put a run at a step of a program.
import type { Block, Program } from './program.ts';
import { type Passage, type RunState } from '../model/state.ts';

/** The way to a step: the steps it lies in with the branch taken, then the step itself. */
export type Path = { step: string; branch: string | null }[];

/**
 * @returns null when there is no such step, or it lies in a For each: an element cannot be run again by itself
 */
export function pathTo(program: Program, step: string): Path | null {
  const find = (block: Block): Path | null => {
    for (const node of block.nodes) {
      if (node.id === step) return [{ step, branch: null }];
      for (const [branch, inner] of node.branches ?? []) {
        if (branch === 'each') continue;
        const rest = find(inner);
        if (rest) return [{ step: node.id, branch }, ...rest];
      }
    }
    return null;
  };
  return find(program.root);
}

/** Puts a run at a step, about to be planned. What earlier steps have made stays known. */
export function standAt(state: RunState, path: Path, now: number): void {
  let passage: Passage = state.root;
  for (const [depth, { step, branch }] of path.entries()) {
    passage.at = step;
    if (branch === null) {
      passage.wait = { for: 'moment', until: now, then: 'plan', tries: 0 };
    } else {
      const inner: Passage = { at: path[depth + 1]!.step, values: {} };
      passage.wait = { for: 'inside', branch, passage: inner };
      passage = inner;
    }
  }
  state.status = 'waiting';
}

/** The step and every one that comes after it, or inside it, in the order of the sheet. */
export function stepsFrom(program: Program, step: string): string[] {
  const all: string[] = [];
  let met = false;
  const visit = (block: Block, counts: boolean) => {
    for (const node of block.nodes) {
      const here = counts || met || node.id === step;
      if (node.id === step) met = true;
      if (here) all.push(node.id);
      for (const inner of node.branches?.values() ?? []) visit(inner, node.id === step);
    }
  };
  visit(program.root, false);
  return all;
}

/**
 * Whether a run can go on in another version of its workflow.
 *
 * @returns the id of a step it stands at which that version does not have in the same place; null when it can
 */
export function missingStep(state: RunState, program: Program): string | null {
  const look = (block: Block, passage: Passage): string | null => {
    if (passage.at === null || !passage.wait) return null;
    const index = block.index.get(passage.at);
    const node = index === undefined ? undefined : block.nodes[index];
    if (!node) return passage.at;
    const { wait } = passage;
    if (wait.for === 'inside') {
      const inner = node.branches?.get(wait.branch);
      return inner ? look(inner, wait.passage) : passage.at;
    }
    if (wait.for === 'elements') {
      const inner = node.branches?.get('each');
      if (!inner) return passage.at;
      for (const each of wait.open) {
        const missing = look(inner, each.passage);
        if (missing) return missing;
      }
    }
    return null;
  };
  return look(program.root, state.root);
}
