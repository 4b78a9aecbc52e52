// What a run has come to know, for going through its steps again when the thing it is about has changed: what was done
// is not done again, what a person said is not asked again about the same words, and a wait goes on rather than begin
// anew.
import type { ActCell, PostCell, Trace } from './cells.ts';
import type { Outcome } from './acts.ts';
import { slotsIn, type RunState, type Slot } from './state.ts';

/** Why a run cannot be gone through again: part of it went out for elements that are no longer the same. */
export class CannotGoAgain extends Error {
  override name = 'CannotGoAgain';
}

/** What is known of acts, by `place` and `target` as in their keys. */
type KnownAct = Pick<Slot, 'action' | 'key' | 'status' | 'generation'> & {
  outcome?: Outcome | undefined;
  says?: string | undefined;
  trouble?: Slot['trouble'];
  /** With what it was asked for, where that is still known whole. */
  whole?: Slot | undefined;
  text?: string | undefined;
};

/** What is known of one run. */
export class Known {
  readonly #acts = new Map<string, KnownAct>();
  readonly #trace: Trace;
  readonly #yes: RunState['yes'];

  /**
   * @param outcomes of what was done, by key, as far as they are still kept
   * @param takenBack keys of acts that were asked for and will not be done now
   */
  constructor(state: RunState, trace: Trace, outcomes: ReadonlyMap<string, Outcome>, takenBack: ReadonlySet<string>) {
    this.#trace = trace;
    this.#yes = state.yes;
    const slots = new Map(slotsIn(state).map((slot) => [slot.key, slot]));
    for (const cell of Object.values(trace)) {
      const entries: readonly (PostCell | ActCell)[] =
        cell.kind === 'posts' ? cell.posts : cell.kind === 'acts' ? cell.acts : [];
      for (const entry of entries) {
        if (entry.key === undefined) continue;
        const slot = slots.get(entry.key);
        const outcome = outcomes.get(entry.key) ?? slot?.outcome;
        const known = knownOf(entry, slot, outcome, takenBack);
        if (known) this.#acts.set(addressOf(entry.key), known);
      }
    }
  }

  /** Whether something was done, or may yet be, that nobody can take back. */
  get acted(): boolean {
    return [...this.#acts.values()].some((act) => act.status === 'done' || act.status === 'asked');
  }

  /** Whether a key is one that an act already has. */
  has(key: string): boolean {
    return this.#acts.get(addressOf(key))?.key === key;
  }

  /** The act as it stands, where one like `planned` has been asked for before at the same place. */
  slot(planned: Slot, place: string): Slot | undefined {
    if (planned.action === 'hold') return this.#answered(planned, place);
    const known = this.#acts.get(addressOf(planned.key));
    if (known?.action !== planned.action) return undefined;
    const { key, status, generation, outcome, says, trouble, whole, text } = known;
    const input = whole?.input ?? (text === undefined ? planned.input : { ...planned.input, text });
    return { ...planned, ...whole, key, status, generation, outcome, says, trouble, input } as Slot;
  }

  /** A yes holds for the words it was given to. */
  #answered(planned: Slot, place: string): Slot | undefined {
    const yes = this.#yes?.[place];
    if (!yes || planned.action !== 'hold' || planned.input.text === null || yes.asked !== planned.input.text)
      return undefined;
    const outcome: Outcome = { remoteId: '', url: null, at: yes.at };
    if (yes.given !== null) outcome.result = { text: yes.given };
    return { ...planned, status: 'done', outcome, says: undefined, trouble: undefined };
  }

  /** Until when a wait that counts from its beginning lasts. */
  until(place: string): number | undefined {
    const cell = this.#trace[place];
    return cell?.kind === 'waits' ? (cell.until ?? undefined) : undefined;
  }

  /** Which of several wordings was taken, from 0. */
  turn(place: string): number | undefined {
    const cell = this.#trace[place];
    return cell?.kind === 'text' && cell.variant ? cell.variant[0] - 1 : undefined;
  }

  /**
   * Makes sure that what was done for elements was done for these.
   *
   * @throws CannotGoAgain
   */
  checkElements(place: string, labels: readonly string[]): void {
    const cell = this.#trace[place];
    if (cell?.kind !== 'elements' || JSON.stringify(cell.labels) === JSON.stringify(labels)) return;
    const step = place.split('#')[0]!;
    // Acts inside name their element behind the step: whichever For each it was, the numbers are no longer theirs.
    if ([...this.#acts.keys()].some((address) => address.includes('#')))
      throw new CannotGoAgain(`What ${step} goes through has changed after part of it went out.`);
  }

  /** Cells of places with something that was done or is on its way, for those the run no longer comes to. */
  get cellsOfActs(): Trace {
    const places = new Set(
      [...this.#acts].flatMap(([address, { status }]) =>
        status === 'done' || status === 'asked' ? [address.slice(0, address.indexOf('\n'))] : [],
      ),
    );
    return Object.fromEntries(Object.entries(this.#trace).filter(([place]) => places.has(place)));
  }
}

/** Place and target of a key, which stay the same in every generation. */
function addressOf(key: string): string {
  const [, place = '', target = ''] = key.split('.');
  return `${place}\n${target}`;
}

function knownOf(
  entry: PostCell | ActCell,
  slot: Slot | undefined,
  outcome: Outcome | undefined,
  takenBack: ReadonlySet<string>,
): KnownAct | undefined {
  const { key = '', status, says, trouble } = entry;
  const action = ('action' in entry ? entry.action : 'publish') as Slot['action'];
  const generation = Number(key.slice(key.lastIndexOf('.') + 1)) || 1;
  // What was sent is shown in the words in which it went, whatever the item says now.
  const whole = slot ?? ('card' in entry ? wholeOf(entry, generation) : undefined);
  const known = { action, key, generation, whole, text: entry.text };
  switch (status) {
    case 'posted':
    case 'done':
      return {
        ...known,
        status: 'done',
        outcome: outcome ?? { remoteId: '', url: entry.url ?? null, at: entry.at },
      };
    case 'skipped':
    case 'failed':
      return { ...known, status, says, trouble };
    case 'held':
      // Nobody knows whether it went out: only a person settles that.
      return trouble === 'unknown' ? { ...known, status, says, trouble } : undefined;
    case 'sending':
    case 'doing':
      return takenBack.has(key) ? undefined : { ...known, status: 'asked' };
    default:
      return undefined;
  }
}

function wholeOf(post: PostCell, generation: number): Slot {
  const { key = '', outlet, text, card, more, length, limit, left, cut } = post;
  const input = { text, card, ...more };
  return { key, outlet, action: 'publish', input, length, limit, left, cut, generation, status: 'done' };
}
