import { countGraphemes } from '../text/graphemes.ts';
import { utf8Length } from '../text/utf8.ts';
import { weightedLength } from '../text/weighted.ts';
import { KIND_RULES, OUTLET_KINDS, type OutletKind, type WordRules } from './kinds.ts';

/** What words are for: a new post, an answer under something, a message to one person. */
export type Purpose = 'post' | 'answer' | 'message';

/** What the words of an act are for; null for acts whose words stand nowhere. */
export function purposeOf(action: string): Purpose | null {
  if (action === 'publish' || action === 'revise') return 'post';
  return action === 'reply' ? 'answer' : action === 'message' ? 'message' : null;
}

/** The rules of posts with a picture or file, where they are others. */
const BESIDE_MEDIA = new Map<OutletKind, WordRules>(
  OUTLET_KINDS.flatMap((kind) => {
    const { besideMedia, ...text } = KIND_RULES[kind].text;
    return besideMedia === undefined ? [] : [[kind, { ...text, limit: besideMedia }] as const];
  }),
);
/** Where nothing is known of a kind of words, they are not limited. */
const ANYTHING: WordRules = { limit: null, unit: 'grapheme', format: 'plain' };

/**
 * The rules of a kind for words of a sort.
 *
 * @param besideMedia whether a picture or file goes with a post
 */
export function wordRules(kind: OutletKind, purpose: Purpose = 'post', besideMedia = false): WordRules {
  const rules = KIND_RULES[kind];
  if (purpose === 'answer') return rules.answers ?? ANYTHING;
  if (purpose === 'message') return rules.messages ?? ANYTHING;
  return (besideMedia && BESIDE_MEDIA.get(kind)) || rules.text;
}

/** The rules of a kind for the title of a post; undefined where there is none. */
export const titleRules = (kind: OutletKind): WordRules | undefined => TITLES.get(kind);
const TITLES = new Map<OutletKind, WordRules>(
  OUTLET_KINDS.flatMap((kind) => {
    const { title } = KIND_RULES[kind];
    return title ? [[kind, { ...ANYTHING, limit: title.limit }] as const] : [];
  }),
);

/** The length of a text as its rules count it. */
export function measure({ unit, link }: WordRules, text: string): number {
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
