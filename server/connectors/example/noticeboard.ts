// The worked example of docs/adding-a-network.md: a network of business pages with an interface of its own, signed into
// with a key. It is not among CONNECTORS; its test keeps it compiling and working.
import { LINK, LONG_TEXT, MOMENT, TEXT } from '@playa/core/shapes/shape.ts';
import { z } from 'zod';
import { call, cannot, jsonBody, pagesBack, webAddress, type CallOptions } from '../answers.ts';
import type { Connector } from '../connector.ts';

// What the network answers, as far as Playa needs it. Anything else in an answer is ignored; anything missing makes the
// answer one "that Playa does not understand", which is never taken for a yes.
const boardSchema = z.object({ id: z.string().min(1), title: z.string(), page: webAddress });
const noticeSchema = z.object({
  id: z.string().min(1),
  words: z.string(),
  page: webAddress,
  pinned: z.iso.datetime().transform((text) => Date.parse(text)),
});
type Notice = z.infer<typeof noticeSchema>;

// How this network shows keys and says no; the rest of talking HTTP is `call`'s.
const manner: CallOptions = {
  show: (key) => ({ 'x-noticeboard-key': key }),
  message: (body) => z.object({ sorry: z.string().max(500) }).safeParse(body).data?.sorry,
};
const outcomeOf = (notice: Notice) => ({ remoteId: notice.id, url: notice.page, at: notice.pinned });
const noticesAt = (board: string) => `/boards/${encodeURIComponent(board)}/notices`;

export const noticeboard: Connector = {
  kind: 'pages',
  purpose: 'notices',
  signIn: {
    by: 'form',
    help: 'Ask the keeper of the boards for a key.',
    fields: [{ name: 'token', label: 'Key', secret: true }],
  },
  allowance: { calls: 600, per: 'hour' },
  limits: { account: { capacity: 10, perSecond: 0.5 } },

  async whoAmI(session) {
    const me = await call(session, '/me', z.object({ id: z.string(), name: z.string() }), manner);
    return { remoteId: me.id, name: me.name };
  },

  async outlets(session) {
    const boards = await call(session, '/boards', z.array(boardSchema), manner);
    return boards.map(({ id, title, page }) => ({
      kind: 'page',
      remoteId: id,
      name: title,
      address: page,
      feed: null,
    }));
  },

  watches: {
    notices: {
      things: 'notices',
      outlet: 'page',
      shape: { text: LONG_TEXT, link: LINK, published: MOMENT, id: TEXT },
      // Newest first, page by page, until something known comes up.
      read: (session, board, seen) =>
        pagesBack<string>(seen, async (cursor) => {
          const schema = z.object({ notices: z.array(noticeSchema), older: z.string().nullable() });
          const query = cursor ? `?older=${encodeURIComponent(cursor)}` : '';
          const page = await call(session, noticesAt(board) + query, schema, manner);
          return {
            cursor: page.older,
            items: page.notices.map((notice) => ({
              identity: `notice:${notice.id}`,
              publishedAt: notice.pinned,
              fields: {
                text: notice.words,
                link: notice.page,
                published: new Date(notice.pinned).toISOString(),
                id: notice.id,
              },
            })),
          };
        }),
    },
  },

  acts: {
    publish: {
      // It does not know a repeated request, but its notices can be read: after silence Playa looks.
      repeats: 'findable',
      async send(session, board, input) {
        const options = { ...manner, ...jsonBody({ words: input.text }), method: 'POST' as const, writes: true };
        return outcomeOf(await call(session, noticesAt(board), noticeSchema, options));
      },
      async find(session, board, input, since) {
        const schema = z.object({ notices: z.array(noticeSchema) });
        const { notices } = await call(session, noticesAt(board), schema, manner);
        // Clocks differ: a minute's leeway.
        const found = notices.find((each) => each.words === input.text && each.pinned >= since - 60_000);
        return found && outcomeOf(found);
      },
    },
    revise: {
      offers: ['delete'],
      // To take down what is gone already changes nothing, so it may simply be tried again.
      repeats: 'keyed',
      async send(session, board, input) {
        if (input.change !== 'delete') throw cannot(session, input.change);
        const path = `${noticesAt(board)}/${encodeURIComponent(input.post)}`;
        await call(session, path, z.unknown(), { ...manner, method: 'DELETE', writes: true, gone: true });
        return { remoteId: input.post, url: null, at: session.now() };
      },
    },
  },
};
