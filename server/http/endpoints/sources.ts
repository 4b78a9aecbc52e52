import { z } from 'zod';
import { itemsOf, itemsTouched, seenUntil } from '../../store/items-shown.ts';
import { outletsPage } from '../../store/outlets.ts';
import { wakeIdleWatches } from '../../store/watch-times.ts';
import * as watches from '../../store/watches.ts';
import { renameSourceField } from '../../watch/rename.ts';
import { watchableOutlets } from '../../watch/watchable.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { atOutlet, byAccount, byId, cursorOf, cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { itemSchema, moment, outletSchema } from '../contract/schemas.ts';

const fieldName = z
  .string()
  .trim()
  .regex(/^\p{L}[\p{L}\p{N}_-]{0,59}$/u, 'A name starts with a letter and has only letters, digits, - and _.');
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
    query: pageQuery(byAccount, 500),
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
      const found = await outletsPage(services.pool, brand.id, after ?? null, most + 1);
      const { page, next } = cutPage(found, most, atOutlet);
      return {
        channels: page.filter((outlet) => outlet.kind === 'channel' && outlet.feed && !outlet.gone),
        watchable: await watchableOutlets(services, brand.id, page),
        next,
      };
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
