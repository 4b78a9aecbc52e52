import { z } from 'zod';
import type { Booking, EventType } from '../bookings/routes.ts';
import { tellBooking } from '../bookings/routes.ts';
import type { HelpRecord, Queue } from '../helpdesk/routes.ts';
import { tellRecord } from '../helpdesk/routes.ts';
import type { Lagoon } from '../base/lagoon.ts';
import type { Location, Review } from '../listings/routes.ts';
import { MicroStore } from '../microblog/store.ts';
import { rows } from '../base/db.ts';
import { PhotoStore } from '../photos/store.ts';
import { tellRows, typed, type SheetRow, type Tab } from '../sheets/routes.ts';
import { Things, type Thing } from '../base/things.ts';
import { VideoComments } from '../video/comments.ts';

/** Something the audience, or a colleague outside Playa, does. Places go by the names they show. */
export const actSchema = z.discriminatedUnion('do', [
  z.object({ do: z.literal('photo'), profile: z.string(), caption: z.string(), picture: z.string() }),
  z.object({
    do: z.literal('comment'),
    profile: z.string(),
    by: z.string(),
    text: z.string(),
    /** The person whose last comment it answers. */
    under: z.string().optional(),
  }),
  z.object({ do: z.literal('message'), profile: z.string(), by: z.string(), text: z.string() }),
  z.object({ do: z.literal('film-comment'), film: z.string(), by: z.string(), text: z.string() }),
  z.object({
    do: z.literal('review'),
    location: z.string(),
    by: z.string(),
    stars: z.number().int().min(1).max(5),
    text: z.string().nullable(),
  }),
  z.object({
    do: z.literal('booking'),
    type: z.string(),
    by: z.string(),
    startsIn: z.number().default(86_400_000),
    note: z.string().default(''),
  }),
  z.object({
    do: z.literal('record'),
    queue: z.string(),
    summary: z.string(),
    details: z.string().default(''),
    place: z.string().default(''),
    priority: z.enum(['minor', 'normal', 'major']).default('normal'),
  }),
  z.object({
    do: z.literal('row'),
    tab: z.string(),
    cells: z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()])),
  }),
  z.object({
    do: z.literal('note'),
    profile: z.string(),
    text: z.string(),
    sort: z.enum(['original', 'repost', 'quote', 'reply']).default('original'),
    /** Whose last note it refers to. */
    of: z.string().optional(),
  }),
]);
export type AudienceAct = z.infer<typeof actSchema>;

/** Plays the audience. */
export class Audience {
  readonly #lagoon: Lagoon;
  readonly #photos: PhotoStore;

  constructor(lagoon: Lagoon) {
    this.#lagoon = lagoon;
    this.#photos = new PhotoStore(lagoon);
  }

  #things<B extends object>(service: string, kind: string): Things<B> {
    return new Things<B>(this.#lagoon, service, kind);
  }

  async #person(name: string): Promise<{ id: number; name: string }> {
    const [found] = await rows<{ id: number; name: string }>(
      this.#lagoon.db,
      'SELECT id, name FROM people WHERE name = ?',
      [name],
    );
    return need(found, name);
  }

  /**
   * Does something, and tells whoever wants to be told of it.
   *
   * @param at when it happened; what happened in the past is told nobody
   * @returns its number
   */
  async play(act: AudienceAct, at?: number): Promise<number> {
    const now = at ?? this.#lagoon.clock.now();
    const isNews = at === undefined;
    switch (act.do) {
      case 'photo': {
        const profile = await this.#profile(act.profile);
        const body = { picture: act.picture, caption: act.caption, alt: '' };
        return this.#photos.photos.add(body, now, { parent: profile.id });
      }
      case 'comment': {
        const profile = await this.#profile(act.profile);
        const [photo] = (await this.#photos.photos.list({ parent: profile.id, most: 300 })).filter(
          (each) => each.createdAt <= now,
        );
        const on = need(photo, 'a photo');
        const under = act.under
          ? (await this.#photos.comments.list({ parent: on.id, most: 300 })).find(
              (each) => each.body.by.name === act.under,
            )
          : undefined;
        const by = await this.#person(act.by);
        if (isNews) return this.#photos.comment(on, by, act.text, under?.id ?? null);
        return this.#photos.comments.add({ text: act.text, by, under: under?.id ?? null, likes: [] }, now, {
          parent: on.id,
        });
      }
      case 'message': {
        const profile = await this.#profile(act.profile);
        const by = await this.#person(act.by);
        if (isNews) return this.#photos.write(profile, by, act.text);
        return this.#photos.messages.add({ with: by.id, name: by.name, from: 'them', text: act.text }, now, {
          parent: profile.id,
        });
      }
      case 'film-comment':
        return new VideoComments(this.#lagoon).add(act.film, await this.#person(act.by), act.text, now);
      case 'review': {
        const locations = await this.#things<Location>('listings', 'location').list({ most: 200 });
        const location = named(locations, act.location);
        const person = await this.#person(act.by);
        const review: Review = { stars: act.stars, text: act.text, name: act.by, reply: null };
        return this.#things<Review>('listings', 'review').add(review, now, { parent: location.id, owner: person.id });
      }
      case 'booking': {
        const type = named(await this.#things<EventType>('bookings', 'type').list({ most: 200 }), act.type);
        const email = `${act.by.toLowerCase().replace(/[^a-z]+/g, '.')}@visitors.example`;
        const body: Booking = {
          invitee: act.by,
          email,
          startsAt: now + act.startsIn,
          note: act.note,
          cancelled: false,
        };
        const id = await this.#things<Booking>('bookings', 'booking').add(body, now, { parent: type.id });
        if (isNews) await tellBooking(this.#lagoon, 'booking.created', id);
        return id;
      }
      case 'record': {
        const queue = named(await this.#things<Queue>('helpdesk', 'queue').list({ most: 200 }), act.queue);
        const { summary, details, place, priority } = act;
        const body: HelpRecord = { summary, details, place, priority, status: 'open', custom: {} };
        const id = await this.#things<HelpRecord>('helpdesk', 'record').add(body, now, { parent: queue.id });
        if (isNews) await tellRecord(this.#lagoon, 'record.opened', id);
        return id;
      }
      case 'row': {
        const tab = named(await this.#things<Tab>('sheets', 'tab').list({ most: 200 }), act.tab);
        const cells = typed(tab.body, act.cells);
        const id = await this.#things<SheetRow>('sheets', 'row').add({ cells }, now, { parent: tab.id });
        if (isNews) tellRows(this.#lagoon, tab.id, id, 'added');
        return id;
      }
      case 'note': {
        const store = new MicroStore(this.#lagoon);
        const profile = need(await store.profiles.byKey(act.profile), act.profile);
        const of = act.of ? await store.profiles.byKey(act.of) : undefined;
        const [last] = of
          ? (await store.notes.list({ parent: of.id, most: 100 })).filter((each) => each.createdAt < now)
          : [];
        const sort = act.sort !== 'original' && last ? act.sort : 'original';
        return store.write(profile.id, { sort, text: act.text, of: sort === 'original' ? null : last!.id }, at);
      }
    }
  }

  async #profile(handle: string) {
    return need(await this.#photos.profiles.byKey(handle), handle);
  }
}

function need<T>(found: T | undefined, name: string): T {
  if (found === undefined) throw Object.assign(new Error(`There is nothing called ${name}.`), { status: 404 });
  return found;
}

function named<B extends { name: string }>(all: Thing<B>[], name: string): Thing<B> {
  return need(
    all.find((each) => each.body.name === name),
    name,
  );
}
