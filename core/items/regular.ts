// Regular expressions that somebody else writes, matched in time that grows with the text and no faster (RE2: no
// backtracking, so no expression takes for ever).
import { RE2JS } from 're2js';

/**
 * An I-Regexp (RFC 9485), as JSONPath's `match` and `search` take it, made ready.
 *
 * @param whole whether all of the text must match (RFC 9535 section 2.4.6), or any part of it (section 2.4.7)
 * @returns undefined when it is none: then nothing matches
 */
export function readExpression(pattern: string, whole: boolean): ((text: string) => boolean) | undefined {
  if (pattern.length > LONGEST) return undefined;
  try {
    const ready = RE2JS.compile(withOwnDots(pattern));
    return whole ? (text) => ready.matches(text) : (text) => ready.matcher(text).find();
  } catch {
    return undefined;
  }
}
const LONGEST = 500;

/** A dot is any sign but a line feed or a carriage return (RFC 9485 section 5.3). */
function withOwnDots(pattern: string): string {
  let mapped = '';
  let inClass = false;
  for (let index = 0; index < pattern.length; index++) {
    const sign = pattern[index]!;
    if (sign === '\\') {
      mapped += sign + (pattern[++index] ?? '');
      continue;
    }
    if (sign === '[') inClass = true;
    else if (sign === ']') inClass = false;
    mapped += sign === '.' && !inClass ? '[^\\n\\r]' : sign;
  }
  return mapped;
}
