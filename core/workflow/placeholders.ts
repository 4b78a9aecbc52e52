// Words that were meant to be replaced, and would go out as they stand.
import { parseCaption } from '../captions/caption.ts';
import type { Definition } from './definition.ts';
import type { Problem } from '../model/problems.ts';
import { bracketedIn, FIELD_NAMES } from '../text/bracketed.ts';
import { allSteps } from './tree.ts';

/** What is left in an editor when nothing was written. */
const UNWRITTEN = /^(words|text|caption|your (words|text|caption)( here)?|lorem ipsum.*|todo|tbd|xxx+)[.:!…]*$/i;
/** "/person name": a list of fields was asked for, and none was taken from it. */
const SLASHED = /(?:^|[\s(“"])(\/\p{L}{2,30}(?: \p{L}{2,30})?)/u;
const NAMED = new RegExp(`^/(${FIELD_NAMES})`, 'i');

/** Steps whose words have something in them that nobody means to say. */
export function placeholders(definition: Definition): Problem[] {
  return allSteps(definition).flatMap(({ step }): Problem[] => {
    if (step.off || step.verb !== 'compose') return [];
    const wordings = [step.text, ...(step.others ?? []), ...(step.own ?? []).map((own) => own.text)];
    const found = wordings.flatMap((words) => placeholderIn(words) ?? [])[0];
    if (found === undefined) return [];
    if (!found.startsWith('/'))
      return [
        { level: 'harm', step: step.id, says: `“${found}” is a placeholder. Put the field there, or your own words.` },
      ];
    const says = `“${found}” stands in the words as it is. Choose the field from the list that “/” opens, or take it out.`;
    return [{ level: NAMED.test(found) ? 'harm' : 'advice', step: step.id, says }];
  });
}

/** The first of it in a wording; undefined when there is none, or the wording cannot be read. */
export function placeholderIn(words: string): string | undefined {
  for (const pattern of patternsOf(words)) {
    const [only] = pattern;
    if (pattern.length === 1 && typeof only === 'string' && UNWRITTEN.test(only.trim())) return only.trim();
    for (const part of pattern) {
      if (typeof part !== 'string') continue;
      const found = bracketedIn(part) ?? SLASHED.exec(part)?.[1];
      if (found !== undefined) return found;
    }
  }
  return undefined;
}

/** The patterns of a message, each of texts and of what stands between them. */
function patternsOf(words: string): readonly (readonly unknown[])[] {
  try {
    const message = parseCaption(words);
    return message.type === 'message' ? [message.pattern] : message.variants.map(({ value }) => value);
  } catch {
    // What cannot be read is told of elsewhere.
    return [];
  }
}
