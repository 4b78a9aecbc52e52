// What a step asks its driver, and waits for the answer.
import type { Passage, Waiting } from '../model/state.ts';
import type { Taking } from './scope.ts';
import { effectKey } from './slots.ts';

/** By what an answer finds its way back to the step that asks. */
export const askKey = (taking: Taking, place: string) =>
  effectKey(taking.context.run, place, 'ask', taking.state.generation);

/** Asks, and has the passage wait for the answer. */
export function ask(
  taking: Taking,
  passage: Passage,
  place: string,
  what: Extract<Waiting, { for: 'answer' }>['ask'],
  tries: number,
): 'open' {
  const key = askKey(taking, place);
  passage.wait = { for: 'answer', key, ask: what, tries };
  taking.effects.push({ do: 'ask', key, ask: what });
  return 'open';
}
