// What a drafted answer is held against before anybody sees it sent. Only what code can tell is told; whether an answer
// is wise, a person tells.
import { countGraphemes, cutGraphemes } from '../text/graphemes.ts';
import { firstName } from '../text/names.ts';
import { editDistance } from '../said/edit-distance.ts';
import { findKeyword, readKeywords, sayFound } from '../said/keywords.ts';
import { languageOf, LANGUAGES } from '../said/language.ts';
import { folded } from '../said/words-of.ts';
import { bracketedIn } from '../text/bracketed.ts';
import { openingOf } from './opening.ts';
import { isAmong, statedIn, type StatedSort } from './stated.ts';

/** What can be wrong with a draft. */
export const DRAFT_FAULTS = [
  'empty',
  'length',
  'language',
  'address',
  'number',
  'price',
  'promise',
  'name',
  'opening',
  'placeholder',
] as const;
export type DraftFaultName = (typeof DRAFT_FAULTS)[number];

export interface DraftFault {
  fault: DraftFaultName;
  /** What is wrong, for a person and for the text model: "it names +351 289 000 000, which is not among the facts". */
  says: string;
}

/** What a draft is held against. */
export interface DraftRules {
  /** Characters at most, as people count them. */
  longest: number;
  /** ISO 639-1; null where any will do. */
  language: string | null;
  facts: readonly string[];
  /** Keywords, as in a Check. */
  promises: string;
  /** Whom it answers, as the network gives their name; empty where it gives none. */
  name: string;
  /** What was answered last at the same place, with whom it greeted. */
  before: readonly { text: string; name: string }[];
}

const THINGS: Readonly<Record<StatedSort, string>> = {
  address: 'an address',
  number: 'what may be a telephone number',
  price: 'a price',
};

/** Words in brackets of a kind that nobody answers with. */
const LEFT_OPEN = /\[[^\]\n]{1,60}\]|\{[^}\n]{1,60}\}/;

/** Holds a draft against the rules of a brand. Without faults it may go on. */
export function checkDraft(text: string, rules: DraftRules): DraftFault[] {
  const faults: DraftFault[] = [];
  const wrong = (fault: DraftFaultName, says: string) => faults.push({ fault, says });
  if (text.trim() === '') {
    wrong('empty', 'it has no words');
    return faults;
  }
  const length = countGraphemes(text);
  if (length > rules.longest) wrong('length', `it has ${length} characters, and ${rules.longest} at most are wanted`);
  const language = languageOf(text);
  if (rules.language !== null && language !== '' && language !== rules.language)
    wrong('language', `it is in ${sayLanguage(language)}, not ${sayLanguage(rules.language)}`);
  const known = rules.facts.flatMap((fact) => statedIn(fact));
  for (const stated of statedIn(text, language === '' || language === 'en'))
    if (!isAmong(stated, known))
      wrong(stated.sort, `it names “${shown(stated.said)}”, ${THINGS[stated.sort]} that is not among the facts`);
  const promised = findKeyword(text, readKeywords(rules.promises));
  if (promised) wrong('promise', `it promises: ${sayFound(promised)}`);
  const name = wrongName(text, rules.name);
  if (name) wrong('name', `it writes “${shown(name.said)}” for ${name.meant}`);
  const placeholder = bracketedIn(text) ?? LEFT_OPEN.exec(text)?.[0];
  if (placeholder !== undefined) wrong('placeholder', `“${shown(placeholder)}” is left to be filled in`);
  const opening = openingOf(text, rules.name);
  if (opening !== '' && rules.before.some((each) => openingOf(each.text, each.name) === opening))
    wrong('opening', `it begins with “${shown(opening)}”, as one of the last answers did`);
  return faults;
}

const sayLanguage = (code: string): string => LANGUAGES[code] ?? code;
const shown = (said: string): string => (countGraphemes(said) > 60 ? `${cutGraphemes(said, 59)}…` : said);

/** Signs after which a word has a capital letter whatever it is. */
const SENTENCE_END = /[.!?…:]\s*$/u;
const WORD = /\p{L}[\p{L}\p{M}’'-]*/gu;

/**
 * A name that was meant to be theirs and is spelled otherwise: another letter or two, without its accents, in other
 * capitals. Words at the beginning of a sentence are only names where they greet: "Well, thank you" is nobody.
 */
function wrongName(text: string, full: string): { said: string; meant: string } | null {
  const first = firstName(full);
  const parts = [...full.matchAll(WORD)].map(([part]) => part).filter((part) => part.length >= 3);
  const own = new Set([...parts, first]);
  const meant = [...new Set([first, ...parts])].filter((part) => part.length >= 3);
  for (const found of text.matchAll(WORD)) {
    const said = found[0];
    if (own.has(said) || said.length < 3 || !/^\p{Lu}/u.test(said)) continue;
    const before = text.slice(Math.max(0, found.index - 4), found.index);
    const begins = found.index === 0 || SENTENCE_END.test(before) || before.includes('\n');
    for (const part of meant) {
      if (folded(said) === folded(part)) return { said, meant: part };
      if (begins || said.length < 4) continue;
      const most = part.length < 4 ? 0 : part.length < 8 ? 1 : 2;
      if (most > 0 && editDistance(folded(said), folded(part), most) <= most) return { said, meant: part };
    }
  }
  return null;
}
