import { LINK, LONG_TEXT, MOMENT, object, TEXT } from '@playa/core/shapes/shape.ts';
import { z } from 'zod';
import type { Item } from '@playa/core/items/item.ts';
import { call, cannot, jsonBody, pagesBack, webAddress, type CallOptions } from '../answers.ts';
import type { Connector, RemoteOutlet, Session } from '../connector.ts';

const profileSchema = z.object({
  id: z.string().min(1),
  handle: z.string(),
  display_name: z.string(),
  page: webAddress,
});
const noteSchema = z.object({
  id: z.string().min(1),
  sort: z.enum(['original', 'repost', 'quote', 'reply']),
  text: z.string(),
  author: z.object({ id: z.string(), handle: z.string(), display_name: z.string() }),
  of: z.object({ id: z.string(), text: z.string() }).nullable(),
  page: webAddress,
  created_at: z.iso.datetime().transform((text) => Date.parse(text)),
});
type Note = z.infer<typeof noteSchema>;
const errorSchema = z.object({ errors: z.array(z.object({ detail: z.string().max(500) })).min(1) });
const manner: CallOptions = { message: (body) => errorSchema.safeParse(body).data?.errors[0]!.detail };

const outletOf = (profile: z.infer<typeof profileSchema>): RemoteOutlet => ({
  kind: 'microblog',
  remoteId: profile.id,
  name: `@${profile.handle}`,
  address: profile.page,
  feed: null,
});
const outcomeOf = (note: Note) => ({ remoteId: note.id, url: note.page, at: note.created_at });
const write = async (session: Session, body: object) => {
  const options = { ...manner, ...jsonBody(body), method: 'POST' as const, writes: true };
  return outcomeOf((await call(session, '/api/notes', z.object({ note: noteSchema }), options)).note);
};
const notesPage = z.object({ notes: z.array(noteSchema), next: z.string().nullable() });
const pageOf = (session: Session, profile: string, cursor: string | null) =>
  call(
    session,
    `/api/profiles/${encodeURIComponent(profile)}/notes?limit=50${cursor ? `&max_id=${encodeURIComponent(cursor)}` : ''}`,
    notesPage,
    manner,
  );

const ownProfiles = async (session: Session) =>
  (await call(session, '/api/me/profiles', z.object({ profiles: z.array(profileSchema) }), manner)).profiles;

/** One's own recent notes can be searched, so that a lost answer is looked for. */
async function findNote(session: Session, profile: string, since: number, fits: (note: Note) => boolean) {
  for (let cursor: string | null = null; ;) {
    const { notes, next }: z.infer<typeof notesPage> = await pageOf(session, profile, cursor);
    const found = notes.find((note) => note.created_at >= since - 60_000 && fits(note));
    if (found) return outcomeOf(found);
    cursor = next;
    if (cursor === null || notes.some((note) => note.created_at < since - 60_000)) return undefined;
  }
}

/** Microblogs: short notes, reposts, quotes and replies. */
export const microblog: Connector = {
  kind: 'microblog',
  purpose: 'short notes',
  signIn: {
    by: 'consent',
    authorize: '/oauth/authorize',
    token: '/oauth/token',
    revoke: '/oauth/revoke',
    scopes: { 'notes.read': 'read profiles and notes', 'notes.write': 'write notes' },
  },
  allowance: { calls: 3000, per: 'hour' },
  limits: { account: { capacity: 20, perSecond: 1 } },

  async whoAmI(session) {
    const { user } = await call(
      session,
      '/api/me',
      z.object({ user: z.object({ id: z.string(), name: z.string() }) }),
      manner,
    );
    return { remoteId: user.id, name: user.name };
  },

  async outlets(session, known) {
    const own = (await ownProfiles(session)).map(outletOf);
    // Followed profiles are not the account's own; they stay as they were added.
    const followed = known.filter((id) => !own.some((outlet) => outlet.remoteId === id));
    return [...own, ...(await Promise.all(followed.map((id) => followedProfile(session, id)))).flat()];
  },

  openHint: '@harbourmaster, or the address of a profile',
  async open(session, pasted) {
    const handle = /^@?([\w.-]{2,60})$/.exec(pasted.trim())?.[1] ?? /\/@([\w.-]{2,60})(?:[/?#]|$)/.exec(pasted)?.[1];
    if (!handle) return undefined;
    const found = await call(
      session,
      `/api/profiles/by-handle/${encodeURIComponent(handle)}`,
      z.object({ profile: profileSchema }),
      manner,
    );
    const own = (await ownProfiles(session)).some((profile) => profile.id === found.profile.id);
    return own ? outletOf(found.profile) : { ...outletOf(found.profile), details: { watchOnly: true } };
  },

  async check(session, outlet) {
    if ((await ownProfiles(session)).some((profile) => profile.id === outlet)) return { ok: true };
    return {
      ok: false,
      trouble: 'This profile belongs to somebody else. It can be watched, not written in.',
      remedy: 'Connect the account that owns it.',
    };
  },

  watches: {
    notes: {
      things: 'notes',
      shows: ['publish', 'reply'],
      outlet: 'microblog',
      shape: {
        text: LONG_TEXT,
        sort: TEXT,
        link: LINK,
        author: object({ name: TEXT, handle: TEXT }),
        published: MOMENT,
        of: object({ text: LONG_TEXT }),
        id: TEXT,
      },
      read: (session, outlet, seen) =>
        pagesBack<string>(seen, async (cursor) => {
          const { notes, next } = await pageOf(session, outlet, cursor);
          return { items: notes.map(itemOf), cursor: next };
        }),
    },
  },

  acts: {
    publish: {
      repeats: 'findable',
      send: (session, outlet, input) => write(session, { profile: outlet, text: input.text }),
      find: (session, outlet, input, since) =>
        findNote(session, outlet, since, (note) => note.sort === 'original' && note.text === input.text),
    },
    reply: {
      repeats: 'findable',
      send: (session, outlet, input) => write(session, { profile: outlet, text: input.text, reply_to: input.to }),
      find: (session, outlet, input, since) =>
        findNote(session, outlet, since, (note) => note.of?.id === input.to && note.text === input.text),
    },
    revise: {
      // Deleting twice deletes once: what is not there any more is deleted.
      repeats: 'keyed',
      async send(session, _outlet, input) {
        if (input.change !== 'delete') throw cannot(session, input.change);
        const options = { ...manner, method: 'DELETE' as const, writes: true, gone: true };
        await call(session, `/api/notes/${encodeURIComponent(input.post)}`, z.unknown(), options);
        return { remoteId: input.post, url: null, at: session.now() };
      },
    },
  },
};

async function followedProfile(session: Session, id: string): Promise<RemoteOutlet[]> {
  const { notes } = await pageOf(session, id, null);
  const author = notes.find((note) => note.sort === 'original')?.author ?? notes[0]?.author;
  if (!author) return [];
  const page = new URL(notes[0]!.page);
  const address = `${page.origin}${page.pathname.replace(/\/notes\/.*$/, '')}/@${author.handle}`;
  const details = { watchOnly: true };
  return [{ kind: 'microblog', remoteId: id, name: `@${author.handle}`, address, feed: null, details }];
}

function itemOf(note: Note): Item {
  return {
    identity: `note:${note.id}`,
    publishedAt: note.created_at,
    fields: {
      text: note.text,
      sort: note.sort,
      link: note.page,
      author: { name: note.author.display_name, handle: note.author.handle },
      published: new Date(note.created_at).toISOString(),
      of: note.of ? { text: note.of.text, id: note.of.id } : null,
      id: note.id,
    },
  };
}
