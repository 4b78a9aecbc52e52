import { z } from 'zod';
import { call, cannot, jsonBody, orGone } from '../answers.ts';
import type { Connector, RemoteOutlet, Session } from '../connector.ts';
import { manner, noteSchema, profileSchema, type Note } from './shapes.ts';
import { microblogWatches, notesOf } from './watches.ts';

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
const ownProfiles = async (session: Session) =>
  (await call(session, '/api/me/profiles', z.object({ profiles: z.array(profileSchema) }), manner)).profiles;

/** One's own recent notes can be searched, so that a lost answer is looked for. */
async function findNote(session: Session, profile: string, since: number, fits: (note: Note) => boolean) {
  for (let cursor: string | null = null; ;) {
    const { notes, next }: Awaited<ReturnType<typeof notesOf>> = await notesOf(session, profile, cursor);
    const found = notes.find((note) => note.created_at >= since - 60_000 && fits(note));
    if (found) return outcomeOf(found);
    cursor = next;
    if (cursor === null || notes.some((note) => note.created_at < since - 60_000)) return undefined;
  }
}

const noteAt = (id: string) => `/api/notes/${encodeURIComponent(id)}`;

/** Microblogs: short notes, reposts, quotes and replies, and who mentions one. */
export const microblog: Connector = {
  kind: 'microblog',
  purpose: 'short notes',
  signIn: {
    by: 'consent',
    authorize: '/oauth/authorize',
    token: '/oauth/token',
    revoke: '/oauth/revoke',
    scopes: { 'notes.read': 'read profiles, notes and mentions', 'notes.write': 'write notes and likes' },
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

  watches: microblogWatches,

  acts: {
    publish: {
      repeats: 'findable',
      send: (session, outlet, input) => write(session, { profile: outlet, text: input.text }),
      find: (session, outlet, input, since) =>
        findNote(session, outlet, since, (note) => note.sort === 'original' && note.text === input.text),
    },
    reply: {
      repeats: 'findable',
      async standing(session, outlet, input) {
        const found = await orGone(call(session, noteAt(input.to), z.object({ note: noteSchema }), manner));
        if (!found) return undefined;
        const query = new URLSearchParams({ by: outlet });
        const schema = z.object({ notes: z.array(noteSchema) });
        const answers = await call(session, `${noteAt(input.to)}/replies?${query}`, schema, manner);
        return { text: found.note.text, answers: answers.notes.map(({ text }) => text) };
      },
      send: (session, outlet, input) => write(session, { profile: outlet, text: input.text, reply_to: input.to }),
      find: (session, outlet, input, since) =>
        findNote(session, outlet, since, (note) => note.of?.id === input.to && note.text === input.text),
    },
    // To like twice is to like once.
    react: {
      repeats: 'keyed',
      async send(session, outlet, input) {
        const options = { ...manner, method: 'PUT' as const, writes: true };
        await call(session, `${noteAt(input.to)}/likes/${encodeURIComponent(outlet)}`, z.unknown(), options);
        return { remoteId: '', url: null, at: session.now() };
      },
    },
    revise: {
      offers: ['delete'],
      // Deleting twice deletes once: what is not there any more is deleted.
      repeats: 'keyed',
      async send(session, _outlet, input) {
        if (input.change !== 'delete') throw cannot(session, input.change);
        const options = { ...manner, method: 'DELETE' as const, writes: true, gone: true };
        await call(session, noteAt(input.post), z.unknown(), options);
        return { remoteId: input.post, url: null, at: session.now() };
      },
    },
  },
};

async function followedProfile(session: Session, id: string): Promise<RemoteOutlet[]> {
  const { notes } = await notesOf(session, id, null);
  const author = notes.find((note) => note.sort === 'original')?.author ?? notes[0]?.author;
  if (!author) return [];
  const page = new URL(notes[0]!.page);
  const address = `${page.origin}${page.pathname.replace(/\/notes\/.*$/, '')}/@${author.handle}`;
  const details = { watchOnly: true };
  return [{ kind: 'microblog', remoteId: id, name: `@${author.handle}`, address, feed: null, details }];
}
