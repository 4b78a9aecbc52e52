import { folded } from './words-of.ts';

/** Marks that end a question: Latin, full-width, Arabic, Greek (only at an end), Armenian. */
const MARK = /[?？؟՞]|(?<=\p{Script=Greek});/u;
/** How questions begin in English, where people leave the mark out. */
const BEGINS =
  /(?:^|[.!\n]\s{0,3}|\b(?:hi|hello|hey|please|sorry|thanks|and|but|so|ok|okay|also),?\s+)(?:who|what (?!an? )|when|where|which|why|how|whose|is|are|was|were|do|does|did|can|could|will|would|should|may|has|have|any(?:one|body) know)\s*\b\S/u;
const READ = 4000;

/**
 * Whether a text asks something: it has a question mark outside links, or begins as English questions do.
 *
 * @example isQuestion('when do you open on sundays') // true
 */
export function isQuestion(text: string): boolean {
  const read = folded(text.slice(0, READ)).replace(/https?:\/\/\S+/g, ' ');
  return MARK.test(text.slice(0, READ).replace(/https?:\/\/\S+/g, ' ')) || BEGINS.test(read.trimStart());
}
