import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readCaption } from './caption.ts';
import { correctedPieces } from './corrected.ts';
import type { Piece } from './pieces.ts';
import { writePlain } from './write/plain.ts';

const caption = readCaption(
  '{#bold}New:{/bold} {$title} {#link to=$link}watch it{/link} now. {#optional}{$more}{/optional}',
);
const fields = { title: 'Sunrise swim', link: 'https://lidos.example/f', more: 'Bring a towel.' };
const pieces = caption.pieces(fields);
const before = caption.format(fields);

const bold = (all: readonly Piece[] | undefined) => all?.filter((piece) => piece.bold).map((piece) => piece.text);
const links = (all: readonly Piece[] | undefined) => all?.filter((piece) => piece.link).map((piece) => piece.text);

describe('a corrected caption', () => {
  it('says what the person left, and keeps what was formatted around it', () => {
    const after = before.replace('Sunrise swim', 'Sunset swim');
    const made = correctedPieces(pieces, before, after)!;
    expect(writePlain(made)).toBe(after);
    expect(bold(made)).toEqual(['New:']);
    expect(links(made)).toEqual(['watch it']);
  });
  it('loses a link that was itself corrected, and the formatting of what is gone', () => {
    const after = before.replace('watch it https://lidos.example/f', 'come and see');
    const made = correctedPieces(pieces, before, after)!;
    expect(writePlain(made)).toBe(after);
    expect(links(made)).toEqual([]);
    expect(bold(correctedPieces(pieces, before, before.replace('New: ', '')))).toEqual([]);
  });
  it('is bold within what is bold', () => {
    const made = correctedPieces([{ text: 'right now', bold: true }, { text: '.' }], 'right now.', 'right about now.')!;
    expect(made).toEqual([
      { text: 'right about now', bold: true, keep: true },
      { text: '.', keep: true },
    ]);
  });
  it('gives nothing up any more: these words were approved', () => {
    const made = correctedPieces(pieces, before, `${before} Really.`)!;
    expect(made.every((piece) => piece.keep && piece.field === undefined && piece.optional === undefined)).toBe(true);
  });
  it('is only words where the parts are others than those that were shown', () => {
    expect(correctedPieces(pieces, 'Something else', 'Anything')).toBeUndefined();
  });
  it('says exactly what was left, whatever was changed, and never parts a character', () => {
    const part = fc.constantFrom('New', ' ', '🏊', '👩‍👩‍👧', 'e\u0301', '\n', 'tide', '.');
    const words = fc.array(part, { minLength: 1, maxLength: 12 }).map((parts) => parts.join(''));
    const piece = fc
      .record({ text: words, bold: fc.boolean(), field: fc.boolean() })
      .map(({ text, bold: isBold, field }): Piece => ({
        text,
        ...(isBold && { bold: true as const }),
        ...(field && { field: 'f' }),
      }));
    fc.assert(
      fc.property(fc.array(piece, { minLength: 1, maxLength: 5 }), words, (all, after) => {
        const shown = writePlain(all);
        const made = correctedPieces(all, shown, after);
        expect(made).toBeDefined();
        expect(writePlain(made!)).toBe(after);
        for (const { text } of made!) expect(text.isWellFormed()).toBe(true);
      }),
      { numRuns: 500 },
    );
  });
});
