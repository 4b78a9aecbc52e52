import { LINK, LONG_TEXT, MOMENT, TEXT } from '@playa/core/shapes/shape.ts';
import { z } from 'zod';
import { call, jsonBody, pagesBack, webAddress, type CallOptions } from '../answers.ts';
import { NetworkTrouble, type Connector } from '../connector.ts';

const recordSchema = z.object({
  number: z.string().min(1),
  summary: z.string(),
  details: z.string(),
  place: z.string(),
  priority: z.string(),
  status: z.string(),
  custom: z.record(z.string(), z.string()),
  url: webAddress,
  opened: z.iso.datetime(),
  updated: z.iso.datetime(),
});
const result = <T>(schema: z.ZodType<T>) => z.object({ result: schema });
const errorSchema = z.object({ problem: z.object({ message: z.string().max(500) }) });
const manner: CallOptions = {
  show: (token) => ({ 'x-api-key': token }),
  message: (body) => errorSchema.safeParse(body).data?.problem.message,
};
const selfSchema = result(
  z.object({ user: z.string(), name: z.string(), queues: z.array(z.object({ id: z.string(), name: z.string() })) }),
);

/** Helpdesks: numbered records that are told of by web hook, with a timeline that can be written to. */
export const helpdesk: Connector = {
  kind: 'helpdesk',
  purpose: 'incidents',
  signIn: {
    by: 'form',
    help: 'Make a key for applications in the settings of the helpdesk.',
    fields: [{ name: 'token', label: 'Key', secret: true }],
  },
  allowance: { calls: 2000, per: 'hour' },

  async whoAmI(session) {
    const { result: self } = await call(session, '/api/self', selfSchema, manner);
    return { remoteId: self.user, name: self.name };
  },

  async outlets(session) {
    const { result: self } = await call(session, '/api/self', selfSchema, manner);
    return self.queues.map((queue) => ({
      kind: 'queue',
      remoteId: queue.id,
      name: queue.name,
      address: session.network.base,
      feed: null,
    }));
  },

  watches: {
    records: {
      things: 'records',
      internal: true,
      outlet: 'queue',
      shape: {
        number: TEXT,
        summary: TEXT,
        details: LONG_TEXT,
        place: TEXT,
        priority: TEXT,
        status: TEXT,
        link: LINK,
        published: MOMENT,
        id: TEXT,
      },
      read: (session, queue, seen) =>
        pagesBack<number>(seen, async (cursor) => {
          const schema = z.object({ result: z.array(recordSchema), next_offset: z.number().nullable() });
          const path = `/api/queues/${encodeURIComponent(queue)}/records?offset=${cursor ?? 0}`;
          const page = await call(session, path, schema, manner);
          return {
            cursor: page.next_offset,
            items: page.result.map((record) => ({
              identity: `record:${record.number}`,
              publishedAt: Date.parse(record.opened),
              fields: {
                number: record.number,
                summary: record.summary,
                details: record.details,
                place: record.place,
                priority: record.priority,
                status: record.status,
                link: record.url,
                published: record.opened,
                id: record.number,
              },
            })),
          };
        }),
      push: {
        signature: { header: 'x-lagoon-digest' },
        async subscribe(session, queue, url, secret) {
          const path = `/api/queues/${encodeURIComponent(queue)}/hooks`;
          const options = { ...manner, ...jsonBody({ url, secret }), method: 'POST' as const, writes: true };
          return (await call(session, path, result(z.object({ hook: z.string() })), options)).result.hook;
        },
        async unsubscribe(session, _queue, id) {
          const options = { ...manner, method: 'DELETE' as const, writes: true, gone: true };
          await call(session, `/api/hooks/${encodeURIComponent(id)}`, z.unknown(), options);
        },
      },
    },
  },

  acts: {
    // To answer a record is to add to its timeline; the helpdesk knows an entry again by its external id.
    reply: {
      repeats: 'keyed',
      async send(session, _queue, input, key) {
        const path = `/api/records/${encodeURIComponent(input.to)}/timeline`;
        const body = { text: input.text, external_id: key };
        const options = { ...manner, ...jsonBody(body), method: 'POST' as const, writes: true };
        const schema = result(z.object({ entry: z.string(), url: webAddress }));
        const { result: made } = await call(session, path, schema, options);
        return { remoteId: made.entry, url: made.url, at: session.now() };
      },
    },
    // Fields of its own are written onto a record that is known by its number.
    record: {
      repeats: 'keyed',
      async send(session, _queue, input) {
        const number = input.row ?? (input.match?.column === 'number' ? input.match.value : undefined);
        if (number === undefined)
          throw new NetworkTrouble('fix', 'A record is found by its number; new ones are opened at the helpdesk.', {
            definite: true,
          });
        const path = `/api/records/${encodeURIComponent(number)}`;
        const options = { ...manner, ...jsonBody({ custom: input.values }), method: 'PATCH' as const, writes: true };
        const { result: record } = await call(session, path, result(recordSchema), options);
        return { remoteId: record.number, url: record.url, at: Date.parse(record.updated) };
      },
    },
  },
};
