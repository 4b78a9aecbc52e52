// The questions a Check can ask, grouped by what they are asked of. Each says whether it holds and how it reads in a
// sentence; why a step stopped is put together from the same words in evaluate.ts.
import type { FieldValue } from '../items/item.ts';
import { fieldText, isEmpty } from '../items/read-field.ts';
import { countGraphemes } from '../text/graphemes.ts';
import { composed } from '../text/well-formed.ts';
import type { FieldType } from '../items/catalogue.ts';
import { localMoment, type Written } from '../text/local-moment.ts';

export type Asks = 'text' | 'number' | 'length' | 'date' | 'days' | 'nothing';

interface OperatorRule {
  /** How it reads between the field and the value: "Title *contains* lesson". */
  says: string;
  /** How it reads when it does not hold. */
  saysNot: string;
  /** What has to be given. */
  asks: Asks;
  /** Types of field it is offered for. */
  fits: readonly FieldType[];
  /** @param written where dates without a zone were written */
  holds: (field: FieldValue | undefined, value: string | number, now: number, written?: Written) => boolean;
}

const TEXT = ['text', 'link', 'picture', 'list'] as const;
const ANY = ['text', 'number', 'date', 'length', 'link', 'picture', 'flag', 'list'] as const;

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

function numberOf(field: FieldValue | undefined): number | undefined {
  if (typeof field === 'number') return field;
  if (typeof field === 'string' && field.trim() !== '' && Number.isFinite(Number(field))) return Number(field);
  return undefined;
}

/** The moment that a field says, milliseconds since 1970 UTC; null when it says none that can be read. */
export function momentOf(field: FieldValue | undefined, written?: Written): number | null {
  return typeof field === 'string' ? localMoment(field, written) : null;
}

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
  longerText: {
    says: 'has more characters than',
    saysNot: 'has no more characters than',
    asks: 'number',
    fits: ['text'],
    holds: (field, value) => countGraphemes(fieldText(field)) > Number(value),
  },
  shorterText: {
    says: 'has fewer characters than',
    saysNot: 'has no fewer characters than',
    asks: 'number',
    fits: ['text'],
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
    fits: ['length'],
    holds: asNumber((a, b) => a > b),
  },
  shorter: {
    says: 'is under',
    saysNot: 'is not under',
    asks: 'length',
    fits: ['length'],
    holds: asNumber((a, b) => a < b),
  },
  before: { says: 'is before', saysNot: 'is not before', asks: 'date', fits: ['date'], holds: asDate((a, b) => a < b) },
  after: { says: 'is after', saysNot: 'is not after', asks: 'date', fits: ['date'], holds: asDate((a, b) => a > b) },
  within: {
    says: 'is within the last days:',
    saysNot: 'is older than the last days:',
    asks: 'days',
    fits: ['date'],
    holds: (field, value, now, written) => {
      const moment = momentOf(field, written);
      return moment !== null && moment > now - Number(value) * 86_400_000;
    },
  },
  filled: { says: 'is filled', saysNot: 'is empty', asks: 'nothing', fits: ANY, holds: (field) => !isEmpty(field) },
  empty: { says: 'is empty', saysNot: 'is filled', asks: 'nothing', fits: ANY, holds: (field) => isEmpty(field) },
  yes: { says: 'is yes', saysNot: 'is not yes', asks: 'nothing', fits: ['flag'], holds: (field) => field === true },
  no: { says: 'is no', saysNot: 'is not no', asks: 'nothing', fits: ['flag'], holds: (field) => field === false },
} as const satisfies Record<string, OperatorRule>;

export type Operator = keyof typeof rules;
export const OPERATORS: Readonly<Record<Operator, OperatorRule>> = rules;

/** The operators offered for a type of field, the usual one first. */
export function operatorsFor(type: FieldType): Operator[] {
  return (Object.keys(rules) as Operator[]).filter((name) => OPERATORS[name].fits.includes(type));
}
