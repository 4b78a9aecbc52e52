// Words as people type them in a hurry, made alike: without accents, capitals and signs that nobody sees.

/** Letters that decomposition (NFKD) leaves whole, as they are usually typed without them. */
const TYPED: Readonly<Record<string, string>> = {
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  ø: 'o',
  ł: 'l',
  đ: 'd',
  ð: 'd',
  þ: 'th',
  ı: 'i',
};
const RARE = /[ßæœøłđðþı]/g;
/** Combining marks, and format signs: zero-width spaces and joiners, direction marks, soft hyphens, variation selectors. */
const UNSEEN = /[\p{M}\p{Cf}]+/gu;
const WORD = /[\p{L}\p{N}]+(?:['’][\p{L}\p{N}]+)*/gu;
const PLAIN = /^[\u0020-\u007e\n]*$/;

/**
 * A text in small letters without accents and signs that are not seen.
 *
 * @example folded('TIME\u200BTÁBLE') // 'timetable'
 */
export function folded(text: string): string {
  if (PLAIN.test(text)) return text.toLowerCase();
  // Marks are taken away before they can be put in order, which takes time with the square of their number.
  const bare = text.replace(UNSEEN, '').normalize('NFKD').replace(UNSEEN, '').toLowerCase();
  return bare
    .normalize('NFKD')
    .replace(UNSEEN, '')
    .replace(RARE, (letter) => TYPED[letter]!);
}

/** A word of a text: folded, and where it stands in the folded text. */
export interface Word {
  word: string;
  /** Code units into the folded text. */
  at: number;
}

/**
 * The words of a text, folded, in order. Emoji and punctuation beside them are left out.
 *
 * @example [...wordsOf('Timetable🙏please!!')].map(({ word }) => word) // ['timetable', 'please']
 */
export function* wordsOf(text: string): Generator<Word> {
  for (const found of folded(text).matchAll(WORD)) yield { word: found[0].replace(/['’]/g, ''), at: found.index };
}
