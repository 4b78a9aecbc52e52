import { sameLook, type Piece } from '../pieces.ts';

/** A text as it is, where HTML is read: HTML Living Standard 13.3, "Escaping a string", for text and attributes. */
export function escapeHtml(text: string): string {
  return text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');
}

const TAGS = [
  ['bold', 'b'],
  ['italic', 'i'],
  ['code', 'code'],
] as const;

/**
 * The words in the subset of HTML that broadcast networks take: b, i, code and a. Lists are lines with a sign, line
 * breaks stay line breaks. Every tag is closed in the order in which it was opened.
 */
export function writeHtml(pieces: readonly Piece[]): string {
  let html = '';
  const open: { tag: string; piece: Piece }[] = [];
  const wants = (piece: Piece): string[] => [
    ...(piece.link === undefined ? [] : [`a href="${escapeHtml(piece.link)}"`]),
    ...TAGS.flatMap(([mark, tag]) => (piece[mark] ? [tag] : [])),
  ];
  const close = (keep: number) => {
    while (open.length > keep) html += `</${open.pop()!.tag.split(' ')[0]}>`;
  };
  pieces.forEach((piece, index) => {
    const wanted = wants(piece);
    const before = pieces[index - 1];
    if (!before || !sameLook(before, piece)) {
      let same = 0;
      while (same < open.length && open[same]!.tag === wanted[same]) same++;
      close(same);
      for (const tag of wanted.slice(same)) {
        html += `<${tag}>`;
        open.push({ tag, piece });
      }
    }
    html += escapeHtml(piece.text);
  });
  close(0);
  return html;
}
