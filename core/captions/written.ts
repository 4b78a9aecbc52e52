// Writing words as an outlet takes them, and counting them as it does.
import type { Piece } from './pieces.ts';
import { isFormatted, tidyPieces } from './pieces.ts';
import type { Worded } from './worded.ts';
import { writeHtml } from './write/html.ts';
import { escapeMarkdown, writeMarkdown } from './write/markdown.ts';
import { writePlain } from './write/plain.ts';
import type { WordRules } from '../outlets/kinds.ts';
import { measure } from '../outlets/length.ts';

/** Words as they go out. */
export interface Written {
  /** Without markup, for everybody who reads it in Playa. */
  text: string;
  /** In the outlet's own markup, where that says more than the text. */
  markup?: string | undefined;
  /** In the outlet's own unit. */
  length: number;
}

/** Words written by the rules of an outlet. Only where there is formatting do their parts say more than the text. */
export function written(rules: WordRules, { text, pieces }: Worded): Written {
  return pieces && isFormatted(pieces) ? writtenPieces(rules, tidyPieces(pieces)) : writtenText(rules, text);
}

/** The parts of a caption, written by the rules of an outlet. */
export function writtenPieces(rules: WordRules, pieces: readonly Piece[]): Written {
  const text = writePlain(pieces);
  if (rules.format === 'plain') return { text, length: measure(rules, text) };
  if (rules.format === 'markdown') {
    const markup = writeMarkdown(pieces);
    return { text, markup: markup === text ? undefined : markup, length: measure(rules, markup) };
  }
  const markup = isFormatted(pieces) ? writeHtml(pieces) : undefined;
  return { text, markup, length: measure(rules, wordsOf(pieces)) };
}

/** A text of which nothing more is known, written by the rules of an outlet. */
export function writtenText(rules: WordRules, text: string): Written {
  if (rules.format !== 'markdown') return { text, length: measure(rules, text) };
  const markup = escapeMarkdown(text);
  return { text, markup: markup === text ? undefined : markup, length: measure(rules, markup) };
}

/** How long the parts of a caption would be, written by the rules of an outlet. */
export function lengthOf(rules: WordRules, pieces: readonly Piece[]): number {
  if (rules.format === 'plain') return measure(rules, writePlain(pieces));
  if (rules.format === 'markdown') return measure(rules, writeMarkdown(pieces));
  return measure(rules, wordsOf(pieces));
}

const wordsOf = (pieces: readonly Piece[]) => pieces.map((piece) => piece.text).join('');
