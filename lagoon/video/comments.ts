import { createHash } from 'node:crypto';
import type { Answer } from '../base/answers.ts';
import type { Lagoon } from '../base/lagoon.ts';
import type { Person } from '../base/people.ts';
import { Things, type Thing } from '../base/things.ts';
import { videoBy } from './store.ts';

export interface FilmComment extends Answer {
  film: string;
  text: string;
  by: Person;
}

/** Comments on films, kept by channel. */
export class VideoComments {
  readonly #things: Things<FilmComment>;
  readonly #lagoon: Lagoon;

  constructor(lagoon: Lagoon) {
    this.#lagoon = lagoon;
    this.#things = new Things(lagoon, 'video', 'comment');
  }

  /** The channel's number among things; its own name is not one. */
  static #numberOf(channel: string): number {
    return Number.parseInt(createHash('sha256').update(channel).digest('hex').slice(0, 12), 16);
  }

  async add(film: string, by: Person, text: string, at: number, answer: Answer = { under: null }): Promise<number> {
    const video = await videoBy(this.#lagoon.db, film, Number.MAX_SAFE_INTEGER);
    if (!video) throw Object.assign(new Error('There is no such film.'), { status: 404 });
    return this.#things.add({ film, text, by, ...answer }, at, { parent: VideoComments.#numberOf(video.channel_id) });
  }

  onChannel(channel: string, before: number | undefined, most: number): Promise<Thing<FilmComment>[]> {
    return this.#things.list({ parent: VideoComments.#numberOf(channel), before, most });
  }

  async onFilm(film: string, channel: string): Promise<Thing<FilmComment>[]> {
    return (await this.onChannel(channel, undefined, 500)).filter((each) => each.body.film === film).reverse();
  }

  get(id: unknown): Promise<Thing<FilmComment> | undefined> {
    return this.#things.get(id);
  }
}
