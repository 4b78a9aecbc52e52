import { LINK, LONG_TEXT, MOMENT, object, PICTURE, TEXT } from '@playa/core/shapes/shape.ts';
import { z } from 'zod';
import { call, cannot, jsonBody, pagesBack, webAddress, type CallOptions } from '../answers.ts';
import { NetworkTrouble, type Connector, type RemoteOutlet, type Session } from '../connector.ts';

const boardSchema = z.object({
  id: z.string().min(1),
  name: z.string(),
  url: webAddress,
  sections: z.array(z.object({ id: z.string().min(1), name: z.string() })),
});
type Board = z.infer<typeof boardSchema>;
const pictureSchema = z.object({
  id: z.string().min(1),
  title: z.string(),
  description: z.string(),
  link: z.string().nullable(),
  picture: z.string(),
  url: webAddress,
  created: z.string().transform((text) => Date.parse(text)),
});
/** Problem details (RFC 9457). */
const errorSchema = z.object({ detail: z.string().max(500) });
const manner: CallOptions = { message: (body) => errorSchema.safeParse(body).data?.detail };

/** A board, and each of its sections as an outlet of its own: "7/9" is section 9 of board 7. */
const outletsOf = (board: Board): RemoteOutlet[] => [
  { kind: 'board', remoteId: board.id, name: board.name, address: board.url, feed: null },
  ...board.sections.map((section): RemoteOutlet => ({
    kind: 'board',
    remoteId: `${board.id}/${section.id}`,
    name: `${board.name} · ${section.name}`,
    address: board.url,
    feed: null,
    details: { within: board.name },
  })),
];
const parts = (outlet: string) => {
  const [board, section] = outlet.split('/');
  return { board: board!, section: section ?? null };
};

async function allBoards(session: Session): Promise<Board[]> {
  const schema = z.object({ data: z.array(boardSchema), page: z.object({ next: z.number().nullable() }) });
  const boards: Board[] = [];
  for (let page: number | null = 1; page !== null;) {
    const answer: z.infer<typeof schema> = await call(session, `/v1/boards?page=${page}&size=25`, schema, manner);
    boards.push(...answer.data);
    page = answer.page.next;
  }
  return boards;
}

const post = (session: Session, path: string, body: object) =>
  call(session, path, z.looseObject({ id: z.string() }), {
    ...manner,
    ...jsonBody(body),
    method: 'POST',
    writes: true,
  });

/** A board just made, or its section that was made last. */
async function lastOf(session: Session, id: string): Promise<RemoteOutlet> {
  const board = (await allBoards(session)).find((each) => each.id === id);
  const outlet = board && outletsOf(board).at(-1);
  if (!outlet) throw new NetworkTrouble('retry', 'It was made, but is not listed yet.');
  return outlet;
}

/** Networks of boards: pictures with a title and a link, on boards that may have sections. */
export const boards: Connector = {
  kind: 'boards',
  purpose: 'pinning',
  signIn: {
    by: 'consent',
    authorize: '/oauth/authorize',
    token: '/oauth/token',
    revoke: '/oauth/revoke',
    scopes: { 'boards:read': 'list your boards', 'boards:write': 'make boards and put pictures on them' },
  },
  allowance: { calls: 1000, per: 'hour' },

  async whoAmI(session) {
    const me = await call(session, '/v1/me', z.object({ id: z.string(), name: z.string() }), manner);
    return { remoteId: me.id, name: me.name };
  },

  outlets: async (session) => (await allBoards(session)).flatMap(outletsOf),

  async check(session, outlet) {
    const { board, section } = parts(outlet);
    const found = (await allBoards(session)).find((each) => each.id === board);
    if (found && (section === null || found.sections.some((each) => each.id === section))) return { ok: true };
    return { ok: false, trouble: 'This board is not there any more.', remedy: 'Choose another, or make it anew.' };
  },

  creations: [
    {
      what: 'board',
      fields: [
        { name: 'name', label: 'Name of the board' },
        { name: 'section', label: 'A section in it', hint: 'May be left empty.', optional: true },
      ],
      async make(session, { name = '', section = '' }) {
        const { id } = await post(session, '/v1/boards', { name });
        if (section) await post(session, `/v1/boards/${encodeURIComponent(id)}/sections`, { name: section });
        return lastOf(session, id);
      },
    },
    {
      what: 'section',
      fields: [
        { name: 'board', label: 'Name of the board it belongs to' },
        { name: 'name', label: 'Name of the section' },
      ],
      async make(session, { board = '', name = '' }) {
        const found = (await allBoards(session)).find((each) => each.name.toLowerCase() === board.toLowerCase());
        if (!found) throw new NetworkTrouble('fix', `There is no board called ${board}.`, { definite: true });
        await post(session, `/v1/boards/${encodeURIComponent(found.id)}/sections`, { name });
        return lastOf(session, found.id);
      },
    },
  ],

  watches: {
    pictures: {
      things: 'pictures',
      shows: ['publish'],
      outlet: 'board',
      shape: {
        title: TEXT,
        description: LONG_TEXT,
        link: LINK,
        picture: object({ url: PICTURE }),
        published: MOMENT,
        id: TEXT,
      },
      read: (session, outlet, seen) =>
        pagesBack<string>(seen, async (cursor) => {
          const { board } = parts(outlet);
          const schema = z.object({ data: z.array(pictureSchema), page: z.object({ before: z.string().nullable() }) });
          const query = cursor ? `?before=${encodeURIComponent(cursor)}` : '';
          const answer = await call(
            session,
            `/v1/boards/${encodeURIComponent(board)}/pictures${query}`,
            schema,
            manner,
          );
          return {
            cursor: answer.page.before,
            items: answer.data.map((entry) => ({
              identity: `picture:${entry.id}`,
              publishedAt: entry.created,
              fields: {
                title: entry.title,
                description: entry.description,
                link: entry.link ?? '',
                picture: { url: entry.picture },
                published: new Date(entry.created).toISOString(),
                id: entry.id,
              },
            })),
          };
        }),
    },
  },

  acts: {
    publish: {
      repeats: 'keyed',
      async send(session, outlet, input, key) {
        const picture = input.media?.find(({ type }) => type === 'picture');
        if (!picture) throw new NetworkTrouble('fix', 'What goes on a board needs a picture.');
        const body = {
          ...parts(outlet),
          picture: picture.url,
          title: input.title ?? '',
          description: input.text,
          link: input.card,
          ref: key,
        };
        const entry = await call(session, '/v1/pictures', pictureSchema, {
          ...manner,
          ...jsonBody(body),
          method: 'POST',
          writes: true,
        });
        return { remoteId: entry.id, url: entry.url, at: entry.created };
      },
    },
    // Changing to the same words, or deleting, a second time changes nothing.
    revise: {
      offers: ['edit', 'delete'],
      repeats: 'keyed',
      async send(session, _outlet, input) {
        const at = `/v1/pictures/${encodeURIComponent(input.post)}`;
        if (input.change === 'edit') {
          const options = {
            ...manner,
            ...jsonBody({ description: input.text }),
            method: 'PATCH' as const,
            writes: true,
          };
          const entry = await call(session, at, pictureSchema, options);
          return { remoteId: entry.id, url: entry.url, at: session.now() };
        }
        if (input.change !== 'delete') throw cannot(session, input.change);
        await call(session, at, z.unknown(), { ...manner, method: 'DELETE', writes: true, gone: true });
        return { remoteId: input.post, url: null, at: session.now() };
      },
    },
  },
};
