// The questions a Check can ask, grouped by what they are asked of. Each says whether it holds and how it reads in a
// sentence; why a step stopped is put together from the same words in evaluate.ts.
import type { FieldValue } from '../items/item.ts';
import { fieldText, isEmpty } from '../items/read-field.ts';
import { FORM_NAMES, formOf } from '../said/form.ts';
import { findKeyword, nearMisses, readKeywords, sayFound } from '../said/keywords.ts';
import { LANGUAGES, languageOf } from '../said/language.ts';
import '../said/parts-of-text.ts';
import { isQuestion } from '../said/question.ts';
import { toneOf } from '../said/tone.ts';
import { countGraphemes } from '../text/graphemes.ts';
import { remembering } from '../text/memo.ts';
import { composed } from '../text/well-formed.ts';
import type { ShapeType } from '../shapes/shape.ts';
import { localMoment, type Written } from '../text/local-moment.ts';

export type Asks = 'text' | 'keywords' | 'language' | 'tone' | 'number' | 'length' | 'date' | 'days' | 'nothing';

interface OperatorRule {
  /** How it reads between the field and the value: "Title *contains* lesson". */
  says: string;
  /** How it reads when it does not hold. */
  saysNot: string;
  /** What has to be given. */
  asks: Asks;
  /** Types of field it is offered for. */
  fits: readonly ShapeType[];
  /** @param written where dates without a zone were written */
  holds: (field: FieldValue | undefined, value: string | number, now: number, written?: Written) => boolean;
  /** Why it holds or does not, where that is more than comparing says. */
  explains?: (field: FieldValue | undefined, value: string | number, holds: boolean) => string;
  /** The moment at which the answer turns as time goes by; null for never. Absent where time has no part in it. */
  turns?: (field: FieldValue | undefined, value: string | number, written?: Written) => number | null;
}

const TEXT = ['text', 'longText', 'link', 'picture', 'list', 'choice'] as const;
/** A text may be a date as somebody wrote it: "26.11.2026 18:30". */
const DATED = ['moment', 'date', 'text'] as const;
const ANY = [...TEXT, 'number', 'moment', 'date', 'duration', 'yesNo'] as const;

/** Letters alone matter, not their case or how accents are stored. */
const fold = (text: string) => (PLAIN.test(text) ? text : composed(text)).toLowerCase().trim();
// Below the combining marks nothing needs composing.
const PLAIN = /^[^\u0300-\uffff]*$/;

const asText = (test: (field: string, value: string) => boolean) => {
  // A check compares one item after another with the same words.
  let last: string | number = '';
  let folded = '';
  return (field: FieldValue | undefined, value: string | number) => {
    if (value !== last) {
      last = value;
      folded = fold(String(value));
    }
    return test(fold(fieldText(field)), folded);
  };
};

const asNumber =
  (test: (field: number, value: number) => boolean) => (field: FieldValue | undefined, value: string | number) => {
    const number = numberOf(field);
    return number !== undefined && Number.isFinite(Number(value)) && value !== '' && test(number, Number(value));
  };

const asDate =
  (test: (field: number, value: number, now: number) => boolean) =>
  (field: FieldValue | undefined, value: string | number, now: number, written?: Written) => {
    const moment = momentOf(field, written);
    const other = typeof value === 'number' ? value : localMoment(value, written);
    return moment !== null && other !== null && test(moment, other, now);
  };

const keywordsIn = remembering(200, readKeywords);
const languageIn = remembering(2000, languageOf);
const toneIn = remembering(2000, (text) => ({ tone: toneOf(text) }));

const mentionOf = (field: FieldValue | undefined, value: string | number) =>
  findKeyword(fieldText(field), keywordsIn(String(value)));

/** Whether something is one of a list, as a label is: the whole of it, whatever its capitals. */
const hasElement = (field: FieldValue | undefined, value: string): boolean =>
  Array.isArray(field) && fold(value) !== '' && field.some((each) => fold(fieldText(each)) === fold(value));

/** Which keyword was used, by which rule; or what came near to one. */
function sayMention(field: FieldValue | undefined, value: string | number): string {
  const found = mentionOf(field, value);
  if (found) return `mentions ${sayFound(found)}`;
  const [near] = nearMisses(fieldText(field), keywordsIn(String(value)), 1);
  return near ? sayFound(near) : `mentions none of: ${value}`;
}

/** The number that a field is or says in digits; undefined where it is none. */
export function numberOf(field: FieldValue | undefined): number | undefined {
  if (typeof field === 'number') return field;
  if (typeof field === 'string' && field.trim() !== '' && Number.isFinite(Number(field))) return Number(field);
  return undefined;
}

/** The moment that a field says, milliseconds since 1970 UTC; null when it says none that can be read. */
export function momentOf(field: FieldValue | undefined, written?: Written): number | null {
  return typeof field === 'string' ? localMoment(field, written) : null;
}

const sayForm = (field: FieldValue | undefined) => `it is ${FORM_NAMES[formOf(fieldText(field))]}`;

const rules = {
  contains: {
    says: 'contains',
    saysNot: 'does not contain',
    asks: 'text',
    fits: TEXT,
    holds: asText((a, b) => b !== '' && a.includes(b)),
  },
  lacks: {
    says: 'does not contain',
    saysNot: 'contains',
    asks: 'text',
    fits: TEXT,
    holds: asText((a, b) => b === '' || !a.includes(b)),
  },
  is: { says: 'is', saysNot: 'is not', asks: 'text', fits: TEXT, holds: asText((a, b) => a === b) },
  isNot: { says: 'is not', saysNot: 'is', asks: 'text', fits: TEXT, holds: asText((a, b) => a !== b) },
  starts: {
    says: 'starts with',
    saysNot: 'does not start with',
    asks: 'text',
    fits: TEXT,
    holds: asText((a, b) => a.startsWith(b)),
  },
  ends: {
    says: 'ends with',
    saysNot: 'does not end with',
    asks: 'text',
    fits: TEXT,
    holds: asText((a, b) => a.endsWith(b)),
  },
  mentions: {
    says: 'mentions',
    saysNot: 'does not mention',
    asks: 'keywords',
    fits: ['text', 'longText'],
    holds: (field, value) => mentionOf(field, value) !== null,
    explains: sayMention,
  },
  has: {
    says: 'has',
    saysNot: 'does not have',
    asks: 'text',
    fits: ['list'],
    holds: (field, value) => hasElement(field, String(value)),
  },
  hasNot: {
    says: 'does not have',
    saysNot: 'has',
    asks: 'text',
    fits: ['list'],
    holds: (field, value) => !hasElement(field, String(value)),
  },
  mentionsNone: {
    says: 'does not mention',
    saysNot: 'mentions',
    asks: 'keywords',
    fits: ['text', 'longText'],
    holds: (field, value) => mentionOf(field, value) === null,
    explains: (field, value, holds) => (holds ? '' : sayMention(field, value)),
  },
  onlyEmoji: {
    says: 'is only emoji',
    saysNot: 'is not only emoji',
    asks: 'nothing',
    fits: ['text', 'longText'],
    holds: (field) => formOf(fieldText(field)) === 'emoji',
    explains: sayForm,
  },
  fewWords: {
    says: 'is a few words',
    saysNot: 'is not a few words',
    asks: 'nothing',
    fits: ['text', 'longText'],
    holds: (field) => formOf(fieldText(field)) === 'words',
    explains: sayForm,
  },
  question: {
    says: 'asks something',
    saysNot: 'asks nothing',
    asks: 'nothing',
    fits: ['text', 'longText'],
    holds: (field) => isQuestion(fieldText(field)),
  },
  language: {
    says: 'is in',
    saysNot: 'is not in',
    asks: 'language',
    fits: ['text', 'longText'],
    holds: (field, value) => languageIn(fieldText(field)) === value,
    explains: (field) => {
      const told = languageIn(fieldText(field));
      return told === '' ? 'its language cannot be told' : `it is in ${LANGUAGES[told]}`;
    },
  },
  tone: {
    says: 'sounds',
    saysNot: 'does not sound',
    asks: 'tone',
    fits: ['text', 'longText'],
    holds: (field, value) => toneIn(fieldText(field)).tone === value,
    explains: (field) => {
      const { tone } = toneIn(fieldText(field));
      return tone === null ? 'how it sounds cannot be told' : `it sounds ${tone}`;
    },
  },
  longerText: {
    says: 'has more characters than',
    saysNot: 'has no more characters than',
    asks: 'number',
    fits: ['text', 'longText'],
    holds: (field, value) => countGraphemes(fieldText(field)) > Number(value),
  },
  shorterText: {
    says: 'has fewer characters than',
    saysNot: 'has no fewer characters than',
    asks: 'number',
    fits: ['text', 'longText'],
    holds: (field, value) => countGraphemes(fieldText(field)) < Number(value),
  },
  equals: { says: 'is', saysNot: 'is not', asks: 'number', fits: ['number'], holds: asNumber((a, b) => a === b) },
  above: {
    says: 'is above',
    saysNot: 'is not above',
    asks: 'number',
    fits: ['number'],
    holds: asNumber((a, b) => a > b),
  },
  below: {
    says: 'is below',
    saysNot: 'is not below',
    asks: 'number',
    fits: ['number'],
    holds: asNumber((a, b) => a < b),
  },
  longer: {
    says: 'is over',
    saysNot: 'is not over',
    asks: 'length',
    fits: ['duration'],
    holds: asNumber((a, b) => a > b),
  },
  shorter: {
    says: 'is under',
    saysNot: 'is not under',
    asks: 'length',
    fits: ['duration'],
    holds: asNumber((a, b) => a < b),
  },
  filled: { says: 'is filled', saysNot: 'is empty', asks: 'nothing', fits: ANY, holds: (field) => !isEmpty(field) },
  empty: { says: 'is empty', saysNot: 'is filled', asks: 'nothing', fits: ANY, holds: (field) => isEmpty(field) },
  yes: { says: 'is yes', saysNot: 'is not yes', asks: 'nothing', fits: ['yesNo'], holds: (field) => field === true },
  no: { says: 'is no', saysNot: 'is not no', asks: 'nothing', fits: ['yesNo'], holds: (field) => field === false },
  before: { says: 'is before', saysNot: 'is not before', asks: 'date', fits: DATED, holds: asDate((a, b) => a < b) },
  after: { says: 'is after', saysNot: 'is not after', asks: 'date', fits: DATED, holds: asDate((a, b) => a > b) },
  within: {
    says: 'is within the last days:',
    saysNot: 'is older than the last days:',
    asks: 'days',
    fits: DATED,
    holds: (field, value, now, written) => {
      const moment = momentOf(field, written);
      return moment !== null && moment > now - Number(value) * 86_400_000;
    },
    turns: (field, value, written) => {
      const moment = momentOf(field, written);
      return moment === null || !Number.isFinite(Number(value)) ? null : moment + Number(value) * 86_400_000;
    },
  },
  hasCome: {
    says: 'has come',
    saysNot: 'has not come yet',
    asks: 'nothing',
    fits: DATED,
    holds: (field, _, now, written) => {
      const moment = momentOf(field, written);
      return moment !== null && moment <= now;
    },
    turns: (field, _, written) => momentOf(field, written),
  },
  toCome: {
    says: 'is yet to come',
    saysNot: 'has come or is not given',
    asks: 'nothing',
    fits: DATED,
    holds: (field, _, now, written) => {
      const moment = momentOf(field, written);
      return moment !== null && moment > now;
    },
    turns: (field, _, written) => momentOf(field, written),
  },
} as const satisfies Record<string, OperatorRule>;

export type Operator = keyof typeof rules;
export const OPERATORS: Readonly<Record<Operator, OperatorRule>> = rules;

/** The operators offered for a type of field, the usual one first. */
export function operatorsFor(type: ShapeType): Operator[] {
  const fitting = (Object.keys(rules) as Operator[]).filter((name) => OPERATORS[name].fits.includes(type));
  const rank = (name: Operator): number => {
    const { asks, turns, fits } = OPERATORS[name];
    if (type === 'yesNo') return fits.length === 1 ? 0 : 1;
    const aboutTime = asks === 'date' || turns !== undefined;
    return (type === 'moment' || type === 'date') === aboutTime ? 0 : 1;
  };
  return fitting.sort((a, b) => rank(a) - rank(b));
}
