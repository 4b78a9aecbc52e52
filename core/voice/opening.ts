// How an answer begins: two that begin alike show that nobody worded them.
import { folded, wordsOf } from '../said/words-of.ts';

/** Words by which two beginnings are compared. */
const WORDS = 4;
/** What greets rather than says something is not longer than this, in words. */
const GREETING = 4;

/**
 * The first words of an answer, without its greeting: folded, for comparing.
 *
 * @param name whom it greets, so that two greetings of different people are alike
 * @example openingOf('Hello Ana, thank you for your kind words.', 'Ana Prata') // 'thank you for your'
 */
export function openingOf(text: string, name: string): string {
  const names = new Set(Array.from(wordsOf(name), ({ word }) => word));
  const flat = folded(text).trim();
  const end = /[,!.\n–—:]/u.exec(flat);
  const first = end ? flat.slice(0, end.index) : flat;
  const greeting = Array.from(wordsOf(first), ({ word }) => word);
  const greets = end !== null && greeting.length <= GREETING;
  const rest: string[] = [];
  for (const { word } of wordsOf(greets ? flat.slice(end.index) : flat)) {
    if (names.has(word)) continue;
    rest.push(word);
    if (rest.length === WORDS) break;
  }
  return (rest.length > 0 ? rest : greeting.filter((word) => !names.has(word))).join(' ');
}
