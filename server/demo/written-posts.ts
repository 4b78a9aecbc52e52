// The demonstration's posts by hand: an idea, a draft, and two that are planned.
import { DateTime } from 'luxon';
import { newPost, type WrittenPost } from '@playa/core/posts/written.ts';
import type { Services } from '../base/services.ts';
import { makePost } from '../posts/keep-post.ts';
import type { PostState } from '../store/written-posts.ts';

const ZONE = 'Europe/Lisbon';

/** @param outlets where they go: the lidos' page and their microblog */
export async function writeSome(
  services: Services,
  brandId: number,
  outlets: { page: number; microblog: number },
  now: number,
): Promise<void> {
  const { page, microblog } = outlets;
  const on = (days: number, time: string) =>
    `${DateTime.fromMillis(now, { zone: ZONE }).plus({ days }).toISODate()}T${time}`;
  const written = (text: string, to: number[], at: string | null, more: Partial<WrittenPost> = {}): WrittenPost => {
    const post = newPost(to, at);
    return { ...post, compose: { ...post.compose, text }, ...more };
  };
  const festive = written(
    'The Christmas dip is on again: Old Quay, ten in the morning, mulled apple afterwards. Costumes welcome, courage not needed.',
    [page, microblog],
    on(4, '10:00'),
  );
  const shop = written('Gift cards for a winter of swims, at the till and online: {$link}', [page], on(2, '17:00'), {
    link: 'https://ternbay.example/gift-cards',
  });
  const posts: [PostState, WrittenPost][] = [
    ['idea', written('Ask people for their coldest swim, and draw a map of them.', [], null)],
    ['draft', written('Flasks, hats, dry socks: what our regulars carry down to the steps.', [page], on(3, '12:00'))],
    ['ready', festive],
    ['ready', shop],
  ];
  for (const [state, post] of posts) await makePost(services, brandId, { state, post });
}
