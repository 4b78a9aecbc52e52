import { LRUCache } from 'lru-cache';
import { z } from 'zod';
import { FeedError } from '@playa/core/feeds/feed-error.ts';
import { readOEmbed, type Embed } from '@playa/core/text/oembed.ts';
import { withEmbed, type LinkPreview } from '@playa/core/text/open-graph.ts';
import type { Services } from '../../base/services.ts';
import { FetchTrouble } from '../../guard/guard.ts';
import { loggedPost, saidLately } from '../../store/logbook.ts';
import { editsOf } from '../../store/post-edits.ts';
import { CannotChange, deletePost, editPost, pinPost } from '../../workflows/change-post.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { id, moment } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

/** How long what was said counts as lately. */
const LATELY = 90 * 86_400_000;
const AT_EACH = 40;

/** A post by the key of the act that sent it. */
const params = z.object({ key: z.string().min(1).max(240) });

/** Says why a post cannot be changed. */
async function changed(change: Promise<void>): Promise<void> {
  try {
    await change;
  } catch (error) {
    if (error instanceof CannotChange) throw new Problem(409, error.message);
    throw error;
  }
}

/** What is shown of a page that is linked to. */
type Shown = Omit<LinkPreview, 'titled' | 'oembed'>;

/** What pages said of themselves lately, by brand and address. */
const previews = new LRUCache<string, { preview: Shown | null }>({ max: 200, ttl: 10 * 60_000 });

async function previewOf({ guard, outside }: Services, url: string): Promise<Shown | null> {
  try {
    const page = await guard.fetch(url, { timeout: 6000, limit: 600_000 });
    const isPage = /html/i.test(String(page.headers['content-type'] ?? ''));
    if (page.status >= 400 || !isPage) return null;
    const preview = await outside.linkPreview(page.body.toString('utf8'), url);
    const embed = preview.oembed && (await embedAt(guard, preview.oembed));
    const { title, description, image, site, author } = embed ? withEmbed(preview, embed) : preview;
    return { title, description, image, site, author };
  } catch (error) {
    if (error instanceof FetchTrouble || error instanceof FeedError) return null;
    throw error;
  }
}

/** What oEmbed says at an address; undefined when it cannot be had, and the page stands as it is. */
async function embedAt(guard: Services['guard'], address: string): Promise<Embed | undefined> {
  try {
    const answer = await guard.fetch(address, { timeout: 4000, limit: 100_000 });
    return answer.status < 400 ? readOEmbed(answer.body.toString('utf8'), address) : undefined;
  } catch (error) {
    if (error instanceof FetchTrouble) return undefined;
    throw error;
  }
}

/** Posts that are out, and how links in them will look. */
export const postEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/posts/lately',
    name: 'saidLately',
    says: 'What other workflows said at some outlets in the last 90 days, newest first, at most 40 at each.',
    may: 'see',
    query: z.object({ outlets: z.string().max(2000), except: z.coerce.number().int().default(0) }),
    answer: z.object({ posts: z.array(z.object({ outlet: id, text: z.string() })) }),
    async run({ services: { pool, clock }, brand, query }) {
      const ids = query.outlets.split(',').map(Number).filter(Number.isInteger);
      return { posts: await saidLately(pool, brand.id, ids, query.except, clock() - LATELY, AT_EACH) };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/posts/{key}/edits',
    name: 'listPostEdits',
    says: 'What a post says now, and how it was edited or deleted, newest first.',
    may: 'see',
    params,
    answer: z.object({
      text: z.string(),
      edits: z.array(
        z
          .object({
            before: z.string(),
            after: z.string(),
            deletes: z.boolean(),
            by: z.string(),
            made: z.boolean(),
            at: moment,
          })
          .meta({ id: 'PostEdit' }),
      ),
    }),
    async run({ services: { pool }, brand, params: { key } }) {
      const post = await loggedPost(pool, brand.id, key);
      if (!post) throw new Problem(404, 'This post is no longer known.');
      return { text: post.text, edits: await editsOf(pool, brand.id, post.id) };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/posts/{key}/edits',
    name: 'editPost',
    says: 'Edits a post at its network, and keeps what it said before.',
    may: 'decide',
    params,
    body: z.object({ text: z.string().trim().min(1, 'A post needs words.').max(20_000) }),
    answer: null,
    run: ({ services, brand, user, params: { key }, body }) =>
      changed(editPost(services, { brandId: brand.id, userId: user.id }, key, body.text)),
  }),
  brandEndpoint({
    method: 'delete',
    path: '/posts/{key}',
    name: 'deletePost',
    says: 'Deletes a post at its network. That it was out, and what it said, stays known.',
    may: 'decide',
    params,
    answer: null,
    run: ({ services, brand, user, params: { key } }) =>
      changed(deletePost(services, { brandId: brand.id, userId: user.id }, key)),
  }),
  brandEndpoint({
    method: 'put',
    path: '/posts/{key}/pin',
    name: 'pinPost',
    says: 'Pins a post at its network, where it is shown first, or no longer.',
    may: 'decide',
    params,
    body: z.object({ on: z.boolean() }),
    answer: null,
    run: ({ services, brand, params: { key }, body }) => changed(pinPost(services, brand.id, key, body.on)),
  }),
  brandEndpoint({
    method: 'get',
    path: '/link-preview',
    name: 'previewLink',
    says: 'What the page at an address says of itself; null when it says nothing or cannot be had.',
    may: 'see',
    query: z.object({ url: z.url().max(2000) }),
    answer: z.object({
      preview: z
        .object({
          title: z.string(),
          description: z.string(),
          image: z.string().nullable(),
          site: z.string(),
          author: z.string().meta({ description: 'Who made it; empty where nobody says.' }),
        })
        .nullable(),
    }),
    async run({ services, brand, query: { url } }) {
      const key = `${services.config.origin} ${brand.id} ${url}`;
      const known = previews.get(key);
      if (known) return known;
      const found = { preview: await previewOf(services, url) };
      previews.set(key, found);
      return found;
    },
  }),
];
