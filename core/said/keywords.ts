// Whether somebody used a keyword, in the misspellings that are usual, with the rule that let it pass.
import { cutUnits } from '../text/graphemes.ts';
import { editDistance } from './edit-distance.ts';
import { folded, wordsOf } from './words-of.ts';

/** One keyword made ready; it may have several words. */
export interface Keyword {
  /** As somebody wrote it. */
  said: string;
  /** Its words together, folded. */
  folded: string;
  words: number;
  /** How many letters may be wrong. */
  tolerance: number;
  /** Written in a script that puts no spaces between words: it is found anywhere. */
  anywhere: boolean;
}

/** By which rule a word is a keyword. */
export type Rule = 'same' | 'plural' | 'apart' | 'stretched' | 'misspelt';

/** What was taken for a keyword, or nearly. */
export interface Found {
  /** As the brand wrote it. */
  keyword: string;
  /** As they wrote it, folded. */
  word: string;
  /** Why it was taken; null where it was not. */
  rule: Rule | null;
  /** Letters wrong. */
  distance: number;
  /** Letters that may be wrong in this keyword. */
  tolerance: number;
}

const UNSPACED =
  /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}\p{Script=Lao}\p{Script=Khmer}\p{Script=Myanmar}]/u;
/** So many keywords of a list are looked for, and so many words of each. */
export const MOST_KEYWORDS = 100;
const MOST_WORDS = 8;
/** Code units of a keyword that are read. */
const LONGEST = 200;

/**
 * How many letters of a word may be wrong: short ones are soon another word, so none below four letters, one up to seven,
 * two from eight on.
 */
export const toleranceFor = (letters: number): number => (letters < 4 ? 0 : letters < 8 ? 1 : 2);

/**
 * Reads a list of keywords, separated by commas, semicolons or line breaks. One in quotation marks is taken letter by
 * letter.
 *
 * @example readKeywords('timetable, "pool"').map(({ tolerance }) => tolerance) // [2, 0]
 */
export function readKeywords(list: string): Keyword[] {
  const seen = new Set<string>();
  const keywords: Keyword[] = [];
  for (const part of list.split(/[,;\n、，]/)) {
    const said = part.trim();
    const exact = /^["“”„«](.*)["“”»]$/.exec(said);
    const bare = exact ? exact[1]!.trim() : said;
    const words = Array.from(wordsOf(cutUnits(bare, LONGEST)), ({ word }) => word).slice(0, MOST_WORDS);
    const together = words.join('');
    if (together === '' || seen.has(together)) continue;
    seen.add(together);
    keywords.push({
      said: bare,
      folded: together,
      words: words.length,
      tolerance: exact ? 0 : toleranceFor(Array.from(together).length),
      anywhere: UNSPACED.test(together),
    });
    if (keywords.length === MOST_KEYWORDS) break;
  }
  return keywords;
}

/**
 * The first keyword that a text uses.
 *
 * @returns null when it uses none
 * @example findKeyword('timetabel please!!', readKeywords('timetable'))?.rule // 'misspelt'
 */
export function findKeyword(text: string, keywords: readonly Keyword[]): Found | null {
  for (const found of candidates(text, keywords)) if (found.rule !== null) return found;
  return null;
}

/** Words that are nearly a keyword and were not taken, nearest first: for showing what a list leaves out. */
export function nearMisses(text: string, keywords: readonly Keyword[], most = 3): Found[] {
  const near = new Map<string, Found>();
  for (const found of candidates(text, keywords)) {
    if (found.rule !== null) return [];
    near.set(`${found.word}\n${found.keyword}`, found);
  }
  return [...near.values()].sort((a, b) => a.distance - b.distance).slice(0, most);
}

/** Why a word was taken for a keyword, or was not: "“timetabel” is “timetable”, 1 letter off". */
export function sayFound({ keyword, word, rule, distance, tolerance }: Found): string {
  const letters = distance === 1 ? '1 letter' : `${distance} letters`;
  switch (rule) {
    case 'same':
      return `“${keyword}”`;
    case 'plural':
      return `“${word}” is a form of “${keyword}”`;
    case 'apart':
      return `“${keyword}”, its words together or apart`;
    case 'stretched':
      return `“${word}” is “${keyword}” with letters repeated`;
    case 'misspelt':
      return `“${word}” is “${keyword}”, ${letters} off`;
    case null:
      return tolerance === 0
        ? `“${word}” is not “${keyword}”, which is taken letter by letter`
        : `“${word}” is not “${keyword}”: ${letters} off, or another first letter`;
  }
}

function* candidates(text: string, keywords: readonly Keyword[]): Generator<Found> {
  const anywhere = keywords.filter((keyword) => keyword.anywhere);
  if (anywhere.length > 0) {
    const whole = folded(text);
    for (const { said, folded: wanted } of anywhere)
      if (whole.includes(wanted)) yield { keyword: said, word: wanted, rule: 'same', distance: 0, tolerance: 0 };
  }
  const spaced = keywords.filter((keyword) => !keyword.anywhere);
  if (spaced.length === 0) return;
  const longest = Math.max(...spaced.map(({ words }) => words)) + 1;
  /** The last few words, newest last. */
  const window: string[] = [];
  for (const { word } of wordsOf(text)) {
    window.push(word);
    if (window.length > longest) window.shift();
    for (const keyword of spaced)
      // Its words may have been written together, or one of them apart.
      for (let count = Math.max(1, keyword.words - 1); count <= keyword.words + 1 && count <= window.length; count++) {
        const found = compare(window.slice(-count), keyword);
        if (found) yield found;
      }
  }
}

/** How words that stand together compare with a keyword; null when they have nothing to do with it. */
function compare(words: readonly string[], keyword: Keyword): Found | null {
  const { said, folded: wanted, tolerance } = keyword;
  const asApart = words.length !== keyword.words;
  const word = words.join('');
  const found = (rule: Rule | null, distance: number): Found => ({
    keyword: said,
    word: words.join(' '),
    rule,
    distance,
    tolerance,
  });
  if (word === wanted) return found(asApart ? 'apart' : 'same', 0);
  // Letters of a neighbouring word must not make up for those that are missing.
  if (asApart || tolerance === 0 || word.length < wanted.length - tolerance - 1) return null;
  if (formOf(word, wanted)) return found('plural', 0);
  if (squeezed(word) === squeezed(wanted)) return found('stretched', Math.abs(word.length - wanted.length));
  const distance = editDistance(word, wanted, tolerance + 1);
  if (distance > tolerance + 1) return null;
  return found(distance <= tolerance && beginsAlike(word, wanted) ? 'misspelt' : null, distance);
}

/** Somebody who mistypes mostly gets the first letter right: "pool" is no misspelt "tool". Two swapped ones may be. */
const beginsAlike = (word: string, wanted: string) =>
  word[0] === wanted[0] || (word[0] === wanted[1] && word[1] === wanted[0]);

const ENDINGS = ['s', 'es', 'n', 'en'];
const formOf = (word: string, wanted: string) =>
  ENDINGS.some((ending) => word === wanted + ending || wanted === word + ending);

/** Without repeated letters: "tooools" and "tools" are alike. */
const squeezed = (word: string) => word.replace(/(.)\1+/gu, '$1');
