// Where something is, as people write it on a letter: a house number and a street, in the order of the language.
import { folded } from '../said/words-of.ts';

/** How streets are called at the end of their name, in English: common practice. */
const AFTER =
  'street|st|road|rd|lane|ln|avenue|ave|drive|dr|close|court|square|terrace|way|quay|wall|crescent|place|hill|row|gardens|parade|esplanade|promenade|wharf|embankment|boulevard|blvd|mews|grove|yard';
/** At the beginning, in Portuguese, French, Spanish and Italian. */
const BEFORE =
  'rua|avenida|av|praça|praca|travessa|largo|estrada|rue|avenue|boulevard|place|quai|chemin|calle|plaza|paseo|camino|via|viale|piazza|corso';
/** At the end of the one word, in German, Dutch and the languages of the North. */
const WITHIN =
  'straße|strasse|str\\.|gasse|weg|platz|allee|ufer|damm|straat|laan|plein|gracht|kade|gatan|vägen|gade|vej';

const NUMBER = String.raw`\p{Nd}{1,5}\s?[a-zA-Z]?`;
// Bounded, so that no text, however odd, is read again and again.
const NAME = String.raw`\p{Lu}[\p{L}\p{M}’'.-]{0,40}`;
const after = AFTER.split('|')
  .map((word) => word[0]!.toUpperCase() + word.slice(1))
  .join('|');
/** Beginning with a capital or not. */
const either = (words: string): string =>
  words
    .split('|')
    .map((word) => `[${word[0]!.toUpperCase()}${word[0]}]${word.slice(1)}`)
    .join('|');
const before = either(BEFORE);

const WAYS: readonly RegExp[] = [
  // 1 Sea Wall; 14a, Old Harbour Road
  new RegExp(
    String.raw`(?<![\p{L}\p{Nd}.,])(?<number>${NUMBER}),?\s+(?<street>(?:${NAME}\s+){1,4}(?:${after}))\b`,
    'gu',
  ),
  // Dune Road 12
  new RegExp(String.raw`\b(?<street>(?:${NAME}\s+){1,4}(?:${after}))\.?,?\s+(?<number>${NUMBER})\b`, 'gu'),
  // Rua da Praia, 7; Avenue de la Mer 3
  new RegExp(
    String.raw`\b(?<street>(?:${before})\.?\s+(?:\p{Ll}{1,4}\s+){0,3}${NAME}(?:\s+${NAME}){0,3}),?\s+(?:n\.?º\s*)?(?<number>${NUMBER})\b`,
    'gu',
  ),
  // 3, avenue de la Mer; 12 rue Haute
  new RegExp(
    String.raw`(?<![\p{L}\p{Nd}.,])(?<number>${NUMBER}),?\s+(?<street>(?:${before})\.?\s+(?:\p{Ll}{1,4}\s+){0,3}${NAME}(?:\s+${NAME}){0,3})`,
    'gu',
  ),
  // Hafenstraße 5; Am Alten Weg 9
  new RegExp(
    String.raw`\b(?<street>(?:${NAME}\s+){0,3}\p{Lu}[\p{L}\p{M}-]{0,40}(?:${WITHIN})|(?:${NAME}\s+){1,3}(?:${either(WITHIN)}))\s+(?<number>${NUMBER})\b`,
    'gu',
  ),
];

/** Streets with a number. What only looks like one is rather found than missed: it is looked up among the facts. */
export function postalIn(text: string): { said: string; key: string; at: number }[] {
  const found = new Map<number, { said: string; key: string; at: number }>();
  for (const way of WAYS)
    for (const match of text.matchAll(way)) {
      const { number, street } = match.groups!;
      const key = `${number!.replace(/\s/g, '').toLowerCase()} ${keyOf(street!)}`;
      const known = found.get(match.index);
      if (!known || known.said.length < match[0].length)
        found.set(match.index, { said: match[0].trim(), key, at: match.index });
    }
  return [...found.values()];
}

/** Abbreviated or not, with accents or not, it is the same street. */
const keyOf = (street: string): string =>
  folded(street)
    .replace(/strasse\b|straße\b|str\b\.?/g, 'str')
    .replace(/\bst\b\.?$/, 'street')
    .replace(/\brd\b\.?$/, 'road')
    .replace(/\bave\b\.?$/, 'avenue')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
