import { LINK, MOMENT, NUMBER, object, PICTURE, TEXT } from '@playa/core/shapes/shape.ts';
import { z } from 'zod';
import { call, pagesBack, webAddress, type CallOptions } from '../answers.ts';
import { NetworkTrouble, type Connector } from '../connector.ts';

const fileSchema = z.object({
  id: z.string().min(1),
  name: z.string(),
  mime: z.string(),
  bytes: z.number(),
  link: webAddress,
  modified: z.iso.datetime(),
});
const entriesSchema = z.object({ entries: z.array(fileSchema), has_more: z.boolean() });
const errorSchema = z.object({ error: z.object({ summary: z.string().max(500) }) });
const manner: CallOptions = { message: (body) => errorSchema.safeParse(body).data?.error.summary };
const filesAt = (folder: string) => `/api/folders/${encodeURIComponent(folder)}/files`;
const fieldsOf = (file: z.infer<typeof fileSchema>) => ({
  name: file.name,
  link: file.link,
  type: file.mime,
  size: file.bytes,
  ...(file.mime.startsWith('image/') ? { picture: { url: file.link } } : {}),
  published: file.modified,
  id: file.id,
});

/** File stores: files found by name or pattern, each with a public link. */
export const files: Connector = {
  kind: 'files',
  purpose: 'pictures and files',
  signIn: {
    by: 'consent',
    authorize: '/oauth/authorize',
    token: '/oauth/token',
    revoke: '/oauth/revoke',
    scopes: { 'files.read': 'see folders and files', 'files.write': 'add files' },
  },
  allowance: { calls: 1000, per: 'hour' },

  async whoAmI(session) {
    const schema = z.object({ account_id: z.string(), display_name: z.string() });
    const me = await call(session, '/api/account', schema, manner);
    return { remoteId: me.account_id, name: me.display_name };
  },

  async outlets(session) {
    const schema = z.object({ folders: z.array(z.object({ id: z.string(), name: z.string(), page: webAddress })) });
    const { folders } = await call(session, '/api/folders', schema, manner);
    return folders.map((folder) => ({
      kind: 'folder',
      remoteId: folder.id,
      name: folder.name,
      address: folder.page,
      feed: null,
    }));
  },

  watches: {
    files: {
      things: 'files',
      internal: true,
      outlet: 'folder',
      shape: {
        name: TEXT,
        link: LINK,
        type: TEXT,
        size: NUMBER,
        picture: object({ url: PICTURE }),
        published: MOMENT,
        id: TEXT,
      },
      read: (session, folder, seen) =>
        pagesBack<string>(seen, async () => {
          const { entries } = await call(session, filesAt(folder), entriesSchema, manner);
          const items = entries.map((file) => ({
            identity: file.id,
            publishedAt: Date.parse(file.modified),
            fields: fieldsOf(file),
          }));
          return { items, cursor: null };
        }),
    },
  },

  acts: {
    find: {
      repeats: 'keyed',
      async send(session, folder, input) {
        if (input.by !== 'name' && input.by !== 'pattern')
          throw new NetworkTrouble('fix', 'Files are found by name or by pattern.', { definite: true });
        const query = new URLSearchParams({ [input.by]: input.value });
        const { entries } = await call(session, `${filesAt(folder)}?${query}`, entriesSchema, manner);
        return { remoteId: '', url: null, at: session.now(), result: { rows: entries.map(fieldsOf) } };
      },
    },
  },
};
