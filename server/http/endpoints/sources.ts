import pLimit from 'p-limit';
import { z } from 'zod';
import { readOpml, writeOpml } from '@playa/core/feeds/opml.ts';
import type { Services } from '../../base/services.ts';
import { readRecurrence } from '@playa/core/timetable/recurrence.ts';
import { fieldsSchema } from '@playa/core/items/item.ts';
import { webAddress } from '../../connectors/answers.ts';
import { itemsOf, itemsTouched, seenUntil } from '../../store/items-shown.ts';
import { inTransaction } from '../../db/database.ts';
import { outletsPage } from '../../store/outlets.ts';
import { wakeIdleWatches } from '../../store/watch-times.ts';
import * as watches from '../../store/watches.ts';
import { LookTrouble } from '../../watch/fetch-feed.ts';
import { findSource } from '../../watch/find-source.ts';
import { makeHook } from '../../watch/hooks.ts';
import { lookNow } from '../../watch/look.ts';
import { renameSourceField } from '../../watch/rename.ts';
import { feedKind } from '../../watch/kinds/feed.ts';
import { keepSource } from '../../watch/kinds/keep.ts';
import { scheduleKind, scheduleParams } from '../../watch/kinds/schedule.ts';
import { LOOK_EVERY, watchOutlet, watchableOutlets } from '../../watch/watchable.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { byId, cursorOf, cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { itemSchema, madeSchema, moment, outletSchema } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

const name = z.string().trim().min(1, 'A source needs a name.').max(200);
const fieldName = z
  .string()
  .trim()
  .regex(/^\p{L}[\p{L}\p{N}_-]{0,59}$/u, 'A name starts with a letter and has only letters, digits, - and _.');
const plan = z.object({ rule: scheduleParams.shape.rule, start: scheduleParams.shape.start });

const watchSchema = z
  .object({
    id: z.number(),
    brandId: z.number(),
    sourceKey: z.string(),
    kind: z.enum(['feed', 'hook', 'schedule', 'network', 'sheet', 'written']),
    params: z
      .object({
        url: z.string().optional(),
        rule: z.string().optional(),
        start: z.string().optional(),
        zone: z.string().optional(),
      })
      .loose()
      .meta({ description: 'By its kind: an address, a rule and its beginning, an account and what is watched.' }),
    name: z.string(),
    things: z.string(),
    everySeconds: z.number(),
    firstLookAt: moment.nullable(),
    lastLookAt: moment.nullable(),
    lastOkAt: moment.nullable(),
    failures: z.number(),
    trouble: z.string().nullable(),
    note: z.string().nullable(),
    dueAt: moment.nullable(),
    names: z.record(z.string(), z.string()),
    usualDelay: z.number().nullable(),
    intervalMs: z.number().nullable(),
  })
  .meta({ id: 'Watch', description: 'A source of the brand’s, as it is looked at.' });

const findingSchema = z.object({
  found: z
    .object({
      key: z.string(),
      kind: z.literal('feed'),
      params: z.record(z.string(), z.unknown()),
      name: z.string(),
      things: z.string(),
      newest: z.array(z.object({ identity: z.string(), publishedAt: moment.nullable(), fields: fieldsSchema })),
    })
    .loose()
    .nullable(),
  tried: z.array(z.object({ address: z.string(), says: z.string() })),
});

/** Looks at once at what has just been chosen. @throws Problem 502 when it cannot be read */
async function firstLook(services: Parameters<typeof lookNow>[0], watch: number, says: string): Promise<void> {
  try {
    await lookNow(services, watch);
  } catch (error) {
    if (error instanceof LookTrouble) throw new Problem(502, `${says}: ${error.message}`);
    throw error;
  }
}

/** Watches what is found at an address, and looks at it once. @throws Problem when it cannot be watched */
async function watchFound(services: Services, brandId: number, url: string): Promise<number> {
  const { found, tried } = await findSource(services, url, brandId);
  if (!found) throw new Problem(422, `It cannot be watched: ${tried.at(-1)?.says ?? 'nothing was found.'}`, { tried });
  const source = {
    brandId,
    params: found.params,
    name: found.name,
    things: found.things,
    everySeconds: services.config.demo ? LOOK_EVERY.demo : LOOK_EVERY.usual,
  };
  const by = { actor: services.actor, now: services.clock() };
  const made = await inTransaction(services.pool, (db) => keepSource(db, feedKind, source, by));
  await firstLook(services, made, 'It was found, but could not be read');
  return made;
}

/** So many feeds of a list are taken at once. */
const MOST_LISTED = 100;

/** Finding sources, watching them, and the items that appeared there. */
export const sourceEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/sources',
    name: 'listSources',
    says: 'The brand’s sources.',
    may: 'see',
    query: pageQuery(byId, 200),
    answer: z.object({ watches: z.array(watchSchema), ...nextPage }),
    async run({ services: { pool }, brand, query: { after, most } }) {
      const found = await watches.watchesPage(pool, brand.id, after?.after ?? 0, most + 1);
      const { page, next } = cutPage(found, most, (watch) => ({ after: watch.id }));
      return {
        watches: page.map(({ memory: _memory, params, ...watch }) => ({
          ...watch,
          params: params as Record<string, unknown>,
        })),
        next,
      };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/outlets/watchable',
    name: 'listWatchable',
    says: 'What could be watched of the outlets of connected accounts, and of the brand’s sheets.',
    may: 'see',
    query: pageQuery(byId, 500),
    answer: z.object({
      channels: z.array(outletSchema).meta({ description: 'Channels of connected accounts: chosen, not pasted.' }),
      watchable: z.array(
        z
          .object({
            outlet: z.number(),
            name: z.string(),
            accountName: z.string(),
            what: z.string(),
            things: z.string(),
            told: z.boolean(),
          })
          .meta({ id: 'WatchableOutlet' }),
      ),
      ...nextPage,
    }),
    async run({ services, brand, query: { after, most } }) {
      const found = await outletsPage(services.pool, brand.id, after?.after ?? 0, most + 1);
      const { page, next } = cutPage(found, most, (outlet) => ({ after: outlet.id }));
      return {
        channels: page.filter((outlet) => outlet.kind === 'channel' && outlet.feed && !outlet.gone),
        watchable: await watchableOutlets(services, brand.id, page),
        next,
      };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sources/find',
    name: 'findSource',
    says: 'Finds what can be watched in something a person has pasted.',
    may: 'see',
    body: z.object({ text: z.string().max(3000) }),
    answer: findingSchema,
    run: async ({ services, brand, body }) => {
      const { found, tried } = await findSource(services, body.text, brand.id);
      return { found: found && { ...found, params: { ...found.params } }, tried };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sources/watch',
    name: 'watchFeed',
    says: 'Watches what is found at an address: found again, rather than taken from the browser’s word.',
    may: 'connect',
    body: z.object({ url: webAddress.max(2000) }),
    status: 201,
    answer: madeSchema,
    run: async ({ services, brand, body }) => ({ id: await watchFound(services, brand.id, body.url) }),
  }),
  brandEndpoint({
    method: 'get',
    path: '/sources/opml',
    name: 'exportFeeds',
    says: 'The feeds that are watched, as a list other programs read (OPML 2.0).',
    may: 'see',
    answersItself: 'text/x-opml',
    answer: null,
    async run({ services: { pool, clock }, brand, res }) {
      const feeds = (await watches.watchesOf(pool, brand.id)).flatMap(({ kind, name: called, params }) => {
        const { url } = params as { url?: string };
        return kind === 'feed' && url ? [{ name: called, url }] : [];
      });
      res.attachment(`What ${brand.name} watches.opml`);
      res.type('text/x-opml; charset=utf-8').send(writeOpml(`What ${brand.name} watches`, feeds, clock()));
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sources/opml',
    name: 'watchFeeds',
    says: 'Watches the feeds of a list (OPML 2.0), each for itself: what cannot be watched says why and holds back no other.',
    may: 'connect',
    body: z.object({ text: z.string().max(500_000) }),
    answer: z.object({
      feeds: z.array(
        z.object({
          name: z.string(),
          url: z.string(),
          watch: z.number().nullable().meta({ description: 'Null when it cannot be watched.' }),
          says: z.string().nullable(),
        }),
      ),
    }),
    async run({ services, brand, body }) {
      const listed = readOpml(body.text);
      if (listed.length > MOST_LISTED)
        throw new Problem(422, `This list has ${listed.length} feeds; at most ${MOST_LISTED} can be taken at once.`);
      const inTurn = pLimit(4);
      const feeds = await Promise.all(
        listed.map(({ name: called, url }) =>
          inTurn(async () => {
            try {
              return { name: called, url, watch: await watchFound(services, brand.id, url), says: null };
            } catch (error) {
              if (error instanceof Problem) return { name: called, url, watch: null, says: error.message };
              throw error;
            }
          }),
        ),
      );
      return { feeds };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sources/wake',
    name: 'wakeSources',
    says: 'Has sources looked at that somebody has open and no live workflow uses.',
    may: 'see',
    body: z.object({ watches: z.array(z.number().int().positive()).max(200) }),
    answer: z.object({ woken: z.number() }),
    async run({ services: { pool, clock, nudges }, brand, body }) {
      const woken = await wakeIdleWatches(pool, brand.id, body.watches, clock());
      if (woken > 0) nudges.nudge();
      return { woken };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sources/network',
    name: 'watchOutlet',
    says: 'Watches what only a sign-in can see: comments, reviews, rows.',
    may: 'connect',
    body: z.object({ outlet: z.number().int().positive(), what: z.string().max(40) }),
    status: 201,
    answer: madeSchema,
    async run({ services, brand, body }) {
      const made = await watchOutlet(services, brand.id, body.outlet, body.what);
      await firstLook(services, made, 'It can be watched, but could not be read');
      return { id: made };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sources/hook',
    name: 'makeHook',
    says: 'Makes a web hook: an address that others tell Playa at.',
    may: 'connect',
    body: z.object({ name }),
    status: 201,
    answer: madeSchema,
    run: async ({ services, brand, body }) => ({ id: await makeHook(services, brand.id, body.name) }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/sources/schedule',
    name: 'makeSchedule',
    says: 'Makes a source of moments that come by a rule (RFC 5545 section 3.3.10).',
    may: 'connect',
    body: plan.extend({ name }),
    status: 201,
    answer: madeSchema,
    async run({ services, brand, body: { rule, start, name: called } }) {
      readRecurrence(rule, start, brand.timeZone);
      const source = {
        brandId: brand.id,
        params: { rule, start, zone: brand.timeZone },
        name: called,
        things: 'times',
        everySeconds: 60,
      };
      const by = { actor: services.actor, now: services.clock() };
      const made = await inTransaction(services.pool, (db) => keepSource(db, scheduleKind, source, by));
      await lookNow(services, made);
      return { id: made };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sources/schedule/preview',
    name: 'previewSchedule',
    says: 'Says a rule in words, with the next five moments.',
    may: 'see',
    body: plan,
    answer: z.object({ says: z.string(), next: z.array(moment) }),
    async run({ services, brand, body: { rule, start } }) {
      const schedule = readRecurrence(rule, start, brand.timeZone);
      const next: number[] = [];
      for (let at = schedule.after(services.clock()); at !== null && next.length < 5; at = schedule.after(at))
        next.push(at);
      return { says: schedule.says, next };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sources/{id}/rename',
    name: 'renameSourceField',
    says: 'Gives a field of a source another name, in its items and wherever it is used.',
    may: 'compose',
    params: z.object({ id }),
    body: z.object({ from: z.string().min(1).max(300), to: fieldName }),
    answer: z.object({ workflows: z.number(), items: z.number() }),
    run: ({ services, brand, params, body }) => renameSourceField(services, brand.id, params.id, body.from, body.to),
  }),
  brandEndpoint({
    method: 'get',
    path: '/items',
    name: 'listItems',
    says: 'The newest items of some sources, newest first; or those that appeared or changed since an earlier answer.',
    may: 'see',
    query: pageQuery(z.object({ moment, id: z.number().int() }), 5000).extend({
      watches: z
        .string()
        .regex(/^\d+(,\d+)*$/)
        .transform((text) => text.split(',').map(Number)),
      since: z.coerce.number().int().min(0).optional().meta({
        description: 'The `until` of an earlier answer: only what appeared or changed since comes, in no order.',
      }),
    }),
    answer: z.object({
      items: z.array(itemSchema),
      until: z.number().meta({ description: 'To hand on as `since`.' }),
      partly: z.boolean().meta({ description: 'Too much has changed since: these are the newest, as if asked anew.' }),
      ...nextPage,
    }),
    async run({ services: { pool }, brand, query: { watches: of, most, after, since } }) {
      // Asked first: what is stored meanwhile comes with the next answer.
      const until = await seenUntil(pool);
      const touched = since === undefined ? null : await itemsTouched(pool, brand.id, of, since, 500);
      const items = touched ?? (await itemsOf(pool, brand.id, of, most, after));
      const last = items.length === most && !touched ? items.at(-1) : undefined;
      return {
        items: items.map(({ id: item, watchId, identity, publishedAt, seenAt, fields }) => ({
          id: item,
          watch: watchId,
          identity,
          publishedAt,
          seenAt,
          fields,
        })),
        until,
        partly: since !== undefined && touched === null,
        next: last ? cursorOf({ moment: last.publishedAt ?? last.seenAt, id: last.id }) : null,
      };
    },
  }),
];
