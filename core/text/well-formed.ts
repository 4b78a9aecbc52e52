// Text from outside, brought into a form that can be stored, compared and cut.

/**
 * A text whose surrogates all have their other half (ECMA-262, `String.prototype.toWellFormed`): a lone one becomes
 * U+FFFD, as every encoder would write it. Databases refuse JSON that holds one.
 *
 * @example wellFormed('sea \ud83c') // 'sea \ufffd'
 */
export const wellFormed = (text: string): string => (text.isWellFormed() ? text : text.toWellFormed());

/** So many marks on one letter no language has; more are parted (UAX #15 section 13). */
const MARKS_IN_A_ROW = /\p{M}{30}(?=\p{M})/gu;
const MANY_MARKS = /\p{M}{31}/u;

/**
 * The composed form of a text (UAX #15, NFC). Marks without end on one letter are parted before, as the Stream-Safe Text
 * Format has it, since putting them in order takes time with the square of their number.
 */
export const composed = (text: string): string => partedMarks(text).normalize('NFC');

/** A text in which no letter has marks without end (UAX #15 section 13, with U+034F between them). */
export const partedMarks = (text: string): string =>
  MANY_MARKS.test(text) ? text.replace(MARKS_IN_A_ROW, '$&\u034f') : text;
