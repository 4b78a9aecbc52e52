// A text with fewer and fewer of its hashtags.
import { type Piece } from './pieces.ts';

export const HASHTAGS_ONLY = /^(?:\s*[#＃][\p{XID_Continue}]+)+\s*$/u;

const HASHTAG = /^[#＃][\p{XID_Continue}]+\s*$/u;

const CONTINUES = /[\p{XID_Continue}]$/u;

/** The pieces with ever fewer of the hashtags at their end. Their number stays, so that cuts can be told apart. */
export function hashtagLevels(pieces: readonly Piece[]): (readonly Piece[])[] {
  const levels = [pieces];
  for (;;) {
    const now = levels.at(-1)!;
    const last = now.findLastIndex((piece) => piece.text.trim() !== '');
    const piece = now[last];
    if (!piece || piece.keep || piece.code || piece.link !== undefined) return levels;
    let shorter = withoutLastHashtag(piece.text);
    if (shorter === undefined) return levels;
    // Of more than a reader would count, those beyond go together.
    if (levels.length === MOST_HASHTAGS) shorter = withoutLastHashtags(shorter);
    const without = now.map((each, index) => (index === last ? { ...each, text: shorter } : each));
    // A text of nothing but hashtags keeps its first.
    if (without.every((each) => each.text.trim() === '')) return levels;
    levels.push(without);
  }
}

/** So many hashtags are given up one by one. */
const MOST_HASHTAGS = 200;

/** A text without all the hashtags at its end. */
function withoutLastHashtags(text: string): string {
  let end = text.trimEnd().length;
  for (;;) {
    let at = end;
    for (let sign = signBefore(text, at); CONTINUES.test(sign); sign = signBefore(text, at)) at -= sign.length;
    const mark = text[at - 1];
    if (at === end || (mark !== '#' && mark !== '＃') || CONTINUES.test(signBefore(text, at - 1))) break;
    end = at - 1;
    while (end > 0 && /\s/u.test(text[end - 1]!)) end--;
  }
  return text.slice(0, end);
}

/** The code point before an offset; empty at the beginning. */
function signBefore(text: string, at: number): string {
  const low = text.charCodeAt(at - 1);
  return text.slice(at - (low >= 0xdc00 && low < 0xe000 && at > 1 ? 2 : 1), at);
}

function withoutLastHashtag(text: string): string | undefined {
  const at = Math.max(text.lastIndexOf('#'), text.lastIndexOf('＃'));
  if (at < 0 || !HASHTAG.test(text.slice(at))) return undefined;
  const before = text.slice(0, at);
  return CONTINUES.test(before.slice(-2)) ? undefined : before.trimEnd();
}
