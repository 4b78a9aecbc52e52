import type { Answer } from '../base/answers.ts';
import type { Lagoon } from '../base/lagoon.ts';
import type { Person } from '../base/people.ts';
import { Things, type Thing } from '../base/things.ts';
import type { Post } from './store.ts';

export interface PageComment extends Answer {
  post: number;
  text: string;
  by: Person;
}

/** Comments under posts, kept by page. */
export class PageComments {
  readonly #things: Things<PageComment>;
  readonly #lagoon: Lagoon;

  constructor(lagoon: Lagoon) {
    this.#lagoon = lagoon;
    this.#things = new Things(lagoon, 'pages', 'comment');
  }

  add(post: Post, by: Person, text: string, answer: Answer): Promise<number> {
    const body = { post: post.id, text, by, ...answer };
    return this.#things.add(body, this.#lagoon.clock.now(), { parent: post.page_id });
  }

  ofPage(page: number, before: number | undefined, most: number): Promise<Thing<PageComment>[]> {
    return this.#things.list({ parent: page, before, most });
  }

  async on(post: number): Promise<Thing<PageComment>[]> {
    // Few posts here have many comments; the page's newest are enough to look through.
    const rows = await this.#things.list({ most: 1000 });
    return rows.filter((each) => each.body.post === post).reverse();
  }

  get(id: unknown): Promise<Thing<PageComment> | undefined> {
    return this.#things.get(id);
  }
}
