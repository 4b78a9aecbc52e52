import { folded } from '../said/words-of.ts';

/** Shorter parts of a name are soon another word. Letters. */
const LEAST = 3;
const WORD = /[\p{L}\p{M}]+/gu;

/**
 * A text without somebody's name: every part of it, whatever its capitals and accents, becomes "…".
 *
 * @example withoutName('Dear Ana, thank you. – The lidos', 'Ana Prata') // 'Dear …, thank you. – The lidos'
 */
export function withoutName(text: string, name: string): string {
  const parts = new Set((name.match(WORD) ?? []).map(folded).filter((part) => Array.from(part).length >= LEAST));
  const whole = folded(name.trim());
  const bare = text.replace(WORD, (word) => (parts.has(folded(word)) ? '…' : word));
  // A name of short parts alone is looked for as a whole.
  if (parts.size > 0 || whole === '') return bare.replace(/…(?:\s…)+/gu, '…');
  return bare.split(name.trim()).join('…');
}

/** Shorter words are anybody's. Letters. */
const LEAST_WORDS = 5;

/** A text without what somebody wrote, where it quotes that. */
export const withoutWords = (text: string, said: readonly string[]): string =>
  said
    .map((each) => each.trim())
    .filter((each) => each.length >= LEAST_WORDS)
    .sort((a, b) => b.length - a.length)
    .reduce((rest, each) => rest.split(each).join('…'), text);
