// What a text states that can be right or wrong: addresses of the web, of mail and of streets, telephone numbers, prices. Rather one too many than one
// missed, since what is found is only looked up among the facts of a brand.
import LinkifyIt from 'linkify-it';
import tlds from 'tlds';
import { remembering } from '../text/memo.ts';
import { postalIn } from './postal.ts';
import { readOutIn, SPELLED, spelledNumber } from './spelled.ts';

/** What sort of thing is stated. */
export type StatedSort = 'address' | 'number' | 'price';

/** Something a text states. */
export interface Stated {
  sort: StatedSort;
  /** As it stands in the text. */
  said: string;
  /** The same for every way of writing it, for looking it up. */
  key: string;
}

/** Names of IANA's root zone, and the one that RFC 2606 (section 3) keeps for examples. */
const finder = new LinkifyIt().tlds([...tlds, 'example']);

/** Web and mail addresses, also without "https://". */
export function addressesIn(text: string): Stated[] {
  return (finder.match(text) ?? []).map(({ raw }) => ({
    sort: 'address',
    said: raw,
    key: raw
      .toLowerCase()
      .replace(/^(?:[a-z]+:)?\/\//, '')
      .replace(/^mailto:/, '')
      .replace(/^www\./, '')
      .replace(/[/.]+$/, ''),
  }));
}

/** Digits with what people put between them in a telephone number. */
const DIGITS = /\+?\p{Nd}(?:[\s()./\u00ad\u2010-\u2012-]{0,3}\p{Nd}){5,}/gu;
/** A day, or a stretch of years: "2026-11-25", "2025-2026". */
const DAY =
  /^(?:(?:19|20)\d\d-[01]?\d-[0-3]?\d|[0-3]?\d[./-][01]?\d[./-](?:19|20)\d\d|(?:19|20)\d\d[-/](?:19|20)\d\d)$/;
/** A stretch of hours, with stops: "10.00-18.00". */
const HOURS = /^[0-2]?\d\.[0-5]\d\s?[-\u2010-\u2012]\s?[0-2]?\d\.[0-5]\d$/;
/** Digits that somebody can be called by; fewer are a year, a house, an hour. */
const LEAST_DIGITS = 6;

/** Everything that may be a telephone number: six digits and more. */
export function numbersIn(text: string): Stated[] {
  const found: Stated[] = [];
  for (const [said] of text.matchAll(DIGITS)) {
    const bare = said.replace(/\p{Nd}/gu, westernDigit);
    if (DAY.test(bare) || HOURS.test(bare)) continue;
    const key = bare.replace(/\D/g, '');
    if (key.length >= LEAST_DIGITS) found.push({ sort: 'number', said, key });
  }
  return found;
}

/** A digit of any script as a Western one: those of a script follow each other from nought (Unicode, section 4.6). */
function westernDigit(digit: string): string {
  const code = digit.codePointAt(0)!;
  let zero = code;
  while (code - zero < 9 && /\p{Nd}/u.test(String.fromCodePoint(zero - 1))) zero--;
  // Ranges of several scripts may touch; each has ten.
  return String((code - zero) % 10);
}

/** How money is called beside its signs and ISO 4217 codes: common practice, in the languages that are told apart. */
const MONEY =
  'euros?|pounds?|quid|pence|dollars?|cents?|libras?|francs?|franken|kron(?:or|er|a|e)|zł|złot(?:y|ych|e)|yen|yuan|reais|lira|forint|rubl(?:e|es|ei|ey)|percent|per cent|prozent|por cento|pour cent';
const codes = remembering(1, () => Intl.supportedValuesOf('currency').join('|'));
const AMOUNT = String.raw`(?<!\p{Nd})\p{Nd}{1,15}(?:[.,'’\u00a0\u202f ]\p{Nd}{3})*(?:[.,]\p{Nd}{1,2})?`;
const prices = remembering(1, () => {
  // Codes are written in capitals; "all 5" is no money of Albania.
  const unit = String.raw`(?:\p{Sc}|%|\b(?:${codes('')})\b)`;
  const word = String.raw`(?:[Pp]er ?[Cc]ent|\b(?:${MONEY})\b)`;
  return new RegExp(
    String.raw`(?<before>\p{Sc}|\b(?:${codes('')}))\s?(?<first>${AMOUNT})|(?<second>${AMOUNT})(?:(?:\s|-)?(?<after>${unit}|${word})|p\b(?!\.\s?m))`,
    'gu',
  );
});

/** Sums of money, and parts in a hundred. */
export function pricesIn(text: string): Stated[] {
  return Array.from(text.matchAll(prices('')), (found) => {
    const { first, second } = found.groups!;
    return { sort: 'price', said: found[0], key: amountKey(first ?? second ?? '') };
  });
}

const SPELLED_SUM = new RegExp(
  String.raw`\b(?<number>${SPELLED})(?:\s+|-)(?:euros?|pounds?|quid|pence|penny|dollars?|cents?|francs?|kroner|per\s?cent)\b`,
  'gi',
);

/** Sums of money and parts in a hundred that English spells out: "seven pounds fifty", "twenty percent". */
export function spelledPricesIn(text: string): Stated[] {
  return Array.from(text.matchAll(SPELLED_SUM), (found) => ({
    sort: 'price' as const,
    said: found[0],
    key: String(spelledNumber(found.groups!.number!)),
  }));
}

/** "1.250,50", "1,250.50" and "1250.5" are the same amount. */
function amountKey(amount: string): string {
  const bare = amount.replace(/\p{Nd}/gu, westernDigit);
  const [, whole = bare, cents = ''] = /^(.*?)(?:[.,](\d{1,2}))?$/s.exec(bare) ?? [];
  return String(Number(`${whole.replace(/\D/g, '')}.${cents || '0'}`));
}

/**
 * Everything stated in a text. A number that is part of an address, or a price, is told once.
 *
 * @param english whether it may be English, so that numbers in English words are read: French "six cents" are no money
 */
export function statedIn(text: string, english = true): Stated[] {
  const streetsAt = postalIn(text);
  const streets = streetsAt.map(({ said, key }): Stated => ({ sort: 'address', said, key }));
  const addresses = [...addressesIn(text), ...streets];
  const bare = without(text, [
    ...(finder.match(text) ?? []).map(({ index, lastIndex }): Span => [index, lastIndex]),
    ...streetsAt.map(({ at, said }): Span => [at, at + said.length]),
  ]);
  const sums = pricesIn(bare);
  const money = new Set(sums.map(({ said }) => said.replace(/\P{Nd}/gu, '')));
  const numbers = numbersIn(bare).filter(({ said }) => !money.has(said.replace(/\P{Nd}/gu, '')));
  const spelled = english
    ? [
        ...spelledPricesIn(bare),
        ...readOutIn(bare).map(({ said, digits }): Stated => ({ sort: 'number', said, key: digits })),
      ]
    : [];
  return [...addresses, ...sums, ...numbers, ...spelled];
}

/** From one code unit up to another, which is not included. */
type Span = readonly [from: number, to: number];

/** A text without some parts, in one pass. */
function without(text: string, spans: readonly Span[]): string {
  const parts: string[] = [];
  let at = 0;
  for (const [from, to] of [...spans].sort((a, b) => a[0] - b[0])) {
    if (from > at) parts.push(text.slice(at, from));
    at = Math.max(at, to);
  }
  return [...parts, text.slice(at)].join(' ');
}

/** Whether a brand may state this, going by what its facts state. */
export function isAmong(stated: Stated, facts: readonly Stated[]): boolean {
  return facts.some(({ sort, key }) => {
    if (sort !== stated.sort) return false;
    return sort === 'number' ? sameNumber(key, stated.key) : key === stated.key;
  });
}

/** With and without the code of the country. */
function sameNumber(one: string, other: string): boolean {
  const [short, long] = [one.replace(/^0+/, ''), other.replace(/^0+/, '')].sort((a, b) => a.length - b.length);
  return short === long || (short!.length >= 7 && long!.endsWith(short!));
}
