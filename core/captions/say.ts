// Words as they will stand at an outlet: written its way, made to fit where that is asked for, or told why they are not
// taken.
import { fitPieces, fitText } from './fit.ts';
import type { Trimmed } from './trimming.ts';
import type { Ladder } from './ladder.ts';
import type { Piece } from './pieces.ts';
import type { Worded } from './worded.ts';
import { writePlain } from './write/plain.ts';
import { countHashtags, countMentions } from '../text/hashtags.ts';
import type { WordRules } from '../outlets/kinds.ts';
import { lengthOf, written, writtenPieces, writtenText, type Written } from './written.ts';

/** What was given up so that words fit, and how long they were before. */
export interface TrimmedWords extends Trimmed {
  from: number;
}

export interface Said extends Written {
  limit: number | null;
  /** When they were made to fit. */
  trimmed?: TrimmedWords | undefined;
  /** Why they are not taken, as a sentence. */
  refused?: string | undefined;
}

/**
 * Words by the rules of an outlet.
 *
 * @param ladder what gives way when they are too much; null when nothing may
 * @param locale a BCP 47 tag, for the ends of sentences and words
 * @param name what the outlet is called
 */
export function sayBy(rules: WordRules, words: Worded, ladder: Ladder | null, locale: string, name: string): Said {
  const whole: Said = { limit: rules.limit, ...written(rules, words) };
  const refused = refusal(rules, whole, name);
  if (refused === undefined) return whole;
  const made = ladder && fitted(rules, words, ladder, locale);
  if (!made) return { ...whole, refused };
  const { hashtags, fields, optional } = made.trimmed;
  const trimmed = hashtags || fields.length || optional ? { from: whole.length, ...made.trimmed } : undefined;
  return { limit: rules.limit, ...made.written, trimmed };
}

function fitted(
  rules: WordRules,
  { text, pieces }: Worded,
  ladder: Ladder,
  locale: string,
): { written: Written; trimmed: Trimmed } | undefined {
  if (pieces) {
    const made = fitPieces(pieces, (each) => tooMuch(rules, each), locale, ladder);
    return made.fits ? { written: writtenPieces(rules, made.pieces), trimmed: made.trimmed } : undefined;
  }
  const over = (each: string) => excess(rules, each, writtenText(rules, each).length);
  const made = fitText(text, over, locale, ladder);
  return made.fits ? { written: writtenText(rules, made.text), trimmed: made.trimmed } : undefined;
}

/** By how much the parts of a caption are more than is taken. */
function tooMuch(rules: WordRules, pieces: readonly Piece[]): number {
  const length = lengthOf(rules, pieces);
  if (rules.mostHashtags === undefined && rules.mostMentions === undefined) return length - (rules.limit ?? Infinity);
  return excess(rules, writePlain(pieces), length);
}

function excess({ limit, mostHashtags, mostMentions }: WordRules, text: string, length: number): number {
  return Math.max(
    length - (limit ?? Infinity),
    mostHashtags === undefined ? -Infinity : countHashtags(text) - mostHashtags,
    mostMentions === undefined ? -Infinity : countMentions(text) - mostMentions,
  );
}

/** Why words are not taken, as a sentence; undefined when they are. */
export function refusal(
  { limit, mostHashtags, mostMentions }: WordRules,
  { text, length }: Written,
  name: string,
): string | undefined {
  if (limit !== null && length > limit) return `${length} characters, ${length - limit} more than ${name} takes.`;
  if (mostHashtags !== undefined && countHashtags(text) > mostHashtags)
    return `${countHashtags(text)} hashtags, and ${name} takes ${mostHashtags}.`;
  if (mostMentions !== undefined && countMentions(text) > mostMentions)
    return `${countMentions(text)} names with @, and ${name} takes ${mostMentions}.`;
  return undefined;
}
