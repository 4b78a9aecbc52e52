// Playa's own MessageFormat 2 functions: what a field token can do to its value. Each is an ordinary function of the
// specification ("Function Resolution") and is documented here, where the editor takes its names from.
import type { MessageFunction } from './mf2.ts';
import { clockLength } from '../text/durations.ts';
import { firstSentence } from '../text/sentences.ts';

interface Tweak {
  /** The name in the message: `{$description :firstSentence}`. */
  name: string;
  /** The name in the editor. */
  label: string;
  /** What it does, for the editor's list. */
  says: string;
  /** Whether it makes sense for a field of this type. */
  fits: (type: string) => boolean;
  apply: (input: string, locale: string) => string;
}

export const TWEAKS: readonly Tweak[] = [
  {
    name: 'firstSentence',
    label: 'first sentence',
    says: 'Only up to the end of the first sentence or line',
    fits: (type) => type === 'text',
    apply: firstSentence,
  },
  {
    name: 'firstParagraph',
    label: 'first paragraph',
    says: 'Only up to the first empty line',
    fits: (type) => type === 'text',
    apply: (input) =>
      input
        .trimStart()
        .split(/\n\s*\n/, 1)[0]!
        .trim(),
  },
  {
    name: 'clock',
    label: 'as 6:10',
    says: 'A length in minutes and seconds',
    fits: (type) => type === 'length',
    apply: (input) => (Number.isFinite(Number(input)) && input !== '' ? clockLength(Number(input)) : input),
  },
];

const byName = new Map(TWEAKS.map((tweak) => [tweak.name, tweak]));

/** The tweak with this name in messages. */
export function tweakNamed(name: string): Tweak | undefined {
  return byName.get(name);
}

/**
 * The functions to hand to a message formatter. What they give are resolved values (MessageFormat 2, "Resolved
 * Values"); the formatter copies their own properties, so these cannot come from a class. Captions are formatted to text
 * only, never to parts.
 */
export function captionFunctions(locale: string): Record<string, MessageFunction> {
  return Object.fromEntries(
    TWEAKS.map(
      (tweak) =>
        [
          tweak.name,
          (_context, _options, operand) => {
            const result = tweak.apply(asText(operand), locale);
            const say = () => result;
            return {
              type: 'string' as const,
              selectKey: (keys: Set<string>) => (keys.has(result) ? result : null),
              toString: say,
              valueOf: say,
            };
          },
        ] satisfies [string, MessageFunction],
    ),
  );
}

function asText(operand: unknown): string {
  if (operand === undefined || operand === null) return '';
  return String(typeof operand === 'object' ? (operand as { valueOf(): unknown }).valueOf() : operand);
}
