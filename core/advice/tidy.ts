// What is out and lacks something, or is out twice: the tidy-up list.
import { oneLine } from '../text/plain.ts';
import { KIND_RULES, type OutletKind } from '../outlets/kinds.ts';

/** A post that is out. */
export interface PostOut {
  key: string;
  outlet: number;
  kind: OutletKind;
  at: number;
  text: string;
  title: string | null;
  /** The link that goes with it. */
  card: string | null;
  media: readonly { type: string; alt: string }[];
}

/** What is wrong with a post. */
export type Untidy =
  /** The kind shows its posts under titles, and this has none. */
  | { what: 'title' }
  /** Neither a link beside it nor one in its words. */
  | { what: 'link' }
  /** The kind shows pictures first, and this has none. */
  | { what: 'picture' }
  /** A picture says nothing to those who do not see it. */
  | { what: 'alt' }
  /** The same words or the same link are out at the same outlet already. */
  | { what: 'doubled'; of: string };

const LINK = /https?:\/\/\S+/i;
const DAY = 86_400_000;
/** The same words count as doubled within this time; a notice that comes back each season is meant. Milliseconds. */
const SAME_WORDS_WITHIN = 60 * DAY;
/** The same link in other words is often meant, though not so soon. */
const SAME_LINK_WITHIN = 3 * DAY;
/** Shorter texts are said again and again, and are meant. */
const SAYS_LITTLE = 12;

/**
 * What is wrong with posts.
 *
 * @param posts in any order; what was deleted is not among them
 * @returns by key, only those with something; of doubled ones the later
 */
export function untidy(posts: readonly PostOut[]): Map<string, Untidy[]> {
  const found = new Map<string, Untidy[]>();
  const first = new Map<string, PostOut>();
  for (const post of [...posts].sort((a, b) => a.at - b.at || (a.key < b.key ? -1 : 1))) {
    const of = lacks(post);
    const same = sameAs(post, first);
    if (same) of.push({ what: 'doubled', of: same.key });
    if (of.length > 0) found.set(post.key, of);
  }
  return found;
}

function lacks({ kind, text, title, card, media }: PostOut): Untidy[] {
  const rules = KIND_RULES[kind];
  const of: Untidy[] = [];
  if (rules.title?.needed && !title?.trim()) of.push({ what: 'title' });
  // Where a click leads somewhere, it should.
  if (rules.linkCard === 'target' && !card && !LINK.test(text)) of.push({ what: 'link' });
  if (rules.media.needed && media.length === 0) of.push({ what: 'picture' });
  if (rules.media.alt !== null && media.some((each) => each.type === 'picture' && !each.alt.trim()))
    of.push({ what: 'alt' });
  return of;
}

function sameAs(post: PostOut, first: Map<string, PostOut>): PostOut | undefined {
  const text = oneLine(post.text).toLowerCase();
  const link = post.card?.replace(/[#?].*$/, '').replace(/\/$/, '');
  let same: PostOut | undefined;
  for (const [key, within] of [
    [text.length >= SAYS_LITTLE ? `${post.outlet}\nwords\n${text}` : null, SAME_WORDS_WITHIN],
    [link ? `${post.outlet}\nlink\n${link}` : null, SAME_LINK_WITHIN],
  ] as const) {
    if (key === null) continue;
    const before = first.get(key);
    if (before && post.at - before.at <= within) same ??= before;
    else first.set(key, post);
  }
  return same;
}
