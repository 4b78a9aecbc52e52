import { fieldsSchema } from '@playa/core/items/item.ts';
import { z } from 'zod';
import { keepSource } from '../../watch/kinds/keep.ts';
import { feedKind } from '../../watch/kinds/feed.ts';
import { findSource } from '../../watch/find-source.ts';
import { LookTrouble } from '../../watch/fetch-feed.ts';
import { inTransaction } from '../../db/database.ts';
import type { Services } from '../../base/services.ts';
import { scheduleKind, scheduleParams } from '../../watch/kinds/schedule.ts';
import { Problem } from '../problem.ts';
import { madeSchema, moment } from '../contract/schemas.ts';
import { LOOK_EVERY, watchOutlet } from '../../watch/watchable.ts';
import { lookNow } from '../../watch/look.ts';
import { writeOpml, readOpml } from '@playa/core/feeds/opml.ts';
import { readRecurrence } from '@playa/core/timetable/recurrence.ts';
import pLimit from 'p-limit';
import { webAddress } from '../../connectors/answers.ts';
import * as watches from '../../store/watches.ts';
import { makeHook } from '../../watch/hooks.ts';
import { brandEndpoint } from '../contract/endpoint.ts';

const name = z.string().trim().min(1, 'A source needs a name.').max(200);
export const plan = z.object({ rule: scheduleParams.shape.rule, start: scheduleParams.shape.start });
export const findingSchema = z.object({
  found: z
    .object({
      key: z.string(),
      kind: z.literal('feed'),
      params: z.looseObject({ url: z.string() }),
      name: z.string(),
      things: z.string(),
      newest: z.array(z.object({ identity: z.string(), publishedAt: moment.nullable(), fields: fieldsSchema })),
    })
    .loose()
    .nullable(),
  tried: z.array(z.object({ address: z.string(), says: z.string() })),
});

/** Looks at once at what has just been chosen. @throws Problem 502 when it cannot be read */
export async function firstLook(services: Parameters<typeof lookNow>[0], watch: number, says: string): Promise<void> {
  try {
    await lookNow(services, watch);
  } catch (error) {
    if (error instanceof LookTrouble) throw new Problem(502, `${says}: ${error.message}`);
    throw error;
  }
}

/** Watches what is found at an address, and looks at it once. @throws Problem when it cannot be watched */
export async function watchFound(services: Services, brandId: number, url: string): Promise<number> {
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
export const MOST_LISTED = 100;
/** Finding something to watch, and watching it. */
export const newSourceEndpoints = [
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
    body: z.object({ text: z.string().max(500000) }),
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
];
