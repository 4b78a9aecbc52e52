import { countGraphemes } from '../text/graphemes.ts';
import { utf8Length } from '../text/utf8.ts';
import { weightedLength } from '../text/weighted.ts';
import { KIND_RULES, type OutletKind } from './kinds.ts';

/** The length of a text as a kind counts it. */
export function textLength(kind: OutletKind, text: string): number {
  const { unit, link } = KIND_RULES[kind].text;
  switch (unit) {
    case 'grapheme':
      return countGraphemes(text);
    case 'weighted':
      return weightedLength(text, link ?? null);
    case 'utf16':
      return text.length;
    case 'byte':
      return utf8Length(text);
  }
}

/** The longest text of a post at a kind, in its unit; null when there is no limit. */
export function textLimit(kind: OutletKind, hasMedia: boolean): number | null {
  const { limit, besideMedia } = KIND_RULES[kind].text;
  return hasMedia && besideMedia !== undefined ? besideMedia : limit;
}
