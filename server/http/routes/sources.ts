import { Router } from 'express';
import { z } from 'zod';
import { fieldsSchema } from '@playa/core/items/item.ts';
import { jsonSchemaSchema } from '@playa/core/items/json-schema.ts';
import { readRecurrence } from '@playa/core/timetable/recurrence.ts';
import type { Services } from '../../base/services.ts';
import { itemsOf } from '../../store/items.ts';
import { outletsOf } from '../../store/outlets.ts';
import * as watches from '../../store/watches.ts';
import { webAddress } from '../../connectors/answers.ts';
import { LookTrouble } from '../../watch/fetch-feed.ts';
import { findSource } from '../../watch/find-source.ts';
import { LOOK_EVERY, watchOutlet, watchableOutlets } from '../../watch/watchable.ts';
import { lookNow } from '../../watch/look.ts';
import { hookBy, recentDeliveries, setHookSchema, setIdentityField } from '../../store/hooks.ts';
import {
  changeHookAddress,
  hookAddress,
  makeHook,
  restoreHookAddress,
  sendTest,
  setSigned,
} from '../../watch/hooks.ts';
import { renameSourceField } from '../../watch/rename.ts';
import { scheduleParams } from '../../watch/schedule.ts';
import { Problem } from '../problem.ts';
import { brandOf } from '../sign-in.ts';

const watchName = z.string().trim().min(1, 'A source needs a name.').max(200);
const fieldName = z
  .string()
  .trim()
  .regex(/^\p{L}[\p{L}\p{N}_-]{0,59}$/u, 'A name starts with a letter and has only letters, digits, - and _.');
const idOf = (text: unknown) => z.coerce.number().int().positive().parse(text);

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
      watchable: await watchableOutlets(services, brand.id),
    });
  });

  router.post('/sources/find', async (req, res) => {
    const brand = brandOf(req, res);
    const { text } = z.object({ text: z.string().max(3000) }).parse(req.body);
    res.json(await findSource(services, text, brand.id));
  });

  // What is watched is found again from its address rather than taken from the browser's word.
  router.post('/sources/watch', async (req, res) => {
    const brand = brandOf(req, res);
    const { url } = z.object({ url: webAddress.max(2000) }).parse(req.body);
    const { found, tried } = await findSource(services, url, brand.id);
    if (!found)
      throw new Problem(422, `It cannot be watched: ${tried.at(-1)?.says ?? 'nothing was found.'}`, { tried });
    const id = await watches.keepWatch(pool, {
      brandId: brand.id,
      sourceKey: found.key,
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

  // Sources on an open sheet, which nobody may be looking at: a draft's.
  router.post('/sources/wake', async (req, res) => {
    const brand = brandOf(req, res);
    const { watches: ids } = z.object({ watches: z.array(z.number().int().positive()).max(200) }).parse(req.body);
    const woken = await watches.wakeIdleWatches(pool, brand.id, ids, services.clock());
    if (woken > 0) services.nudges.nudge();
    res.json({ woken });
  });

  // What only a sign-in can see: comments, reviews, rows.
  router.post('/sources/network', async (req, res) => {
    const brand = brandOf(req, res);
    const { outlet, what } = z
      .object({ outlet: z.number().int().positive(), what: z.string().max(40) })
      .parse(req.body);
    const id = await watchOutlet(services, brand.id, outlet, what);
    try {
      await lookNow(services, id);
    } catch (error) {
      if (!(error instanceof LookTrouble)) throw error;
      throw new Problem(502, `It can be watched, but could not be read: ${error.message}`);
    }
    res.status(201).json({ id });
  });

  // A hook: made by a click, since there is nothing to find.
  router.post('/sources/hook', async (req, res) => {
    const brand = brandOf(req, res);
    const { name } = z.object({ name: watchName }).parse(req.body);
    res.status(201).json({ id: await makeHook(services, brand.id, name) });
  });

  router.get('/sources/:id/hook', async (req, res) => {
    const brand = brandOf(req, res);
    const id = idOf(req.params.id);
    const hook = await hookBy(pool, brand.id, id);
    const watch = await watches.watchBy(pool, brand.id, id);
    if (!hook || !watch) throw new Problem(404, 'There is no such web hook.');
    res.json({
      address: hookAddress(services, hook),
      oldUntil: hook.oldUntil !== null && hook.oldUntil > services.clock() ? hook.oldUntil : null,
      signed: hook.sealedSecret !== null,
      identityField: hook.identityField,
      schema: hook.schema,
      names: watch.names,
      deliveries: await recentDeliveries(pool, brand.id, id, 10),
    });
  });

  router.post('/sources/:id/hook', async (req, res) => {
    const brand = brandOf(req, res);
    const id = idOf(req.params.id);
    const body = z
      .object({
        identityField: z.string().max(300).nullable().optional(),
        signed: z.boolean().optional(),
        newAddress: z.boolean().optional(),
        oldAddress: z.boolean().optional(),
        schema: jsonSchemaSchema.optional(),
      })
      .parse(req.body);
    if (!(await hookBy(pool, brand.id, id))) throw new Problem(404, 'There is no such web hook.');
    if (body.identityField !== undefined) await setIdentityField(pool, brand.id, id, body.identityField || null);
    if (body.schema !== undefined) await setHookSchema(pool, id, body.schema);
    if (body.newAddress) await changeHookAddress(services, brand.id, id);
    if (body.oldAddress && !(await restoreHookAddress(services, brand.id, id)))
      throw new Problem(409, 'The address before this one no longer works.');
    const secret = body.signed === undefined ? undefined : await setSigned(services, brand.id, id, body.signed);
    res.json({ secret: secret ?? null });
  });

  router.post('/sources/:id/hook/test', async (req, res) => {
    const brand = brandOf(req, res);
    const { body } = z.object({ body: fieldsSchema }).parse(req.body);
    if (!(await sendTest(services, brand.id, idOf(req.params.id), body)))
      throw new Problem(404, 'There is no such web hook.');
    res.status(202).end();
  });

  router.post('/sources/:id/rename', async (req, res) => {
    const brand = brandOf(req, res);
    const { from, to } = z.object({ from: z.string().min(1).max(300), to: fieldName }).parse(req.body);
    res.json(await renameSourceField(services, brand.id, idOf(req.params.id), from, to));
  });

  router.post('/sources/schedule', async (req, res) => {
    const brand = brandOf(req, res);
    const { name, rule, start } = z
      .object({ name: watchName, rule: scheduleParams.shape.rule, start: scheduleParams.shape.start })
      .parse(req.body);
    const params = { rule, start, zone: brand.timeZone };
    readRecurrence(rule, start, brand.timeZone);
    const id = await watches.keepWatch(pool, {
      brandId: brand.id,
      sourceKey: `schedule:${start}:${rule}:${brand.timeZone}`,
      kind: 'schedule',
      params,
      name,
      things: 'times',
      everySeconds: 60,
    });
    await lookNow(services, id);
    res.status(201).json({ id });
  });

  router.post('/sources/schedule/preview', async (req, res) => {
    const brand = brandOf(req, res);
    const { rule, start } = z
      .object({ rule: scheduleParams.shape.rule, start: scheduleParams.shape.start })
      .parse(req.body);
    const schedule = readRecurrence(rule, start, brand.timeZone);
    const next: number[] = [];
    for (let at = schedule.after(services.clock()); at !== null && next.length < 5; at = schedule.after(at))
      next.push(at);
    res.json({ says: schedule.says, next });
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
