// Playa's own MessageFormat 2 functions: what a field token can do to its value. Each is an ordinary function of the
// specification ("Function Resolution") and is documented here, where the editor takes its names from.
import type { MessageFunction } from './mf2.ts';
import { usefulBeginning, withoutEmoji, withoutHashtags, withoutLinks } from '../text/clean.ts';
import { clockLength } from '../text/durations.ts';
import { hashtagsOf } from '../text/hashtags.ts';
import { domainOf, withParameters } from '../text/links.ts';
import { firstName, nameList } from '../text/names.ts';
import { plainText } from '../text/plain.ts';
import { firstSentence } from '../text/sentences.ts';
import { shorten } from '../text/shorten.ts';

/** Graphemes that a shortened text has at most, when nothing else is said. */
const SHORT = 80;

interface Tweak {
  /** The name in the message: `{$description :firstSentence}`. */
  name: string;
  /** The name in the editor. */
  label: string;
  /** What it does, for the editor's list. */
  says: string;
  /** Whether it makes sense for a field of this type. */
  fits: (type: string) => boolean;
  apply: (input: string, locale: string, options: Readonly<Record<string, string>>) => string;
  /** What it can be told, in the text form: `{$title :shorten most=60}`. */
  options?: readonly { name: string; says: string }[];
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
    name: 'usefulBeginning',
    label: 'useful beginning',
    says: 'Without the block of links and hashtags below it',
    fits: (type) => type === 'text',
    apply: usefulBeginning,
  },
  {
    name: 'shorten',
    label: 'shortened',
    says: 'At most 80 characters, up to the end of a sentence or word',
    fits: (type) => type === 'text',
    options: [{ name: 'most', says: 'characters at most, 80 without' }],
    apply: (input, locale, { most }) => shorten(input, /^\d{1,5}$/.test(most ?? '') ? Number(most) : SHORT, locale),
  },
  {
    name: 'withoutLinks',
    label: 'without links',
    says: 'Addresses are taken out',
    fits: (type) => type === 'text',
    apply: withoutLinks,
  },
  {
    name: 'withoutHashtags',
    label: 'without hashtags',
    says: 'Hashtags are taken out',
    fits: (type) => type === 'text',
    apply: withoutHashtags,
  },
  {
    name: 'withoutEmoji',
    label: 'without emoji',
    says: 'Emoji are taken out',
    fits: (type) => type === 'text',
    apply: withoutEmoji,
  },
  {
    name: 'plain',
    label: 'as plain text',
    says: 'HTML becomes readable text',
    fits: (type) => type === 'text',
    apply: plainText,
  },
  {
    name: 'upper',
    label: 'IN CAPITALS',
    says: 'All letters large, as the language has them',
    fits: (type) => type === 'text',
    apply: (input, locale) => input.toLocaleUpperCase(locale),
  },
  {
    name: 'firstName',
    label: 'first name',
    says: 'The name to greet somebody by; nothing when it is no name',
    fits: (type) => type === 'text',
    apply: firstName,
  },
  {
    name: 'nameList',
    label: 'as a list of names',
    says: 'Ana, Tom and Bea',
    fits: (type) => type === 'list' || type === 'text',
    apply: (input, locale) => nameList(input.split(/,\s*/), locale),
  },
  {
    name: 'hashtags',
    label: 'as hashtags',
    says: 'Words or a list become hashtags, each once',
    fits: (type) => type === 'list' || type === 'text',
    apply: (input) => hashtagsOf(input),
  },
  {
    name: 'stars',
    label: 'as stars',
    says: '4 becomes ★★★★☆',
    fits: (type) => type === 'number',
    apply: (input) => {
      const count = Math.round(Number(input));
      return input.trim() !== '' && count >= 0 && count <= 5 ? '★'.repeat(count) + '☆'.repeat(5 - count) : input;
    },
  },
  {
    name: 'domain',
    label: 'domain only',
    says: 'lidos.example rather than the whole address',
    fits: (type) => type === 'link',
    apply: domainOf,
  },
  {
    name: 'campaign',
    label: 'with campaign parameters',
    says: 'The address says where people came from',
    fits: (type) => type === 'link',
    options: [
      { name: 'source', says: 'utm_source, “playa” without' },
      { name: 'medium', says: 'utm_medium' },
      { name: 'name', says: 'utm_campaign' },
    ],
    apply: (input, _locale, { source = 'playa', medium = '', name = '' }) =>
      withParameters(input, { utm_source: source, utm_medium: medium, utm_campaign: name }),
  },
  {
    name: 'or',
    label: 'or something else when empty',
    says: 'Says other words when the field is empty',
    fits: () => false,
    options: [{ name: 'text', says: 'what is said instead' }],
    apply: (input, _locale, { text = '' }) => (input.trim() === '' ? text : input),
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
          (_context, options, operand) => {
            const result = tweak.apply(asText(operand), locale, optionTexts(options));
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

/** Options as they were written, or as other values give them. */
function optionTexts(options: Readonly<Record<string, unknown>>): Record<string, string> {
  return Object.fromEntries(Object.entries(options).map(([name, value]) => [name, asText(value)]));
}

function asText(operand: unknown): string {
  if (operand === undefined || operand === null) return '';
  return String(typeof operand === 'object' ? (operand as { valueOf(): unknown }).valueOf() : operand);
}
