import type { Answer } from '../base/answers.ts';
import type { Lagoon } from '../base/lagoon.ts';
import type { Person } from '../base/people.ts';
import { tell } from '../base/tells.ts';
import { Things, type Thing } from '../base/things.ts';

export interface PhotoProfile {
  handle: string;
  name: string;
  about: string;
  /** Applications may only work with business profiles. */
  type: 'business' | 'personal';
}
export interface Photo {
  picture: string;
  caption: string;
  alt: string;
}
export interface PhotoComment extends Answer {
  text: string;
  by: Person;
  /** Who likes it, by the numbers of people, or of profiles with a minus. */
  likes: number[];
}
export interface DirectMessage {
  /** The person the conversation is with. */
  with: number;
  name: string;
  from: 'them' | 'us';
  text: string;
}

/** What Lagoon Photos holds, and whom it tells. */
export class PhotoStore {
  readonly profiles: Things<PhotoProfile>;
  readonly photos: Things<Photo>;
  readonly comments: Things<PhotoComment>;
  readonly messages: Things<DirectMessage>;
  readonly #lagoon: Lagoon;

  constructor(lagoon: Lagoon) {
    this.#lagoon = lagoon;
    this.profiles = new Things(lagoon, 'photos', 'profile');
    this.photos = new Things(lagoon, 'photos', 'photo');
    this.comments = new Things(lagoon, 'photos', 'comment');
    this.messages = new Things(lagoon, 'photos', 'message');
  }

  #tell(topic: string, about: number, id: number): void {
    const event = { topic, profile: `f${about}`, subject: id, sentAt: this.#lagoon.clock.now() / 1000 };
    tell(this.#lagoon, { service: 'photos', topic, about, signing: 'digest' }, event);
  }

  async comment(photo: Thing<Photo>, by: Person, text: string, under: number | null): Promise<number> {
    const body = { text, by, under, likes: [] };
    const id = await this.comments.add(body, this.#lagoon.clock.now(), { parent: photo.id });
    this.#tell('comments', photo.parent!, id);
    for (const [, handle] of text.matchAll(/@([\w.]{2,40})/g)) {
      const named = await this.profiles.byKey(handle!.toLowerCase());
      if (named) this.#tell('mentions', named.id, id);
    }
    return id;
  }

  /** Somebody writes to a profile. */
  async write(profile: Thing<PhotoProfile>, person: Person, text: string): Promise<number> {
    const body: DirectMessage = { with: person.id, name: person.name, from: 'them', text };
    const id = await this.messages.add(body, this.#lagoon.clock.now(), { parent: profile.id });
    this.#tell('messages', profile.id, id);
    return id;
  }
}
