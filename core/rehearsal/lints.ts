// What would look careless at an outlet, seen in a post as it would go out. Whether it is harm or habit is for a person;
// advice.ts counts them over the items and offers remedies.
import type { PostCell } from '../model/cells.ts';
import { KIND_RULES, type OutletKind } from '../outlets/kinds.ts';
import { isShouting } from '../text/case.ts';
import { countHashtags, countMentions } from '../text/hashtags.ts';
import { remembering } from '../text/memo.ts';
import { hasGaps } from '../captions/close-up.ts';

export const LINTS = [
  'dead-link',
  'hashtags',
  'shouting',
  'left-behind',
  'mention',
  'no-picture',
  'pictures',
  'no-alt',
  'similar',
] as const;
export type Lint = (typeof LINTS)[number];

const LINK = /https?:\/\/\S/u;

/** What a post of a kind could be criticised for by itself. Likeness to others needs the others. */
export function lintPost(post: PostCell, kind: OutletKind): Lint[] {
  const { text: rules, media: takes } = KIND_RULES[kind];
  const { text, more } = post;
  const found: Lint[] = [];
  if (!rules.links && LINK.test(text)) found.push('dead-link');
  if (countHashtags(text) > rules.hashtags) found.push('hashtags');
  found.push(...lintWords(text));
  if (!rules.mentions && countMentions(text) > 0) found.push('mention');
  if (post.left) found.push('pictures');
  const pictures = more?.media?.filter(({ type }) => type === 'picture') ?? [];
  if (takes.alt !== null && pictures.some(({ alt }) => alt.trim() === '')) found.push('no-alt');
  return found;
}

/** What the words could be criticised for wherever they stand. One caption goes to several outlets. */
export const lintWords = remembering<readonly Lint[]>(500, (text) => [
  ...(isShouting(text) ? (['shouting'] as const) : []),
  ...(hasGaps(text) ? (['left-behind'] as const) : []),
]);
