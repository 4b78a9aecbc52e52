import type { Lagoon } from '../base/lagoon.ts';
import { tell } from '../base/tells.ts';
import { Things, type Thing } from '../base/things.ts';

export interface MicroProfile {
  handle: string;
  name: string;
  about: string;
}
export interface Note {
  sort: 'original' | 'repost' | 'quote' | 'reply';
  text: string;
  /** The note that is reposted, quoted or replied to. */
  of: number | null;
  /** The profiles that like it. */
  likes?: number[];
}
/** Somebody calls a profile by its name, or answers or quotes what it wrote: kept by that profile. */
export interface Mention {
  note: number;
}

/** Names that are called: "@harbourmaster". What follows a letter, as in an address of mail, is none. */
export const MENTIONS = /(?<![\p{L}\p{N}_.@/])@[\p{L}\p{N}_][\p{L}\p{N}_.]*/gu;

/** What Lagoon Microblog holds, and whom it tells. */
export class MicroStore {
  readonly profiles: Things<MicroProfile>;
  readonly notes: Things<Note>;
  readonly mentions: Things<Mention>;
  readonly #lagoon: Lagoon;

  constructor(lagoon: Lagoon) {
    this.#lagoon = lagoon;
    this.profiles = new Things(lagoon, 'microblog', 'profile');
    this.notes = new Things(lagoon, 'microblog', 'note');
    this.mentions = new Things(lagoon, 'microblog', 'mention');
  }

  /**
   * Writes a note, and notes whom it mentions.
   *
   * @param at when; what happened in the past is told nobody
   */
  async write(profile: number, note: Note, at?: number): Promise<number> {
    const now = at ?? this.#lagoon.clock.now();
    const id = await this.notes.add(note, now, { parent: profile });
    for (const named of await this.#mentioned(profile, note)) {
      await this.mentions.add({ note: id }, now, { parent: named });
      if (at !== undefined) continue;
      const event = { topic: 'mentions', profile: String(named), note: String(id) };
      tell(this.#lagoon, { service: 'microblog', topic: 'mentions', about: named, signing: 'standard' }, event);
    }
    return id;
  }

  /** Other profiles whom it calls, and the one whose note it answers or quotes. */
  async #mentioned(author: number, { sort, text, of }: Note): Promise<Set<number>> {
    const found = new Set<number>();
    const about = sort === 'reply' || sort === 'quote' ? await this.notes.get(of) : undefined;
    if (about?.parent) found.add(about.parent);
    for (const [name] of text.matchAll(MENTIONS)) {
      // A full stop after a name ends the sentence.
      const named = await this.profiles.byKey(name.slice(1).replace(/\.+$/, '').toLowerCase());
      if (named) found.add(named.id);
    }
    found.delete(author);
    return found;
  }

  /** The notes that mention a profile, newest first, each with its author and what it is about. */
  async mentioning(profile: number, before: number | undefined, most: number) {
    const found = await this.mentions.list({ parent: profile, before, most });
    const notes = await Promise.all(
      found.map(async (mention) => {
        const note = await this.notes.get(mention.body.note);
        const author = note && (await this.profiles.get(note.parent));
        return note && author ? [{ note, author, of: await this.aboutOf(note) }] : [];
      }),
    );
    return { notes: notes.flat(), next: found.length === most ? found.at(-1)!.id : null };
  }

  /** The note that another answers, quotes or repeats. */
  async aboutOf(note: Thing<Note>): Promise<Thing<Note> | undefined> {
    return note.body.of === null ? undefined : this.notes.get(note.body.of);
  }

  /** What a profile has answered to a note, newest first. Its own newest are enough to look through. */
  async answersBy(profile: number, note: number): Promise<Thing<Note>[]> {
    const own = await this.notes.list({ parent: profile, most: 300 });
    return own.filter(({ body }) => body.sort === 'reply' && body.of === note);
  }
}
