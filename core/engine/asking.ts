// What a step asks its driver, and waits for the answer.
import type { Passage, Waiting } from '../model/state.ts';
import type { Transition } from './scope.ts';
import { effectKey } from './slots.ts';

/** By what an answer finds its way back to the step that asks. */
export const askKey = (transition: Transition, place: string) =>
  effectKey(transition.context.run, place, 'ask', transition.state.generation);

/** Asks, and has the passage wait for the answer. */
export function ask(
  transition: Transition,
  passage: Passage,
  place: string,
  what: Extract<Waiting, { for: 'answer' }>['ask'],
  tries: number,
): 'open' {
  const key = askKey(transition, place);
  passage.wait = { for: 'answer', key, ask: what, tries };
  transition.effects.push({ do: 'ask', key, ask: what });
  return 'open';
}
