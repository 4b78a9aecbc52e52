// Playa's own MessageFormat 2 functions: what a field token can do to its value. Each is an ordinary function of the
// specification ("Function Resolution") and is documented here, where the editor takes its names from.
import type { ShapeType } from '../shapes/shape.ts';
import { LONGEST_FIELD, LONGEST_WORDING, within } from './limits.ts';
import type { MessageFunction } from './mf2.ts';
import { calmed, titleCase } from '../text/case.ts';
import { usefulBeginning, withoutEmoji, withoutHashtags, withoutLinks } from '../text/clean.ts';
import { sayDate, sayLength, sayRelativeDate, sayTime } from '../text/dates.ts';
import { clockLength } from '../text/durations.ts';
import { hashtagsOf } from '../text/hashtags.ts';
import { domainOf, withParameters } from '../text/links.ts';
import { firstName, nameList } from '../text/names.ts';
import { plainText } from '../text/plain.ts';
import { firstSentences } from '../text/sentences.ts';
import { shorten } from '../text/shorten.ts';

/** Graphemes that a shortened text has at most, when nothing else is said. */
const SHORT = 80;

/** What a tweak may look at beside the value: where and when the brand is, and chance that can be repeated. */
export interface Surroundings {
  /** A BCP 47 tag. */
  locale: string;
  /** An IANA name. */
  zone: string;
  /** Milliseconds since 1970 UTC; undefined where nothing has a time, as in a definition that is looked over. */
  now?: number | undefined;
  /** A number in [0, 1), always the same for the same item. */
  chance?: (() => number) | undefined;
}

/** Something a tweak can be told. */
export interface TweakOption {
  name: string;
  label: string;
  /** What it may be; free text without. */
  choices?: readonly string[];
  number?: true;
  /** What holds when nothing is said. */
  usual?: string;
}

export interface Tweak {
  /** The name in the message: `{$description :firstSentence}`. */
  name: string;
  /** The name in the editor. */
  label: string;
  /** What it does, for the editor's list. */
  says: string;
  /** Whether it makes sense for a field of this type. */
  fits: (type: ShapeType) => boolean;
  apply: (input: string, around: Surroundings, options: Readonly<Record<string, string>>) => string;
  /** What it can be told: `{$title :shorten most=60}`. */
  options?: readonly TweakOption[];
  /** The specification's own function of this name does the work; `apply` is for showing what it makes. */
  standard?: true;
}

const number = (text: string | undefined, otherwise: number) =>
  /^\d{1,5}$/.test(text ?? '') ? Number(text) : otherwise;

const isWords = (type: ShapeType): boolean => type === 'text' || type === 'longText' || type === 'choice';
const isDay = (type: ShapeType): boolean => type === 'moment' || type === 'date';
export const TWEAKS: readonly Tweak[] = [
  {
    name: 'firstSentence',
    label: 'first sentence',
    says: 'Only up to the end of the first sentence or line, or of the first few',
    fits: isWords,
    options: [{ name: 'most', label: 'sentences', number: true, usual: '1' }],
    apply: (input, { locale }, { most }) => firstSentences(input, locale, Math.max(1, number(most, 1))),
  },
  {
    name: 'firstParagraph',
    label: 'first paragraph',
    says: 'Only up to the first empty line',
    fits: isWords,
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
    fits: isWords,
    apply: usefulBeginning,
  },
  {
    name: 'shorten',
    label: 'shortened',
    says: 'At most 80 characters, up to the end of a sentence or word',
    fits: isWords,
    options: [{ name: 'most', label: 'characters at most', number: true, usual: String(SHORT) }],
    apply: (input, { locale }, { most }) => shorten(input, number(most, SHORT), locale),
  },
  {
    name: 'withoutLinks',
    label: 'without links',
    says: 'Addresses are taken out',
    fits: isWords,
    apply: withoutLinks,
  },
  {
    name: 'withoutHashtags',
    label: 'without hashtags',
    says: 'Hashtags are taken out',
    fits: isWords,
    apply: withoutHashtags,
  },
  {
    name: 'withoutEmoji',
    label: 'without emoji',
    says: 'Emoji are taken out',
    fits: isWords,
    apply: withoutEmoji,
  },
  {
    name: 'plain',
    label: 'as plain text',
    says: 'HTML becomes readable text',
    fits: isWords,
    apply: plainText,
  },
  {
    name: 'upper',
    label: 'IN CAPITALS',
    says: 'All letters large, as the language has them',
    fits: isWords,
    apply: (input, { locale }) => input.toLocaleUpperCase(locale),
  },
  {
    name: 'titleCase',
    label: 'As a Heading',
    says: 'Capitals as the language gives them to headings',
    fits: isWords,
    apply: (input, { locale }) => titleCase(input, locale),
  },
  {
    name: 'calm',
    label: 'without shouting',
    says: 'WHAT IS ALL IN CAPITALS becomes ordinary words',
    fits: isWords,
    apply: (input, { locale }) => calmed(input, locale),
  },
  {
    name: 'firstName',
    label: 'first name',
    says: 'The name to greet somebody by; nothing when it is no name',
    fits: isWords,
    apply: firstName,
  },
  {
    name: 'nameList',
    label: 'as a list of names',
    says: 'Ana, Tom and Bea',
    fits: (type) => type === 'list' || isWords(type),
    apply: (input, { locale }) => nameList(input.split(/,\s*/), locale),
  },
  {
    name: 'hashtags',
    label: 'as hashtags',
    says: 'Words or a list become hashtags, each once',
    fits: (type) => type === 'list' || isWords(type),
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
      { name: 'source', label: 'source', usual: 'playa' },
      { name: 'medium', label: 'medium' },
      { name: 'name', label: 'campaign' },
    ],
    apply: (input, _around, { source = 'playa', medium = '', name = '' }) =>
      withParameters(input, { utm_source: source, utm_medium: medium, utm_campaign: name }),
  },
  {
    name: 'or',
    label: 'or other words when empty',
    says: 'Says other words when the field is empty',
    fits: () => true,
    options: [{ name: 'text', label: 'what is said instead' }],
    apply: (input, _around, { text = '' }) => (input.trim() === '' ? text : input),
  },
  {
    name: 'clock',
    label: 'as 6:10',
    says: 'A length in minutes and seconds',
    fits: (type) => type === 'duration',
    apply: (input) => (Number.isFinite(Number(input)) && input !== '' ? clockLength(Number(input)) : input),
  },
  {
    name: 'spokenLength',
    label: 'as 6 minutes, 10 seconds',
    says: 'A length in words of the language',
    fits: (type) => type === 'duration',
    apply: (input, { locale }) => sayLength(input, locale),
  },
  {
    name: 'number',
    label: 'as a number',
    says: 'Grouped and with signs as the language writes numbers',
    fits: (type) => type === 'number' || type === 'duration',
    standard: true,
    apply: (input, { locale }) =>
      input.trim() === '' || Number.isNaN(Number(input)) ? input : new Intl.NumberFormat(locale).format(Number(input)),
  },
  {
    name: 'date',
    label: 'as a date',
    says: 'The day, in the brand’s language and time zone',
    fits: isDay,
    options: [
      {
        name: 'fields',
        label: 'parts',
        choices: ['year-month-day', 'year-month-day-weekday', 'month-day', 'month-day-weekday', 'weekday'],
        usual: 'year-month-day',
      },
      { name: 'length', label: 'length', choices: ['long', 'medium', 'short'], usual: 'medium' },
    ],
    apply: (input, { locale, zone }, { fields, length }) => sayDate(input, locale, zone, { fields, length }),
  },
  {
    name: 'time',
    label: 'as a time of day',
    says: 'In the brand’s language and time zone',
    fits: isDay,
    apply: (input, { locale, zone }) => sayTime(input, locale, zone),
  },
  {
    name: 'relativeDate',
    label: 'as tomorrow, 3 days ago',
    says: 'How far from the day on which it goes out',
    fits: isDay,
    apply: (input, { locale, zone, now }) => sayRelativeDate(input, locale, zone, now),
  },
  {
    name: 'pick',
    label: 'one of several',
    says: 'One of a list by chance, the same at every try',
    fits: (type) => type === 'list',
    apply: (input, { chance }) => {
      const choices = input
        .split(/[,|\n]/)
        .map((each) => each.trim())
        .filter(Boolean);
      return choices[Math.min(choices.length - 1, Math.floor((chance?.() ?? 0) * choices.length))] ?? '';
    },
  },
  {
    name: 'filled',
    label: 'filled or empty',
    says: 'To choose wording by: yes or no',
    fits: () => false,
    apply: (input) => (input.trim() === '' ? 'no' : 'yes'),
  },
];

const byName = new Map(TWEAKS.map((tweak) => [tweak.name, tweak]));

/** The tweak with this name in messages. */
export function tweakNamed(name: string): Tweak | undefined {
  return byName.get(name);
}

/**
 * The functions to hand to a message formatter. What they give are resolved values (MessageFormat 2, "Resolved
 * Values"); the formatter copies their own properties, so these cannot come from a class.
 *
 * @param around read anew at every call: whoever formats sets the time before
 */
export function captionFunctions(around: Surroundings): Record<string, MessageFunction> {
  return Object.fromEntries(
    TWEAKS.filter((tweak) => !tweak.standard).map(
      (tweak) =>
        [
          tweak.name,
          (_context, options, operand) => {
            const input = within(asText(operand), LONGEST_FIELD);
            const result = within(tweak.apply(input, around, optionTexts(options)), LONGEST_WORDING);
            return { type: 'string' as const, said: result, selectKey, toParts, toString: say, valueOf: say };
          },
        ] satisfies [string, MessageFunction],
    ),
  );
}

// What a text can be asked for as a value of a message. The same functions for all, as there are very many texts.
interface Said {
  said: string;
}
function selectKey(this: Said, keys: Set<string>) {
  return keys.has(this.said) ? this.said : null;
}
function toParts(this: Said): [{ type: 'string'; value: string }] {
  return [{ type: 'string', value: this.said }];
}
function say(this: Said) {
  return this.said;
}

const NO_OPTIONS = {};

/** Options as they were written, or as other values give them. */
function optionTexts(options: Readonly<Record<string, unknown>>): Readonly<Record<string, string>> {
  if (isNone(options)) return NO_OPTIONS;
  return Object.fromEntries(Object.entries(options).map(([name, value]) => [name, asText(value)]));
}

function isNone(options: Readonly<Record<string, unknown>>): boolean {
  for (const _ in options) return false;
  return true;
}

/** A value of a message as text. */
export function asText(operand: unknown): string {
  if (operand === undefined || operand === null) return '';
  return String(typeof operand === 'object' ? (operand as { valueOf(): unknown }).valueOf() : operand);
}
