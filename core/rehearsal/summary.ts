import { lintPost, lintWords, type Lint } from './lints.ts';
import { Likeness, NEARLY_THE_SAME } from '../captions/similar.ts';
import { KIND_RULES } from '../outlets/kinds.ts';
import { remembering } from '../text/memo.ts';
import { stepOf, type ActCell, type PostCell } from '../model/cells.ts';
import type { Definition } from '../workflow/definition.ts';
import { allSteps } from '../workflow/tree.ts';
import { ONCE } from '../engine/program.ts';
import type { World } from '../model/world.ts';
import type { Rehearsed } from './rehearse.ts';

/** Something said at an outlet lately, by another workflow or by hand. */
export interface RecentPost {
  outlet: number;
  text: string;
}

/** Something that posts could be criticised for, at one outlet. */
export interface LintCount {
  lint: Lint;
  outlet: number;
  step: string;
  count: number;
  /** The greatest likeness found, 0 to 1. */
  likeness?: number;
}

/** A rehearsal in numbers, for the strip above the sheet. Kept up item by item, so it can be shown while it grows. */
export interface Summary {
  items: number;
  /** Posts that would go out. */
  posts: number;
  /** Answers and messages that would be sent. */
  answers: number;
  outlets: number;
  /** Items stopped, by the source or step that stopped them, in the order of the sheet. */
  stops: { step: string; count: number }[];
  tooLong: number;
  /** Posts and answers that are too long, by outlet. */
  tooLongAt: { outlet: number; count: number }[];
  emptyCaption: number;
  /** Posts that have words and miss something else that their outlet asks for: a title, a picture. */
  incomplete: number;
  /** What posts could be criticised for; only where the outlets are known. */
  lints: LintCount[];
  /** Items in which a field that a caption uses says nothing, by field. */
  emptyFields: { field: string; count: number }[];
  /** Posts whose words and card went to the same outlet before. */
  repeats: number;
  /** Items that went into a gathering which another one carries on. */
  joined: number;
  /** Items that still wait when nothing more happens by itself. */
  waiting: number;
}

/** A post is compared with so many before it at the same outlet. */
const COMPARED = 40;

const ONCE_ROW = { id: ONCE };

/** Adds up rehearsed items. */
export class Summing {
  readonly #definition: Definition;
  readonly #stops = new Map<string, number>();
  readonly #empty = new Map<string, number>();
  /** By the words sent, where and under which card. */
  readonly #sent = new Map<string, { outlet: number; card: string | null }[]>();
  readonly #outlets = new Set<number>();
  readonly #tooLongAt = new Map<number, number>();
  readonly #lints = new Map<string, LintCount>();
  readonly #said = new Map<number, Likeness[]>();
  /** Steps that send pictures of the items; byCard: also where a card shows one of its own. */
  readonly #pictured = new Map<string, { byCard: boolean }>();
  readonly #world: World | undefined;
  readonly #likenessOf = remembering(500, (text) => new Likeness(text));
  #compared: { of: Likeness | null; to: Map<Likeness, number> } = { of: null, to: new Map() };
  #items = 0;
  #posts = 0;
  #answers = 0;
  #tooLong = 0;
  #emptyCaption = 0;
  #incomplete = 0;
  #repeats = 0;
  #joined = 0;
  #waiting = 0;

  /**
   * @param world with it posts are looked at as a reader at their outlet would
   * @param recent what was said at the outlets lately
   */
  constructor(definition: Definition, world?: World, recent: readonly RecentPost[] = []) {
    this.#definition = definition;
    this.#world = world;
    for (const { step } of allSteps(definition))
      if (step.verb === 'publish') {
        const found = step.media?.filter(({ type, file }) => type === 'picture' && file === undefined) ?? [];
        if (found.length > 0) this.#pictured.set(step.id, { byCard: found.some(({ notByCard }) => !notByCard) });
      }
    for (const { outlet, text } of recent) this.#saidAt(outlet).push(new Likeness(text));
  }

  /** @returns what its posts could be criticised for */
  add(rehearsed: Rehearsed): Set<Lint> {
    this.#items++;
    const found = new Set<Lint>();
    if (rehearsed.outcome === 'waiting') this.#waiting++;
    if (rehearsed.outcome === 'stopped' && rehearsed.endedAt) {
      if (rehearsed.trace[rehearsed.endedAt]?.kind === 'joined') this.#joined++;
      else count(this.#stops, stepOf(rehearsed.endedAt));
    }
    for (const step in rehearsed.trace) {
      const cell = rehearsed.trace[step]!;
      if (cell.off) continue;
      if (cell.kind === 'text') for (const field of cell.empty) count(this.#empty, field);
      if (cell.kind === 'posts') for (const post of cell.posts) this.#addPost(post, stepOf(step), found);
      if (cell.kind === 'acts') for (const act of cell.acts) this.#addAnswer(act, stepOf(step), found);
    }
    return found;
  }

  #addPost(post: PostCell, step: string, found: Set<Lint>): void {
    if (post.trouble === 'too-long') this.#noteTooLong(post.outlet);
    else if (post.trouble === 'empty' && post.text.trim() === '') this.#emptyCaption++;
    else if (post.trouble === 'empty') this.#incomplete++;
    if (post.trouble) return;
    this.#posts++;
    this.#outlets.add(post.outlet);
    this.#lint(post, step, found);
    const same = this.#sent.get(post.text);
    if (!same) this.#sent.set(post.text, [post]);
    // The same words under another card are another post.
    else if (same.some((other) => other.outlet === post.outlet && other.card === post.card)) this.#repeats++;
    else same.push(post);
  }

  /** Answers and messages are no posts, but their words are read all the same. */
  #addAnswer({ action, outlet, text, trouble }: ActCell, step: string, found: Set<Lint>): void {
    if (outlet === null || text === undefined || (action !== 'reply' && action !== 'message')) return;
    if (trouble === 'too-long') this.#noteTooLong(outlet);
    if (trouble) return;
    this.#answers++;
    if (this.#world) for (const lint of lintWords(text)) this.#note(lint, outlet, step, found);
  }
  #noteTooLong(outlet: number): void {
    this.#tooLong++;
    this.#tooLongAt.set(outlet, (this.#tooLongAt.get(outlet) ?? 0) + 1);
  }

  #lint(post: PostCell, step: string, found: Set<Lint>): void {
    const kind = this.#world?.outlets.get(post.outlet)?.kind;
    if (!kind) return;
    for (const lint of lintPost(post, kind)) this.#note(lint, post.outlet, step, found);
    // A step that sends pictures, at an outlet that takes them, and this item had none.
    const pictured = this.#pictured.get(step);
    const { linkCard, media } = KIND_RULES[kind];
    const leftOut = linkCard === 'card' && post.card !== null && !pictured?.byCard;
    if (pictured && !leftOut && media.takes.includes('picture') && !post.more?.media?.length)
      this.#note('no-picture', post.outlet, step, found);
    const said = this.#saidAt(post.outlet);
    const likeness = this.#likenessOf(post.text);
    let most = 0;
    for (const other of said) most = Math.max(most, this.#alike(likeness, other));
    if (most > 0) {
      const entry = this.#note('similar', post.outlet, step, found);
      entry.likeness = Math.max(entry.likeness ?? 0, most);
    }
    said.push(likeness);
    if (said.length > COMPARED) said.shift();
  }
  #note(lint: Lint, outlet: number, step: string, found: Set<Lint>): LintCount {
    found.add(lint);
    const key = `${lint} ${outlet} ${step}`;
    let entry = this.#lints.get(key);
    if (!entry) this.#lints.set(key, (entry = { lint, outlet, step, count: 0 }));
    entry.count++;
    return entry;
  }
  /** How alike, if nearly the same. The same words mostly go to several outlets, and so did those before. */
  #alike(likeness: Likeness, other: Likeness): number {
    if (this.#compared.of !== likeness) this.#compared = { of: likeness, to: new Map() };
    let known = this.#compared.to.get(other);
    if (known === undefined) this.#compared.to.set(other, (known = likeness.atLeast(NEARLY_THE_SAME, other)));
    return known;
  }

  #saidAt(outlet: number): Likeness[] {
    let said = this.#said.get(outlet);
    if (!said) this.#said.set(outlet, (said = []));
    return said;
  }

  get summary(): Summary {
    return {
      items: this.#items,
      posts: this.#posts,
      answers: this.#answers,
      outlets: this.#outlets.size,
      stops: [...this.#definition.sources, ONCE_ROW, ...allSteps(this.#definition).map(({ step }) => step)].flatMap(
        ({ id }) => {
          const stopped = this.#stops.get(id);
          return stopped ? [{ step: id, count: stopped }] : [];
        },
      ),
      tooLong: this.#tooLong,
      tooLongAt: [...this.#tooLongAt].map(([outlet, number]) => ({ outlet, count: number })),
      emptyCaption: this.#emptyCaption,
      incomplete: this.#incomplete,
      lints: [...this.#lints.values()],
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
