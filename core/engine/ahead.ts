// Which posts a run has still to come to: for what is planned, before their words are known.
import type { Passage, RunState } from '../model/state.ts';
import { stepBranches, type Step } from '../steps/index.ts';
import type { Definition } from '../workflow/definition.ts';

/** A post that a run has not come to yet. */
export interface PostAhead {
  /** The id of the Publish step. */
  step: string;
  outlet: number;
  /** Nothing between here and there may end the run or take another way: no Check, no Split, no question. */
  sure: boolean;
}

/** After these a run may not go on, or not this way. */
const MAY_TURN: ReadonlySet<Step['verb']> = new Set(['check', 'split', 'foreach', 'gather', 'find', 'hold', 'end']);

/**
 * The posts a run may still come to, in the order of the sheet, each step and outlet once. What it has asked for already
 * is not among them: the outbox has that.
 *
 * @param state null for a run that has not begun
 */
export function postsAhead(definition: Definition, state: RunState | null): PostAhead[] {
  if (state && state.status !== 'waiting' && state.status !== 'held') return [];
  const found = new Map<string, PostAhead>();
  /** @returns whether what comes after these steps is as sure as before them */
  const meet = (steps: readonly Step[], sure: boolean): boolean => {
    let still = sure;
    for (const step of steps) {
      if (step.off) continue;
      if (step.verb === 'publish')
        for (const outlet of step.outlets) {
          const key = `${step.id}.${outlet}`;
          if (!found.has(key)) found.set(key, { step: step.id, outlet, sure: still });
        }
      if (MAY_TURN.has(step.verb)) still = false;
      for (const branch of stepBranches(step)) meet(branch.steps, false);
    }
    return still;
  };
  const stand = (steps: readonly Step[], passage: Passage, sure: boolean): void => {
    const { at, wait } = passage;
    // At the step that lets each person through once, it stands at none of the sheet: what is ahead is not known to it.
    const index = steps.findIndex((step) => step.id === at);
    if (index < 0) return;
    const inner = (branch: string) => stepBranches(steps[index]!).find((each) => each.id === branch)?.steps ?? [];
    let still = sure;
    if (wait?.for === 'inside') stand(inner(wait.branch), wait.passage, still);
    if (wait?.for === 'elements') {
      for (const each of wait.open) stand(inner('each'), each.passage, false);
      if (wait.rest.length > 0) meet(inner('each'), false);
    }
    // What it waits for may not come, or be answered with no.
    if (wait?.for === 'elements' || wait?.for === 'answer' || wait?.for === 'others') still = false;
    // A step that is still to be planned is ahead itself; one that waits for its acts or has been left is not.
    const here = !wait || (wait.for === 'moment' && wait.then === 'plan') || wait.for === 'answer';
    meet(steps.slice(here ? index : index + 1), still);
  };
  const once = (definition.settings?.once ?? null) !== null;
  if (state) stand(definition.steps, state.root, !once);
  else meet(definition.steps, !once);
  return [...found.values()];
}
