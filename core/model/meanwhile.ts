// What may have happened to the thing that is to be answered, between planning an answer and sending it.
import { cutGraphemes } from '../text/graphemes.ts';
import type { ActInput } from './acts.ts';

/** What there is now of what would be answered. */
export interface Standing {
  /** Its words, as its item has them. */
  text: string;
  /** What has been answered in the account's name, by whomever, oldest first. */
  answers: readonly string[];
  /** Why nothing more can be answered there. */
  closed?: string;
}

/** What has happened meanwhile, so that an answer, or a post (`repeated`, `late`), may be wrong by now; `alone`: they asked not to be written to. */
export type Happened = 'answered' | 'edited' | 'gone' | 'closed' | 'repeated' | 'late' | 'alone';

/** Why an answer, or a post, does not go out as it stands. */
export interface Outdated {
  what: Happened;
  says: string;
  then: 'hold' | 'end';
  /** The state that a person sees, and answers over when they say so. */
  found: { text: string | null; answers: string[] };
}

/**
 * Whether an answer is still right.
 *
 * @param now what is there; undefined when it is gone
 * @param own answers of the very run, which are no news to it; also this answer itself where an earlier try may have
 *   gone through
 * @returns null when it can go out
 */
export function outdated(input: ActInput<'reply'>, now: Standing | undefined, own: readonly string[]): Outdated | null {
  const { was, over, meanwhile = {} } = input;
  if (!now) return { what: 'gone', says: 'What this answers has been deleted meanwhile.', then: 'end', found: NOTHING };
  const found = { text: now.text, answers: [...now.answers] };
  if (now.closed !== undefined)
    return { what: 'closed', says: `Answers are closed there: ${now.closed}`, then: 'hold', found };
  const others = [...now.answers];
  // What a person has seen, and what the run said itself, once for each time it was said.
  for (const known of [...own, ...(over ?? [])]) {
    const index = others.indexOf(known);
    if (index >= 0) others.splice(index, 1);
  }
  const { answered = 'hold', edited = 'hold' } = meanwhile;
  const other = others.at(-1);
  if (other !== undefined && answered !== 'send')
    return { what: 'answered', says: `Answered meanwhile: “${quoted(other)}”`, then: answered, found };
  if (was !== undefined && was !== now.text && edited !== 'send')
    return { what: 'edited', says: `Edited meanwhile. It says now: “${quoted(now.text)}”`, then: edited, found };
  return null;
}

const NOTHING = { text: null, answers: [] };

/** The beginning of somebody's words, on one line. */
function quoted(text: string): string {
  const line = text.replace(/\s+/g, ' ').trim();
  const beginning = cutGraphemes(line, 160);
  return beginning === line ? line : `${beginning.trimEnd()}…`;
}
