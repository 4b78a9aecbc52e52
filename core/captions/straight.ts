// Most wordings only put fields between words. These are said without the formatter, which would build a context and an
// object per field for each of thousands of items; what they say is the same, and a test compares the two.
import type { Model } from 'messageformat';
import type { Fields } from '../items/item.ts';
import { tweakNamed, type Surroundings, type Tweak } from './functions.ts';
import { LONGEST_FIELD, LONGEST_WORDING, within } from './limits.ts';
import { spokenAt } from './spoken.ts';

/** A field that is put in, as it is or with something done to it. */
interface Placeholder {
  path: string;
  tweak: Tweak | undefined;
  options: Readonly<Record<string, string>>;
}

/**
 * A message that can be said straight on: text and fields without choices between wordings, without values that lean on
 * each other, and without functions of the specification's own.
 *
 * @param message without plain literals
 * @param around read anew at every call
 * @returns undefined when it takes the formatter. What is returned throws what a tweak throws
 */
export function straight(message: Model.Message, around: Surroundings): ((fields: Fields) => string) | undefined {
  if (message.type !== 'message' || message.declarations.length > 0) return undefined;
  const parts: (string | Placeholder)[] = [];
  for (const element of message.pattern) {
    const part = typeof element === 'string' ? element : placeholderOf(element);
    if (part === undefined) return undefined;
    parts.push(part);
  }
  return (fields) => {
    let said = '';
    for (const part of parts) {
      if (typeof part === 'string') {
        said += part;
        continue;
      }
      const value = spokenAt(fields, part.path);
      said += part.tweak
        ? within(part.tweak.apply(within(value, LONGEST_FIELD), around, part.options), LONGEST_WORDING)
        : value;
    }
    return said;
  };
}

function placeholderOf(element: Exclude<Model.Pattern[number], string>): Placeholder | undefined {
  if (element.type !== 'expression' || element.arg?.type !== 'variable') return undefined;
  const path = element.arg.name;
  const { functionRef } = element;
  if (!functionRef) return { path, tweak: undefined, options: {} };
  const tweak = tweakNamed(functionRef.name);
  if (!tweak || tweak.standard) return undefined;
  const options: Record<string, string> = {};
  for (const [name, value] of Object.entries(functionRef.options ?? {})) {
    // Options of the specification's own say how the whole is set (UTS #35 part 9, "u: Options").
    if (value.type !== 'literal' || name.startsWith('u:')) return undefined;
    options[name] = value.value;
  }
  return { path, tweak, options };
}
