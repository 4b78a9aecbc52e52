// Writing a caption for a kind of outlet, and counting it as that kind does.
import type { Piece } from '../captions/pieces.ts';
import { isFormatted } from '../captions/pieces.ts';
import { writeHtml } from '../captions/write/html.ts';
import { escapeMarkdown, writeMarkdown } from '../captions/write/markdown.ts';
import { writePlain } from '../captions/write/plain.ts';
import { KIND_RULES, type OutletKind } from './kinds.ts';
import { textLength } from './length.ts';

/** A caption as it goes out. */
export interface Written {
  /** Without markup, for everybody who reads it in Playa. */
  text: string;
  /** In the kind's own markup, where that says more than the text. */
  markup?: string | undefined;
  /** In the kind's own unit. */
  length: number;
}

/** A caption written for a kind. */
export function writtenFor(kind: OutletKind, pieces: readonly Piece[]): Written {
  const { format } = KIND_RULES[kind].text;
  const text = writePlain(pieces);
  if (format === 'plain') return { text, length: textLength(kind, text) };
  if (format === 'markdown') {
    const markup = writeMarkdown(pieces);
    return { text, markup: markup === text ? undefined : markup, length: textLength(kind, markup) };
  }
  const markup = isFormatted(pieces) ? writeHtml(pieces) : undefined;
  return { text, markup, length: textLength(kind, wordsOf(pieces)) };
}

/** How long a caption would be written for a kind, in its own unit. */
export function lengthFor(kind: OutletKind, pieces: readonly Piece[]): number {
  const { format } = KIND_RULES[kind].text;
  if (format === 'plain') return textLength(kind, writePlain(pieces));
  if (format === 'markdown') return textLength(kind, writeMarkdown(pieces));
  return textLength(kind, wordsOf(pieces));
}

const wordsOf = (pieces: readonly Piece[]) => pieces.map((piece) => piece.text).join('');

/** A text of which nothing more is known, written for a kind. */
export function textFor(kind: OutletKind, text: string): Written {
  if (KIND_RULES[kind].text.format !== 'markdown') return { text, length: textLength(kind, text) };
  const markup = escapeMarkdown(text);
  return { text, markup: markup === text ? undefined : markup, length: textLength(kind, markup) };
}
