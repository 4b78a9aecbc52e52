import { Router } from 'express';
import { z } from 'zod';
import { FeedError } from '@playa/core/feeds/feed-error.ts';
import type { LinkPreview } from '@playa/core/text/open-graph.ts';
import { FetchTrouble } from '../../guard/guard.ts';
import type { Services } from '../../base/services.ts';
import { editsOf, loggedPost, saidLately } from '../../store/logbook.ts';
import { CannotChange, deletePost, editPost } from '../../workflows/change-post.ts';
import { Problem } from '../problem.ts';
import { brandOf, visitorOf } from '../sign-in.ts';

const DAY = 86_400_000;
/** How long what was said counts as lately. */
const LATELY = 90 * DAY;
const AT_EACH = 40;
const PREVIEWS = 200;
const KEPT_FOR = 10 * 60_000;

/** Says why a post cannot be changed. */
async function changed(change: Promise<void>): Promise<void> {
  try {
    await change;
  } catch (error) {
    if (error instanceof CannotChange) throw new Problem(409, error.message);
    throw error;
  }
}

/** Posts that are out, and how links in them will look. */
export function postRoutes(services: Services): Router {
  const { pool, clock } = services;
  const router = Router({ mergeParams: true });
  const previews = new Map<string, { at: number; preview: LinkPreview | null }>();

  router.get('/posts/lately', async (req, res) => {
    const brand = brandOf(req, res);
    const { outlets, except } = z
      .object({ outlets: z.string().max(2000), except: z.coerce.number().int().default(0) })
      .parse(req.query);
    const ids = outlets.split(',').map(Number).filter(Number.isInteger);
    res.json({ posts: await saidLately(pool, brand.id, ids, except, clock() - LATELY, AT_EACH) });
  });

  router.get('/posts/:key/edits', async (req, res) => {
    const brand = brandOf(req, res);
    const post = await loggedPost(pool, brand.id, req.params.key);
    if (!post) throw new Problem(404, 'This post is no longer known.');
    res.json({ text: post.text, edits: await editsOf(pool, brand.id, post.id) });
  });

  router.post('/posts/:key/edits', async (req, res) => {
    const brand = brandOf(req, res);
    const { text } = z.object({ text: z.string().trim().min(1, 'A post needs words.').max(20_000) }).parse(req.body);
    await changed(editPost(services, { brandId: brand.id, userId: visitorOf(res).user.id }, req.params.key, text));
    res.status(204).end();
  });

  router.delete('/posts/:key', async (req, res) => {
    const brand = brandOf(req, res);
    await changed(deletePost(services, { brandId: brand.id, userId: visitorOf(res).user.id }, req.params.key));
    res.status(204).end();
  });

  // What the page at an address says of itself; null when it says nothing or cannot be had.
  router.get('/link-preview', async (req, res) => {
    const brand = brandOf(req, res);
    const { url } = z.object({ url: z.url().max(2000) }).parse(req.query);
    const key = `${brand.id} ${url}`;
    const known = previews.get(key);
    if (known && clock() - known.at < KEPT_FOR) return void res.json({ preview: known.preview });
    let preview: LinkPreview | null = null;
    try {
      const page = await services.guard.fetch(url, { timeout: 6000, limit: 600_000 });
      const isPage = /html/i.test(String(page.headers['content-type'] ?? ''));
      if (page.status < 400 && isPage) preview = await services.outside.linkPreview(page.body.toString('utf8'), url);
    } catch (error) {
      if (!(error instanceof FetchTrouble || error instanceof FeedError)) throw error;
    }
    previews.delete(key);
    previews.set(key, { at: clock(), preview });
    if (previews.size > PREVIEWS) previews.delete(previews.keys().next().value!);
    res.json({ preview });
  });
  return router;
}
