// Addresses that others call without signing in: web hooks, and the hubs of feeds. What they send is never trusted.
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import express, { Router } from 'express';
import { receivePush } from '../accounts/push-subscriptions.ts';
import { ownFile } from '../media/library.ts';
import { readOrder, shapedPicture } from '../media/shape.ts';
import { bytesOf } from '../store/files.ts';
import type { Services } from '../base/services.ts';
import { calendarFeed } from '../calendar/calendar-feed.ts';
import { brandFeed } from './brand-feed.ts';
import { HOOK_LIMIT, receive } from '../watch/hooks.ts';
import { takePush, verifyIntent } from '../watch/websub.ts';

const one = (value: string | string[] | undefined) => (Array.isArray(value) ? value[0] : value);

/** Pictures are shown on the pages of networks, and never change at their address. */
const FOR_ALL = {
  'Cache-Control': 'public, max-age=31536000, immutable',
  'Cross-Origin-Resource-Policy': 'cross-origin',
};

export function outsideRoutes(services: Services): Router {
  const router = Router();
  const raw = (limit: number) => express.raw({ type: () => true, limit });

  router.post('/hooks/:token', raw(HOOK_LIMIT), async (req, res) => {
    const headers = Object.fromEntries(Object.entries(req.headers).map(([name, value]) => [name, one(value)]));
    const body = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
    const received = await receive(services, String(req.params.token), body, headers);
    if (received.status === 202) return void res.status(202).json({ received: true, repeated: received.repeated });
    res
      .status(received.status)
      .type('application/problem+json')
      .json({ title: received.says, status: received.status });
  });

  // A network that tells there is something new. What it says is not read.
  // The second is how addresses were called that networks may still have.
  router.post(['/push/:token', '/bells/:token'], raw(HOOK_LIMIT), async (req, res) => {
    const headers = Object.fromEntries(Object.entries(req.headers).map(([name, value]) => [name, one(value)]));
    const body = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
    const became = await receivePush(services, String(req.params.token), body, headers);
    res.status(became === 'taken' ? 202 : became === 'forged' ? 401 : 410).end();
  });

  // What a brand has published, for whoever was given the address.
  router.get('/published/:token.:as', async (req, res) => {
    const { token, as } = req.params;
    const feed = as === 'atom' || as === 'json' ? await brandFeed(services, token, as) : undefined;
    if (feed === undefined) return void res.status(404).end();
    res
      .set({ 'Cache-Control': 'private, max-age=60', 'X-Robots-Tag': 'noindex' })
      .type(as === 'atom' ? 'application/atom+xml' : 'application/feed+json')
      .send(feed);
  });

  // What a brand plans and what it has published, for the calendars of those who were given the address.
  router.get('/calendar/:token.ics', async (req, res) => {
    const calendar = await calendarFeed(services, req.params.token);
    if (calendar === undefined) return void res.status(404).end();
    res
      .set({ 'Cache-Control': 'private, max-age=60', 'X-Robots-Tag': 'noindex' })
      .type('text/calendar; charset=utf-8')
      .send(calendar);
  });

  // Pictures brought to a shape that a network takes. Only addresses that Playa made itself are answered.
  router.get('/pictures/:order/:signature.jpg', async (req, res) => {
    const order = readOrder(services, req.params.order, req.params.signature);
    if (!order) return void res.status(404).end();
    const picture = await shapedPicture(services, order);
    if (!picture) return void res.status(502).end();
    res.set(FOR_ALL).type('image/jpeg').send(picture);
  });

  // The brand's own pictures and films, as networks fetch them: whole, or one range (RFC 9110 section 14.2).
  router.get('/files/:file', async (req, res) => {
    const file = await ownFile(services, `/files/${req.params.file}`);
    if (!file) return void res.status(404).end();
    res.set({ ...FOR_ALL, 'Accept-Ranges': 'bytes' }).type(file.mediaType);
    const ranges = req.range(file.bytes, { combine: true });
    if (ranges === -1) return void res.status(416).set('Content-Range', `bytes */${file.bytes}`).end();
    // Several ranges may be answered by the whole.
    const range = Array.isArray(ranges) && ranges.type === 'bytes' && ranges.length === 1 ? ranges[0]! : undefined;
    const { start, end } = range ?? { start: 0, end: file.bytes - 1 };
    if (range) res.status(206).set('Content-Range', `bytes ${start}-${end}/${file.bytes}`);
    res.set('Content-Length', String(end - start + 1));
    if (req.method === 'HEAD') return void res.end();
    await pipeline(Readable.from(bytesOf(services.pool, file.id, start, end)), res).catch((error: unknown) => {
      // Whoever asked has gone away, or the file has; nothing more can be said to them.
      services.log.debug({ err: error }, 'a file was not sent to its end');
    });
  });

  router.get('/websub/:callback', async (req, res) => {
    const query = Object.fromEntries(
      Object.entries(req.query).map(([name, value]) => [name, typeof value === 'string' ? value : undefined]),
    );
    const challenge = await verifyIntent(services, req.params.callback, query);
    if (challenge === undefined) return void res.status(404).end();
    res.type('text/plain').send(challenge);
  });

  router.post('/websub/:callback', raw(5 * 1024 * 1024), async (req, res) => {
    const body = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
    const headers = { signature: one(req.headers['x-hub-signature']), type: req.headers['content-type'] };
    const pushed = await takePush(services, String(req.params.callback), body, headers);
    if (pushed === 'taken') services.nudges.nudge();
    // An unsigned push is answered like a good one (section 8), so that nobody learns by trying.
    res.status(pushed === 'unknown' ? 404 : 202).end();
  });
  return router;
}
