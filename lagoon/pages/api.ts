// Lagoon Pages' interface for applications.
import { Router, json, type Response } from 'express';
import { z } from 'zod';
import { answeredBy } from '../base/answers.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { accessOf, type Access } from '../base/oauth.ts';
import { previewOf } from '../base/preview.ts';
import { once } from '../base/repeats.ts';
import type { Thing } from '../base/things.ts';
import type { PageComment, PageComments } from './comments.ts';
import { publishPost } from './publish.ts';
import { pageBy, pagesOf, postBy, postsOn, type Post, type PostMedia } from './store.ts';

const LONGEST = 2000;
const segmenter = new Intl.Segmenter('und', { granularity: 'grapheme' });

/** What applications ask with an access token: pages, posts, comments, answers. */
export function pagesApi(lagoon: Lagoon, comments: PageComments): Router {
  const { db, clock, config, faults } = lagoon;
  const base = `${config.origin}/pages`;
  const routes = Router();
  const refuse = (res: Response, status: number, code: string, message: string) =>
    void res.status(status).json({ error: { code, message } });
  routes.use(json({ limit: '100kb' }));
  routes.use(async (req, res, next) => {
    const access = await accessOf(db, clock, 'pages', req);
    if (!access) return refuse(res, 401, 'token_invalid', 'The access token is missing, expired or revoked.');
    res.locals.access = access;
    next();
  });
  const accessFor = (res: Response) => res.locals.access as Access;
  const may = (res: Response) =>
    accessFor(res).scopes.includes('pages.post') ||
    refuse(res, 403, 'scope_missing', 'The scope pages.post is missing.');
  const ownPage = async (res: Response, id: unknown) => {
    const found = await pageBy(db, 'id', Number(id) || 0);
    if (found && found.owner_id === accessFor(res).person.id) return found;
    return refuse(res, 404, 'no_page', 'There is no such page, or it is not yours.');
  };
  const ownPost = async (res: Response, id: unknown) => {
    const post = await postBy(db, Number(id) || 0);
    const found = post && (await pageBy(db, 'id', post.page_id));
    if (post && found?.owner_id === accessFor(res).person.id) return post;
    return refuse(res, 404, 'no_post', 'There is no such post, or it is not yours.');
  };
  const show = (post: Post) => ({
    id: String(post.id),
    page: String(post.page_id),
    message: post.message,
    link: post.link,
    url: `${base}/posts/${post.id}`,
    created_at: new Date(post.created_at).toISOString(),
  });

  routes.get(
    '/me',
    (_req, res) => void res.json({ id: String(accessFor(res).person.id), name: accessFor(res).person.name }),
  );
  routes.get('/me/pages', faults.middleware('pages-read'), async (_req, res) => {
    const pages = await pagesOf(db, accessFor(res).person.id);
    res.json({
      data: pages.map((each) => ({ id: String(each.id), name: each.title, address: `${base}/p/${each.slug}` })),
    });
  });
  routes.get('/pages/:id/posts', async (req, res) => {
    const found = await ownPage(res, req.params.id);
    if (found)
      res.json({ data: (await postsOn(db, found.id, Math.min(100, Number(req.query.limit) || 25))).map(show) });
  });

  routes.post('/pages/:id/posts', limitWrites(), faults.middleware('pages'), async (req, res) => {
    if (!may(res)) return;
    const found = await ownPage(res, req.params.id);
    if (!found) return;
    const read = readPost(req.body);
    if (typeof read === 'string') return refuse(res, 422, 'content', read);
    const key = req.get('Idempotency-Key');
    if (key !== undefined && (key.length < 1 || key.length > 255))
      return refuse(res, 400, 'key', 'An Idempotency-Key has 1 to 255 characters.');
    const made = await publishPost(db, {
      page: found.id,
      client: accessFor(res).client,
      key,
      ...read,
      now: clock.now(),
    });
    if (made.kind === 'mismatch')
      return refuse(res, 422, 'key_reused', 'This Idempotency-Key was used for another request.');
    // The card is looked up after answering, as networks do; until then the bare link is shown.
    if (made.kind === 'made' && read.link) void addPreview(made.id, read.link);
    const post = await postBy(db, made.id);
    if (!post) return refuse(res, 410, 'deleted', 'The post made under this key has been deleted since.');
    res.status(made.kind === 'made' ? 201 : 200).json(show(post));
  });
  routes.patch('/posts/:id', limitWrites(), faults.middleware('pages'), async (req, res) => {
    const post = may(res) && (await ownPost(res, req.params.id));
    if (!post) return;
    const read = readPost({ ...req.body, link: post.link });
    if (typeof read === 'string') return refuse(res, 422, 'content', read);
    await db.query('UPDATE posts SET message = ?, edited_at = ? WHERE id = ?', [read.message, clock.now(), post.id]);
    res.json(show({ ...post, message: read.message }));
  });
  const showComment = (each: Thing<PageComment>) => ({
    id: String(each.id),
    message: each.body.text,
    post: String(each.body.post),
    from: { id: String(each.body.by.id), name: each.body.by.name },
    url: `${base}/posts/${each.body.post}`,
    created_at: new Date(each.createdAt).toISOString(),
  });
  routes.get('/pages/:id/comments', faults.middleware('pages-read'), async (req, res) => {
    const found = await ownPage(res, req.params.id);
    if (!found) return;
    const all = await comments.ofPage(found.id, Number(req.query.before) || undefined, 50);
    const theirs = all.filter((each) => each.body.by.id > 0);
    const ours = (await comments.ofPage(found.id, undefined, 1000)).filter((each) => each.body.by.id < 0).reverse();
    const shown = theirs.map((each) => {
      const answer = ours.find(({ body }) => answeredBy(body) === each.id);
      return { ...showComment(each), answered_at: answer ? new Date(answer.createdAt).toISOString() : null };
    });
    res.json({ data: shown, before: all.length === 50 ? String(all.at(-1)!.id) : null });
  });
  routes.get('/comments/:id', faults.middleware('pages-read'), async (req, res) => {
    const comment = await comments.get(req.params.id);
    if (!comment) return refuse(res, 404, 'no_comment', 'This comment is gone.');
    if (!(await ownPage(res, comment.parent))) return;
    const answers = (await comments.on(comment.body.post)).filter(
      (each) => answeredBy(each.body) === comment.id && each.body.by.id < 0,
    );
    res.json({ ...showComment(comment), answers: answers.map(showComment) });
  });
  routes.post('/comments/:id/answers', limitWrites(), faults.middleware('pages'), async (req, res) => {
    if (!may(res)) return;
    const comment = await comments.get(req.params.id);
    const found = comment && (await ownPage(res, comment.parent));
    if (!comment) return refuse(res, 404, 'no_comment', 'This comment is gone.');
    if (!found) return;
    const { message } = (req.body ?? {}) as { message?: unknown };
    const key = req.get('Idempotency-Key');
    if (typeof message !== 'string' || !message.trim() || message.length > 1000 || !key)
      return refuse(
        res,
        422,
        'content',
        'An answer needs a message of at most 1000 characters and an Idempotency-Key.',
      );
    const by = { id: -found.id, name: found.title };
    const post = (await postBy(db, comment.body.post))!;
    const made = await once(db, { client: accessFor(res).client, key, request: [comment.id, message] }, () =>
      comments.add(post, by, message, { under: comment.body.under ?? comment.id, to: comment.id }),
    );
    if (made.kind === 'mismatch')
      return refuse(res, 422, 'key_reused', 'This Idempotency-Key was used for another request.');
    res.status(201).json(showComment((await comments.get(made.id))!));
  });
  routes.delete('/posts/:id', limitWrites(), faults.middleware('pages'), async (req, res) => {
    const post = may(res) && (await ownPost(res, req.params.id));
    if (!post) return;
    await db.query('DELETE FROM posts WHERE id = ?', [post.id]);
    res.status(204).end();
  });
  return routes;

  async function addPreview(id: number, link: string) {
    const preview = await previewOf(link);
    if (preview)
      await db.query('UPDATE posts SET preview = ? WHERE id = ?', [JSON.stringify(preview), id]).catch(() => undefined);
  }

  /** A bucket of writes per access: it holds a quarter of a minute's worth and fills steadily. */
  function limitWrites() {
    const most = Math.max(1, config.writesPerMinute / 4);
    const buckets = new Map<string, { left: number; at: number }>();
    return (_req: unknown, res: Response, next: () => void) => {
      const { grant } = res.locals.access as Access;
      const now = Date.now();
      const bucket = buckets.get(grant) ?? { left: most, at: now };
      bucket.left = Math.min(most, bucket.left + ((now - bucket.at) * config.writesPerMinute) / 60_000);
      bucket.at = now;
      buckets.set(grant, bucket);
      if (bucket.left < 1) {
        const seconds = Math.ceil(((1 - bucket.left) * 60) / config.writesPerMinute);
        return void res
          .status(429)
          .set('Retry-After', String(seconds))
          .json({ error: { code: 'slow_down', message: `Too many posts. Try again in ${seconds} s.` } });
      }
      bucket.left--;
      next();
    };
  }
}

const mediaSchema = z
  .array(z.object({ type: z.enum(['picture', 'video']), url: z.url(), alt: z.string().max(1000).default('') }))
  .max(10);

function readPost(body: unknown): { message: string; link: string | null; media: PostMedia[] } | string {
  const { message, link, media } = (body ?? {}) as { message?: unknown; link?: unknown; media?: unknown };
  const files = mediaSchema.safeParse(media ?? []);
  if (!files.success) return 'Pictures and films are given by their addresses.';
  if (typeof message !== 'string' || (message.trim() === '' && files.data.length === 0))
    return 'A post needs a message.';
  if ([...segmenter.segment(message)].length > LONGEST) return `A message has at most ${LONGEST} characters.`;
  if (
    link !== undefined &&
    link !== null &&
    (typeof link !== 'string' || !/^https?:\/\/\S+$/.test(link) || link.length > 2000)
  )
    return 'The link is not an address.';
  return { message, link: (link as string | undefined) ?? null, media: files.data };
}
