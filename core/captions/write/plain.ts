import type { Piece } from '../pieces.ts';

/**
 * The words alone, for kinds without formatting. An address that words lead to stands after them; where the words are
 * the address, it stands once.
 */
export function writePlain(pieces: readonly Piece[]): string {
  let text = '';
  pieces.forEach((piece, index) => {
    text += piece.text;
    if (piece.link === undefined || pieces[index + 1]?.link === piece.link) return;
    const words = linkWords(pieces, index);
    if (words.includes(piece.link)) return;
    const trailing = text.slice(text.trimEnd().length);
    text = `${text.slice(0, text.length - trailing.length)} ${piece.link}${trailing}`;
  });
  return text;
}

/** All words of the link that ends with this piece. */
function linkWords(pieces: readonly Piece[], end: number): string {
  let words = '';
  for (let index = end; index >= 0 && pieces[index]!.link === pieces[end]!.link; index--)
    words = pieces[index]!.text + words;
  return words;
}
