import { detectAll } from 'tinyld';
import { folded, wordsOf } from './words-of.ts';

/** The languages that are told apart, by ISO 639-1 code: those of the detection package that it tells apart well. */
export const LANGUAGES: Readonly<Record<string, string>> = {
  da: 'Danish',
  de: 'German',
  en: 'English',
  es: 'Spanish',
  fi: 'Finnish',
  fr: 'French',
  hu: 'Hungarian',
  it: 'Italian',
  ja: 'Japanese',
  ko: 'Korean',
  nl: 'Dutch',
  pl: 'Polish',
  pt: 'Portuguese',
  ru: 'Russian',
  sv: 'Swedish',
  tr: 'Turkish',
  zh: 'Chinese',
};

/** More is not read: languages show in their first words. Code units. */
const READ = 1000;
/** Fewer letters, or words, say too little: “timetable?” may be English or French. */
const LEAST_LETTERS = 6;
const LEAST_WORDS = 3;
/** The package's own measure, from 0 to 1, below which it guesses; and by how much the best has to lead. */
const LEAST_SURE = 0.08;
const LEAST_LEAD = 1.4;

/**
 * The language of a text by the frequency of its letters, as an ISO 639-1 code.
 *
 * It is told by a detection package (n-grams) and is never sure for a few words: then nothing is said.
 *
 * @returns empty where it cannot be told
 * @example languageOf('Swam here every morning of my holiday') // 'en'
 */
export function languageOf(text: string): string {
  const read = text.slice(0, READ).replace(/https?:\/\/\S+|[@#]\S+/g, ' ');
  let letters = 0;
  let words = 0;
  for (const { word } of wordsOf(read)) {
    letters += word.length;
    words++;
  }
  const spaced = /\p{Script=Latin}|\p{Script=Cyrillic}/u.test(folded(read));
  if (spaced ? letters < LEAST_LETTERS || words < LEAST_WORDS : letters < 2) return '';
  const [best, second] = detectAll(read);
  if (!best || !Object.hasOwn(LANGUAGES, best.lang)) return '';
  if (best.accuracy < LEAST_SURE || (second && best.accuracy < second.accuracy * LEAST_LEAD)) return '';
  return best.lang;
}
