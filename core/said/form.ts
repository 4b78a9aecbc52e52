import { wordsOf } from './words-of.ts';

/** How somebody put it: nothing, only emoji, only signs, a few words, or sentences. */
export const FORMS = ['nothing', 'emoji', 'signs', 'words', 'sentences'] as const;
export type Form = (typeof FORMS)[number];

/** Up to so many words, without the end of a sentence between them, are a few. */
export const FEW = 3;

/**
 * Everything that an emoji may be made of (UTS #51 section 1.4.9): pictographs, regional indicators, keycaps, skin tones,
 * joiners, tags. Digits and the keycap's signs are also ordinary text, and count only before a keycap.
 */
const EMOJI = new RegExp(
  [
    '[0-9#*]\\ufe0f?\\u20e3',
    '\\p{Emoji_Presentation}',
    '\\p{Extended_Pictographic}',
    '\\p{Regional_Indicator}',
    '\\p{Emoji_Modifier}',
    // Zero-width joiner, variation selector, keycap, tags.
    '\\u200d',
    '\\ufe0f',
    '\\u20e3',
    '[\\u{e0020}-\\u{e007f}]',
  ].join('|'),
  'gu',
);
const LETTER = /[\p{L}\p{N}]/u;
/** ©, ® and ™ are text unless a variation selector says otherwise. */
const TEXT_SIGNS = /[©®™](?!\ufe0f)/gu;

/**
 * How something is put.
 *
 * @example formOf('🙌🏽 ❤️') // 'emoji'
 * @example formOf('timetable please!!') // 'words'
 */
export function formOf(text: string): Form {
  if (!/\S/.test(text)) return 'nothing';
  const rest = text.replace(TEXT_SIGNS, '.').replace(EMOJI, '');
  if (!LETTER.test(rest))
    return rest
      .trim()
      .replace(/[!?.,…~]+/g, '')
      .trim() === '' && rest !== text
      ? 'emoji'
      : 'signs';
  let words = 0;
  for (const _ of wordsOf(rest)) if (++words > FEW) return 'sentences';
  return /[.!?…]\s+\S*[\p{L}\p{N}]/u.test(rest) ? 'sentences' : 'words';
}

/** How a form is called where people choose one. */
export const FORM_NAMES: Readonly<Record<Form, string>> = {
  nothing: 'no words',
  emoji: 'only emoji',
  signs: 'only signs',
  words: 'a few words',
  sentences: 'sentences',
};
