// What would look careless at an outlet, seen in a post as it would go out. Whether it is harm or habit is for a person;
// advice.ts counts them over the items and offers remedies.
import type { PostCell } from '../engine/cells.ts';
import { KIND_RULES, type OutletKind } from '../outlets/kinds.ts';
import { isShouting } from '../text/case.ts';
import { remembering } from '../text/memo.ts';
import { hasGaps } from './close-up.ts';

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
const HASHTAGS = /(?<![\p{XID_Continue}&/])[#＃][\p{XID_Continue}]+/gu;
/** A name that is called; not the middle of a mail address. */
const MENTION = /(?<![\p{XID_Continue}.@/])@[\p{L}\p{N}_][\p{L}\p{N}_.]+/u;

/** What a post of a kind could be criticised for by itself. Likeness to others needs the others. */
export function lintPost(post: PostCell, kind: OutletKind): Lint[] {
  const { text: rules, media: takes } = KIND_RULES[kind];
  const { text, more } = post;
  const found: Lint[] = [];
  const hasHash = text.includes('#') || text.includes('＃');
  if (!rules.links && LINK.test(text)) found.push('dead-link');
  if (hasHash && (text.match(HASHTAGS)?.length ?? 0) > rules.hashtags) found.push('hashtags');
  found.push(...lintWords(text));
  if (!rules.mentions && text.includes('@') && MENTION.test(text)) found.push('mention');
  if (post.left) found.push('pictures');
  const pictures = more?.media?.filter(({ type }) => type === 'picture') ?? [];
  if (takes.alt !== null && pictures.some(({ alt }) => alt.trim() === '')) found.push('no-alt');
  return found;
}

/** What the words could be criticised for wherever they stand. One caption goes to several outlets. */
const lintWords = remembering<readonly Lint[]>(500, (text) => [
  ...(isShouting(text) ? (['shouting'] as const) : []),
  ...(hasGaps(text) ? (['left-behind'] as const) : []),
]);
