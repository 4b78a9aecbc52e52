import { LINK, LONG_TEXT, MOMENT, object, PERSON_FIELDS, TEXT, YES_NO } from '@playa/core/shapes/shape.ts';
import { z } from 'zod';
import type { Item } from '@playa/core/items/item.ts';
import { call, jsonBody, pagesBack } from '../answers.ts';
import type { Push, Session, Watchable } from '../connector.ts';
import { manner, mentionSchema, noteSchema, type Mention, type Note } from './shapes.ts';

const profileAt = (id: string) => `/api/profiles/${encodeURIComponent(id)}`;

/** One page of a list at a profile, newest first. */
function listAt<T>(session: Session, profile: string, list: string, schema: z.ZodType<T>, cursor: string | null) {
  const query = new URLSearchParams({ limit: '50', ...(cursor && { max_id: cursor }) });
  const page = z.object({ notes: z.array(schema), next: z.string().nullable() });
  return call(session, `${profileAt(profile)}/${list}?${query}`, page, manner);
}

/** What a profile has written, newest first, a page of it. @throws NetworkTrouble */
export const notesOf = (session: Session, profile: string, cursor: string | null) =>
  listAt(session, profile, 'notes', noteSchema, cursor);

const push: Push = {
  signature: 'standard',
  async subscribe(session, outlet, callback, secret) {
    const options = { ...manner, ...jsonBody({ topic: 'mentions', url: callback, secret }) };
    const schema = z.object({ webhook: z.object({ id: z.string() }) });
    const path = `${profileAt(outlet)}/webhooks`;
    return (await call(session, path, schema, { ...options, method: 'POST', writes: true })).webhook.id;
  },
  async unsubscribe(session, _outlet, id) {
    const options = { ...manner, method: 'DELETE' as const, writes: true, gone: true };
    await call(session, `/api/webhooks/${encodeURIComponent(id)}`, z.unknown(), options);
  },
};

/** What can be watched at a microblog: what a profile writes, and who mentions it. */
export const microblogWatches: Record<string, Watchable> = {
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
        const { notes, next } = await notesOf(session, outlet, cursor);
        return { items: notes.map(noteItem), cursor: next };
      }),
  },
  mentions: {
    things: 'mentions',
    said: 'mention',
    byOutlets: true,
    outlet: 'microblog',
    shape: {
      text: LONG_TEXT,
      sort: TEXT,
      person: object({ ...PERSON_FIELDS, handle: TEXT }),
      note: object({ text: LONG_TEXT, link: LINK }),
      published: MOMENT,
      link: LINK,
      answered: YES_NO,
      answeredAt: MOMENT,
      id: TEXT,
    },
    read: (session, outlet, seen) =>
      pagesBack<string>(seen, async (cursor) => {
        const { notes, next } = await listAt(session, outlet, 'mentions', mentionSchema, cursor);
        return { items: notes.map((note) => mentionItem(note, outlet)), cursor: next };
      }),
    push,
  },
};

function noteItem(note: Note): Item {
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

/** What they write about is a note of one's own; what they answer of somebody else's stands on the page. */
function mentionItem(note: Mention, outlet: string): Item {
  const { of } = note;
  return {
    identity: `mention:${note.id}`,
    publishedAt: note.created_at,
    fields: {
      text: note.text,
      sort: note.sort,
      person: { name: note.author.display_name, id: note.author.id, handle: note.author.handle },
      note: of?.author === outlet ? { text: of.text, link: of.page } : null,
      published: new Date(note.created_at).toISOString(),
      link: note.page,
      answered: note.answered_at !== null,
      answeredAt: note.answered_at,
      id: note.id,
    },
  };
}
