import { Router } from 'express';
import { z } from 'zod';
import type { Services } from '../../services.ts';
import { itemsOf } from '../../store/items.ts';
import { outletsOf } from '../../store/outlets.ts';
import * as watches from '../../store/watches.ts';
import { webAddress } from '../../connectors/answers.ts';
import { LookTrouble } from '../../watch/fetch-feed.ts';
import { findSource } from '../../watch/find-source.ts';
import { lookNow } from '../../watch/look.ts';
import { Problem } from '../problem.ts';
import { brandOf } from '../sign-in.ts';

/** How often a source is looked at. Adaptive intervals come with the engine. */
export const LOOK_EVERY = { demo: 15, usual: 300 } as const;

/** Finding sources, watching them, and the items that appeared there. */
export function sourceRoutes(services: Services): Router {
  const { pool } = services;
  const router = Router({ mergeParams: true });

  router.get('/sources', async (req, res) => {
    const brand = brandOf(req, res);
    const [all, outlets] = await Promise.all([watches.watchesOf(pool, brand.id), outletsOf(pool, brand.id)]);
    res.json({
      watches: all.map(({ memory: _memory, ...watch }) => watch),
      // Channels of connected accounts can be chosen instead of pasted.
      channels: outlets.filter((outlet) => outlet.kind === 'channel' && outlet.feed && !outlet.gone),
    });
  });

  router.post('/sources/find', async (req, res) => {
    brandOf(req, res);
    const { text } = z.object({ text: z.string().max(3000) }).parse(req.body);
    res.json(await findSource(services, text));
  });

  // What is watched is found again from its address rather than taken from the browser's word.
  router.post('/sources/watch', async (req, res) => {
    const brand = brandOf(req, res);
    const { url } = z.object({ url: webAddress.max(2000) }).parse(req.body);
    const { found, tried } = await findSource(services, url);
    if (!found)
      throw new Problem(422, `It cannot be watched: ${tried.at(-1)?.says ?? 'nothing was found.'}`, { tried });
    const id = await watches.keepWatch(pool, {
      brandId: brand.id,
      sourceKey: found.key.slice(0, 600),
      kind: found.kind,
      params: found.params,
      name: found.name,
      things: found.things,
      everySeconds: services.config.demo ? LOOK_EVERY.demo : LOOK_EVERY.usual,
    });
    try {
      await lookNow(services, id);
    } catch (error) {
      if (!(error instanceof LookTrouble)) throw error;
      throw new Problem(502, `It was found, but could not be read: ${error.message}`);
    }
    res.status(201).json({ id });
  });

  router.get('/items', async (req, res) => {
    const brand = brandOf(req, res);
    const query = z
      .object({
        watches: z
          .string()
          .regex(/^\d+(,\d+)*$/)
          .transform((text) => text.split(',').map(Number)),
        most: z.coerce.number().int().min(1).max(5000).default(60),
      })
      .parse(req.query);
    const items = await itemsOf(pool, brand.id, query.watches, query.most);
    res.json({ items: items.map(({ watchId, past: _past, ...item }) => ({ ...item, watch: watchId })) });
  });
  return router;
}
