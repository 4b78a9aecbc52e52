// Finding one's way among the steps of a definition, nested ones included.
import { stepBranches, type Step } from '../steps/index.ts';
import type { Source } from './source.ts';
import type { Settings } from './settings.ts';

interface Tree {
  sources: Source[];
  steps: Step[];
  settings?: Settings | undefined;
}

/** A step with where it stands. */
export interface Placed {
  step: Step;
  /** The list it stands in; changing it changes the definition. */
  list: Step[];
  index: number;
  /** The step and branch it lies in; null at the top. */
  inside: { step: Step; branch: string; label: string } | null;
  depth: number;
  /** "4", "4a.1". Sources count from 1, steps go on after them. */
  number: string;
  /** Ids of the For each steps it lies in, outermost first. */
  each: readonly string[];
}

/** Every step in the order of the sheet, a nested one right after the step it lies in; steps for failures come last. */
export function allSteps(definition: Tree): Placed[] {
  const all: Placed[] = [];
  const visit = (
    list: Step[],
    inside: Placed['inside'],
    depth: number,
    prefix: string,
    from: number,
    each: string[],
  ) => {
    list.forEach((step, index) => {
      const number = `${prefix}${index + from}`;
      all.push({ step, list, index, inside, depth, number, each });
      const branches = stepBranches(step);
      branches.forEach((branch, at) => {
        const letter = branches.length > 1 ? String.fromCharCode(97 + at) : '';
        visit(
          branch.steps,
          { step, branch: branch.id, label: branch.label },
          depth + 1,
          `${number}${letter}.`,
          1,
          step.verb === 'foreach' ? [...each, step.id] : each,
        );
      });
    });
  };
  visit(definition.steps, null, 0, '', definition.sources.length + 1, []);
  const failure = definition.settings?.onFailure;
  if (failure?.do === 'steps') visit(failure.steps, null, 0, 'F', 1, []);
  return all;
}

/** A step by its id, with where it stands. */
export function placeOf(definition: Tree, id: string): Placed | undefined {
  return allSteps(definition).find(({ step }) => step.id === id);
}

/** The steps before one that are sure to have happened, or may have: those above it, and those it lies in. */
export function stepsBefore(definition: Tree, id: string): Step[] {
  const before: Step[] = [];
  for (const { step } of allSteps(definition)) {
    if (step.id === id) return before;
    before.push(step);
  }
  return before;
}
