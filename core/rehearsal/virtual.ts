// The tables a rehearsal keeps instead of a database: who has been through, which wording was last, what is being
// gathered. They answer the interpreter as the live driver does.
import type { Answer, Ask, Closing } from '../model/asks.ts';
import { nextInRotation, steadyChoice } from '../engine/chance.ts';
import { closesAt } from '../engine/gathering.ts';
import type { FieldValue } from '../items/item.ts';

interface Gathering {
  closing: Closing;
  openedAt: number;
  lastAt: number;
  entries: { by: string; value: FieldValue }[];
  /** Who carries it on. */
  carrier: string;
}

/** Whether something that is let through once may go, given when it last did. */
export function isFresh(lastAt: number | undefined, within: number | null, now: number): boolean {
  return lastAt === undefined || (within !== null && now - lastAt >= within * 1000);
}

export class VirtualTables {
  readonly #zone: string;
  readonly #once = new Map<string, number>();
  readonly #rotations = new Map<string, number>();
  readonly #gatherings = new Map<string, Gathering>();

  readonly #comparable: boolean;

  /**
   * @param comparable wordings are chosen by chance alone, whichever was last: two versions of a workflow choose alike for
   *   the same item, and one wording more moves only the items that get it
   */
  constructor(zone: string, comparable = false) {
    this.#zone = zone;
    this.#comparable = comparable;
  }

  /** @param asker whose ask it is: its run and its place there */
  answer(ask: Ask, now: number, asker: string): Answer {
    switch (ask.of) {
      case 'once': {
        const since = this.#once.get(ask.by);
        const fresh = isFresh(since, ask.within, now);
        if (fresh) this.#once.set(ask.by, now);
        return { of: 'once', fresh, since: since ?? null };
      }
      case 'rotation': {
        if (this.#comparable) return { of: 'rotation', choice: steadyChoice(ask.choices, ask.chance) };
        const choice = nextInRotation(ask.choices, this.#rotations.get(ask.place) ?? null, ask.chance);
        this.#rotations.set(ask.place, choice);
        return { of: 'rotation', choice };
      }
      case 'join':
        return this.#join(ask, now, asker);
      case 'close': {
        const key = keyOf(ask);
        const gathering = this.#gatherings.get(key);
        if (!gathering) return { of: 'close', entries: [], closesAt: null };
        const until = this.#closes(gathering);
        if (gathering.carrier !== asker)
          return { of: 'close', entries: null, closesAt: until, takenOver: gathering.entries.length };
        if (until === null || until > now) return { of: 'close', entries: null, closesAt: until };
        this.#gatherings.delete(key);
        return { of: 'close', entries: gathering.entries.map(({ value }) => value), closesAt: until };
      }
    }
  }

  #join(ask: Extract<Ask, { of: 'join' }>, now: number, asker: string): Answer {
    const key = keyOf(ask);
    let gathering = this.#gatherings.get(key);
    if (!gathering) {
      gathering = { closing: ask.closing, openedAt: now, lastAt: now, entries: [], carrier: asker };
      this.#gatherings.set(key, gathering);
    }
    const before = gathering.entries.find(({ by }) => by === asker);
    if (before) before.value = ask.value;
    else {
      gathering.entries.push({ by: asker, value: ask.value });
      gathering.lastAt = now;
      if (ask.byLast) gathering.carrier = asker;
    }
    const carries = gathering.carrier === asker;
    return { of: 'join', carries, count: gathering.entries.length, closesAt: this.#closes(gathering) };
  }

  #closes({ closing, openedAt, lastAt, entries }: Gathering): number | null {
    return closesAt(closing, { openedAt, lastAt, count: entries.length }, this.#zone);
  }
}

/** What tells one gathering of a workflow from another. */
export const keyOf = (ask: { step: string; group: string }): string => `${ask.step}\n${ask.group}`;
