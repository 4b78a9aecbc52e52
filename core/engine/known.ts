// What a run has come to know, for going through its steps again when the thing it is about has changed: what was done
// is not done again, what a person said is not asked again about the same words, and a wait goes on rather than begin
// anew. It is kept with the run until each of its steps has been come to again: an answer may take its time on the way.
import type { Outcome } from '../model/acts.ts';
import type { ActCell, PostCell, Trace } from '../model/cells.ts';
import type { KnownAct, Memory } from '../model/memory.ts';
import { askedBy } from './slots.ts';
import { slotsIn, type RunEvent, type RunState, type Slot } from '../model/state.ts';

/** Why a run cannot be gone through again: part of it went out for elements that are no longer the same. */
export class CannotGoAgain extends Error {
  override name = 'CannotGoAgain';
}

/**
 * What is known of a run that is about to be gone through again.
 *
 * @param outcomes of what was done, by key, as far as they are still kept
 * @param takenBack keys of acts that were asked for and will not be done now
 */
export function memoryOf(
  state: RunState,
  trace: Trace,
  outcomes: ReadonlyMap<string, Outcome>,
  takenBack: ReadonlySet<string>,
): Memory {
  const memory: Memory = structuredClone(state.memory ?? { acts: {}, waits: {}, rotations: {} });
  // What is taken back now is on its way no longer, whether or not the trace still tells of it. Taken for still on its way,
  // it would be waited for without end.
  for (const [address, { key, status }] of Object.entries(memory.acts))
    if (status === 'planned' && takenBack.has(key)) delete memory.acts[address];
  const slots = new Map(slotsIn(state).map((slot) => [slot.key, slot]));
  for (const [place, cell] of Object.entries(trace)) {
    if (cell.kind === 'waits' && cell.until !== null) memory.waits[place] = cell.until;
    if (cell.kind === 'text' && cell.variant) memory.rotations[place] = cell.variant[0] - 1;
    const entries: readonly (PostCell | ActCell)[] =
      cell.kind === 'posts' ? cell.posts : cell.kind === 'acts' ? cell.acts : [];
    for (const entry of entries) {
      if (entry.key === undefined) continue;
      const slot = slots.get(entry.key);
      // The run has yet to come to it again: what came of it meanwhile the memory knows.
      if (isOnItsWay(entry) && (!slot || takenBack.has(entry.key))) continue;
      const known = knownOf(entry, slot, outcomes.get(entry.key) ?? slot?.outcome, takenBack);
      if (known) memory.acts[addressOf(entry.key)] = known;
    }
  }
  return memory;
}

const isOnItsWay = ({ status }: PostCell | ActCell) => status === 'planned';

/** What is known of one run while it takes an event. Acts that it comes to leave the memory. */
export class Known {
  readonly memory: Memory;
  readonly #yes: RunState['yes'];
  /** Keys of acts that were known when the run came to them. */
  readonly #met = new Set<string>();
  /** What the elements were that acts were done for, by place; null when they are no longer looked at. */
  readonly #elements: ReadonlyMap<string, readonly string[]> | null;

  constructor(memory: Memory, yes: RunState['yes'], trace: Trace | null) {
    this.memory = memory;
    this.#yes = yes;
    this.#elements = trace && elementsIn(trace);
  }

  /** Whether a key is one that an act had before the run came to it. */
  has(key: string): boolean {
    return this.#met.has(key);
  }

  /** The act as it stands, where one like `planned` has been asked for before at the same place. */
  slot(planned: Slot, place: string): Slot | undefined {
    if (planned.action === 'hold') return this.#answered(planned, place);
    const address = addressOf(planned.key);
    const known = this.memory.acts[address];
    if (known?.action !== planned.action) return undefined;
    delete this.memory.acts[address];
    // An answer to another question is none.
    if (known.asked !== undefined && known.asked !== askedBy(planned)) return undefined;
    this.#met.add(known.key);
    const { key, status, generation, outcome, says, trouble, text, length } = known;
    const input = known.input ?? (text === undefined ? planned.input : { ...planned.input, text });
    // It is shown in the words in which it went, whatever the item says now.
    return {
      ...planned,
      key,
      status,
      generation,
      outcome,
      says,
      trouble,
      input,
      length: length ?? planned.length,
    } as Slot;
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
    return this.memory.waits[place];
  }

  /** Which of several wordings was taken, from 0. */
  rotation(place: string): number | undefined {
    return this.memory.rotations[place];
  }

  /**
   * Makes sure that what was done for elements was done for these.
   *
   * @throws CannotGoAgain
   */
  checkElements(place: string, labels: readonly string[]): void {
    const before = this.#elements?.get(place);
    if (!before || JSON.stringify(before) === JSON.stringify(labels)) return;
    if (this.#hasInside()) throw new CannotGoAgain(`What ${place} goes through has changed after part of it went out.`);
  }

  /**
   * Makes sure that nothing done for elements is left over: their numbers could mean others by the time the run comes
   * there.
   *
   * @throws CannotGoAgain
   */
  checkRest(): void {
    if (this.#hasInside()) throw new CannotGoAgain('Part of it went out for elements that are not come to again.');
  }

  /** Whether acts are known inside a For each: their addresses name the element behind the step. */
  #hasInside(): boolean {
    return Object.keys(this.memory.acts).some((address) => address.includes('#'));
  }
}

/**
 * Cells of what was done or is on its way, for places that the run has yet to come to again, or never will. What was
 * taken back is no longer in them.
 */
export function cellsOfActs(memory: Memory, trace: Trace): Trace {
  const keys = new Set(
    Object.values(memory.acts).flatMap(({ key, status }) => (status === 'done' || status === 'planned' ? [key] : [])),
  );
  const isKnown = ({ key }: { key?: string | undefined }) => key !== undefined && keys.has(key);
  const cells: Trace = {};
  for (const [place, cell] of Object.entries(trace)) {
    if (cell.kind === 'posts' && cell.posts.some(isKnown))
      cells[place] = { ...cell, posts: cell.posts.filter(isKnown) };
    if (cell.kind === 'acts' && cell.acts.some(isKnown)) cells[place] = { ...cell, acts: cell.acts.filter(isKnown) };
  }
  return cells;
}

/**
 * What has become of an act that the run has yet to come to again.
 *
 * @returns whether the event was about one
 */
export function remember(memory: Memory | undefined, event: RunEvent): boolean {
  if (!memory || !('key' in event)) return false;
  const address = addressOf(event.key);
  const known = memory.acts[address];
  if (known?.key !== event.key) return false;
  if (event.type === 'done') memory.acts[address] = { ...known, status: 'done', outcome: event.outcome };
  // What did not go out is planned anew once the run comes there; what may have is a person's to settle.
  else if (event.type === 'failed' && event.unknown)
    memory.acts[address] = { ...known, status: 'held', says: event.says, trouble: 'unknown' };
  else if (event.type === 'failed' || event.type === 'outdated') delete memory.acts[address];
  else return false;
  return true;
}

/** Place and target of a key, which stay the same in every generation. */
function addressOf(key: string): string {
  const [, place = '', target = ''] = key.split('.');
  return `${place}\n${target}`;
}

function elementsIn(trace: Trace): Map<string, string[]> {
  return new Map(
    Object.entries(trace).flatMap(([place, cell]) => (cell.kind === 'elements' ? [[place, cell.labels] as const] : [])),
  );
}

function knownOf(
  entry: PostCell | ActCell,
  slot: Slot | undefined,
  outcome: Outcome | undefined,
  takenBack: ReadonlySet<string>,
): KnownAct | undefined {
  const { key = '', status, says, trouble } = entry;
  const action = 'action' in entry ? entry.action : 'publish';
  const generation = Number(key.slice(key.lastIndexOf('.') + 1)) || 1;
  const input = slot?.input ?? ('card' in entry ? { text: entry.text, card: entry.card, ...entry.more } : undefined);
  const asked = 'asked' in entry ? entry.asked : undefined;
  const known = { action, key, generation, input, text: entry.text, length: entry.length, asked };
  switch (status) {
    case 'posted':
    case 'done':
      return { ...known, status: 'done', outcome: outcome ?? { remoteId: '', url: entry.url ?? null, at: entry.at } };
    case 'skipped':
    case 'failed':
      return { ...known, status, says, trouble };
    case 'held':
      // Nobody knows whether it went out: only a person settles that.
      return trouble === 'unknown' ? { ...known, status, says, trouble } : undefined;
    case 'planned':
      return takenBack.has(key) ? undefined : { ...known, status };
    default:
      return undefined;
  }
}
