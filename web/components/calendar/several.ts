// Several posts of the calendar at once: moved together, approved, deleted. One after the other, so that each is done or not
// for itself, and whoever asked is told which were not, and why.
import { DateTime, type DurationLike } from 'luxon';
import { call } from '../../lib/api.ts';
import { canMove } from '../../lib/calendar.ts';
import type { CalendarPost } from '../../lib/types.ts';

/** What came of doing something to several posts. */
export interface Came {
  done: number;
  /** What was not done, each with its reason. */
  left: { title: string; why: string }[];
}

/** What can be done to which of some posts. */
export function ableTo(posts: readonly CalendarPost[]) {
  const once = (some: readonly CalendarPost[]) => [...new Map(some.map((post) => [post.post, post])).values()];
  return {
    move: posts.filter(canMove),
    /** A post by hand is one, at however many outlets. */
    approve: once(posts.filter(({ post, state }) => post !== null && state === 'approval')),
    remove: once(
      posts.filter(({ post, state }) => post !== null && state !== 'out' && state !== 'deleted' && state !== 'sending'),
    ),
  };
}

async function each(posts: readonly CalendarPost[], work: (post: CalendarPost) => Promise<unknown>): Promise<Came> {
  const came: Came = { done: 0, left: [] };
  for (const post of posts) {
    try {
      await work(post);
      came.done++;
    } catch (error) {
      came.left.push({ title: post.title, why: (error as Error).message });
    }
  }
  return came;
}

/** Moves posts by so much of the brand's wall clock: a day later is the same time of day. */
export function moveSeveral(
  brand: number,
  posts: readonly CalendarPost[],
  by: DurationLike,
  zone: string,
): Promise<Came> {
  const late = DateTime.fromMillis(0).plus(by).toMillis() > 0;
  // Whoever goes where another of them is comes after it.
  const ordered = [...posts].sort((a, b) => (late ? b.at - a.at : a.at - b.at));
  return each(ordered, (post) => {
    const to = DateTime.fromMillis(post.at, { zone }).plus(by).toMillis();
    return post.effect === null
      ? call('moveWritten', { brand, id: post.post! }, { body: { outlet: post.outlet, to } })
      : call('movePost', { brand }, { body: { effect: post.effect, to, others: 'stay', preview: false } });
  });
}

/** Says yes to posts as they are shown; what says something else by now is left. */
export function approveSeveral(brand: number, posts: readonly CalendarPost[]): Promise<Came> {
  return each(posts, async (post) => {
    const opened = await call('openWritten', { brand, id: post.post! });
    if (opened.post.compose.text !== post.text) throw new Error('It says something else by now. Look at it first.');
    await call('approveWritten', { brand, id: post.post! }, { body: { revision: opened.revision } });
  });
}

export const removeSeveral = (brand: number, posts: readonly CalendarPost[]): Promise<Came> =>
  each(posts, (post) => call('deleteWritten', { brand, id: post.post! }));

/** "3 posts are moved.", and what is not. @param done "moved" */
export function sayCame({ done, left }: Came, what: string): string {
  const counted = `${done} ${done === 1 ? 'post is' : 'posts are'} ${what}.`;
  return left.length === 0
    ? counted
    : `${counted} ${left.map(({ title, why }) => `“${title}” is not: ${why}`).join(' ')}`;
}
