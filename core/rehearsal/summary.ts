import { stepOf, type PostCell } from '../engine/cells.ts';
import type { Definition } from '../workflow/definition.ts';
import { allSteps } from '../workflow/tree.ts';
import { ONCE } from '../engine/program.ts';
import type { Rehearsed } from './rehearse.ts';

/** A rehearsal in numbers, for the strip above the sheet. Kept up item by item, so it can be shown while it grows. */
export interface Summary {
  items: number;
  /** Posts that would go out. */
  posts: number;
  outlets: number;
  /** Items stopped, by the source or step that stopped them, in the order of the sheet. */
  stops: { step: string; count: number }[];
  tooLong: number;
  emptyCaption: number;
  /** Items in which a field that a caption uses says nothing, by field. */
  emptyFields: { field: string; count: number }[];
  /** Posts whose words and card went to the same outlet before. */
  repeats: number;
  /** Items that went into a gathering which another one carries on. */
  joined: number;
  /** Items that still wait when nothing more happens by itself. */
  waiting: number;
}

const ONCE_ROW = { id: ONCE };

/** Adds up rehearsed items. */
export class Summing {
  readonly #definition: Definition;
  readonly #stops = new Map<string, number>();
  readonly #empty = new Map<string, number>();
  /** By the words sent, where and under which card. */
  readonly #sent = new Map<string, { outlet: number; card: string | null }[]>();
  readonly #outlets = new Set<number>();
  #items = 0;
  #posts = 0;
  #tooLong = 0;
  #emptyCaption = 0;
  #repeats = 0;
  #joined = 0;
  #waiting = 0;

  constructor(definition: Definition) {
    this.#definition = definition;
  }

  add(rehearsed: Rehearsed): void {
    this.#items++;
    if (rehearsed.outcome === 'waiting') this.#waiting++;
    if (rehearsed.outcome === 'stopped' && rehearsed.endedAt) {
      if (rehearsed.trace[rehearsed.endedAt]?.kind === 'joined') this.#joined++;
      else count(this.#stops, stepOf(rehearsed.endedAt));
    }
    for (const step in rehearsed.trace) {
      const cell = rehearsed.trace[step]!;
      if (cell.off) continue;
      if (cell.kind === 'text') for (const field of cell.empty) count(this.#empty, field);
      if (cell.kind === 'posts') for (const post of cell.posts) this.#addPost(post);
    }
  }

  #addPost(post: PostCell): void {
    if (post.trouble === 'too-long') this.#tooLong++;
    else if (post.trouble === 'empty') this.#emptyCaption++;
    if (post.trouble) return;
    this.#posts++;
    this.#outlets.add(post.outlet);
    const same = this.#sent.get(post.text);
    if (!same) this.#sent.set(post.text, [post]);
    // The same words under another card are another post.
    else if (same.some((other) => other.outlet === post.outlet && other.card === post.card)) this.#repeats++;
    else same.push(post);
  }

  get summary(): Summary {
    return {
      items: this.#items,
      posts: this.#posts,
      outlets: this.#outlets.size,
      stops: [...this.#definition.sources, ONCE_ROW, ...allSteps(this.#definition).map(({ step }) => step)].flatMap(
        ({ id }) => {
          const stopped = this.#stops.get(id);
          return stopped ? [{ step: id, count: stopped }] : [];
        },
      ),
      tooLong: this.#tooLong,
      emptyCaption: this.#emptyCaption,
      emptyFields: [...this.#empty].map(([field, number]) => ({ field, count: number })),
      repeats: this.#repeats,
      joined: this.#joined,
      waiting: this.#waiting,
    };
  }
}

function count(map: Map<string, number>, key: string): void {
  map.set(key, (map.get(key) ?? 0) + 1);
}
