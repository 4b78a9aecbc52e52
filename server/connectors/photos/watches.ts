import { LINK, LONG_TEXT, MOMENT, NUMBER, object, PERSON, PICTURE, TEXT, YES_NO } from '@playa/core/shapes/shape.ts';
import { z } from 'zod';
import type { Item } from '@playa/core/items/item.ts';
import { call, jsonBody, pagesBack } from '../answers.ts';
import type { Push, Session, Watchable } from '../connector.ts';
import { listedCommentSchema, manner, messageSchema, photoSchema, result } from './shapes.ts';

const moment = (seconds: number) => Math.round(seconds * 1000);
/** @param at seconds since 1970, or null */
const answeredBy = (at: number | null) => ({ answered: at !== null, answeredAt: at === null ? null : iso(at) });
const iso = (seconds: number) => new Date(moment(seconds)).toISOString();

const push = (topic: string): Push => ({
  signature: { header: 'x-lagoon-digest' },
  async subscribe(session, outlet, callback, secret) {
    const { result: made } = await call(
      session,
      `/api/profiles/${encodeURIComponent(outlet)}/hooks`,
      result(z.object({ hook: z.string() })),
      { ...manner, ...jsonBody({ topic, callback, secret }), method: 'POST', writes: true },
    );
    return made.hook;
  },
  async unsubscribe(session, _outlet, id) {
    const options = { ...manner, method: 'DELETE' as const, writes: true, gone: true };
    await call(session, `/api/hooks/${encodeURIComponent(id)}`, z.unknown(), options);
  },
});

function reader<T>(list: string, schema: z.ZodType<T>, itemOf: (each: T) => Item[]): Watchable['read'] {
  const page = result(z.record(z.string(), z.unknown()));
  return (session: Session, outlet, seen) =>
    pagesBack<string>(seen, async (cursor) => {
      const query = `?count=50${cursor ? `&cursor=${encodeURIComponent(cursor)}` : ''}`;
      const { result: read } = await call(
        session,
        `/api/profiles/${encodeURIComponent(outlet)}/${list}${query}`,
        page,
        manner,
      );
      const items = z.array(schema).parse(read[list]).flatMap(itemOf);
      return { items, cursor: z.string().nullable().parse(read.cursor) };
    });
}

export const photoWatches: Record<string, Watchable> = {
  comments: {
    things: 'comments',
    said: 'comment',
    outlet: 'photos',
    shape: {
      text: LONG_TEXT,
      level: NUMBER,
      person: PERSON,
      photo: object({ caption: LONG_TEXT, link: LINK, picture: PICTURE }),
      published: MOMENT,
      link: LINK,
      answered: YES_NO,
      answeredAt: MOMENT,
      id: TEXT,
    },
    read: reader('comments', listedCommentSchema, (comment) => [
      {
        identity: `comment:${comment.id}`,
        publishedAt: moment(comment.writtenAt),
        fields: {
          text: comment.text,
          level: comment.level,
          person: { name: comment.from.fullName, id: comment.from.id },
          photo: { caption: comment.photo.caption, link: comment.photo.page, picture: comment.photo.pictureUrl },
          published: iso(comment.writtenAt),
          link: comment.page,
          ...answeredBy(comment.repliedAt),
          id: comment.id,
        },
      },
    ]),
    push: push('comments'),
  },
  messages: {
    things: 'messages',
    said: 'message',
    outlet: 'photos',
    shape: {
      text: LONG_TEXT,
      person: PERSON,
      published: MOMENT,
      answered: YES_NO,
      answeredAt: MOMENT,
      id: TEXT,
    },
    read: reader('messages', messageSchema, (message) =>
      message.sentByUs
        ? []
        : [
            {
              identity: `message:${message.id}`,
              publishedAt: moment(message.sentAt),
              fields: {
                text: message.text,
                person: { name: message.person.fullName, id: message.person.id },
                published: iso(message.sentAt),
                ...answeredBy(message.repliedAt),
                id: message.id,
              },
            },
          ],
    ),
    push: push('messages'),
  },
  photos: {
    things: 'photos',
    outlet: 'photos',
    shows: ['publish'],
    shape: {
      caption: LONG_TEXT,
      picture: object({ url: PICTURE }),
      alt: TEXT,
      link: LINK,
      published: MOMENT,
      id: TEXT,
    },
    read: reader('photos', photoSchema, (photo) => [
      {
        identity: `photo:${photo.id}`,
        publishedAt: moment(photo.takenAt),
        fields: {
          caption: photo.caption,
          picture: { url: photo.pictureUrl },
          alt: photo.altText,
          link: photo.page,
          published: iso(photo.takenAt),
          id: photo.id,
        },
      },
    ]),
  },
};
