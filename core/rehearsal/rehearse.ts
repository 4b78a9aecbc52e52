import { advanceInPlace, type Advanced, type Context } from '../engine/advance.ts';
import { chanceOf } from '../engine/chance.ts';
import type { Trace } from '../model/cells.ts';
import type { Effect } from '../model/effects.ts';
import { reachesPeople } from '../model/acts.ts';
import type { PassageEvent } from '../engine/scope.ts';
import { compile, type Program } from '../engine/program.ts';
import { askerOf } from '../engine/slots.ts';
import { nextWake, passagesIn } from '../model/state.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { Places, type Reason } from '../timetable/earliest.ts';
import { pacedTime, paceScopes } from '../timetable/pace.ts';
import { placeable } from '../timetable/placing.ts';
import { NO_TIMETABLE } from '../timetable/timetable.ts';
import type { Definition } from '../workflow/definition.ts';
import type { World } from '../model/world.ts';
import { EventQueue } from './queue.ts';
import { keyOf, VirtualTables } from './virtual.ts';
import { wouldBe, momentOf, hasAsked, endOf, before, type PastItem, type VirtualRun } from './virtual-run.ts';

/** What would have become of one item. */
export interface Rehearsed {
  item: number;
  /** waiting: for others or for a moment after the last item, or behind another run. */
  outcome: 'done' | 'stopped' | 'held' | 'waiting';
  /** The step where it ended; null when it went all the way. */
  endedAt: string | null;
  trace: Trace;
}

/**
 * The rehearsal driver: runs the interpreter over past items in order of time, on a clock that jumps from one event to
 * the next. Outlets are pretended and take whatever they are given at once; what is held stays held, since nobody is
 * there to decide, but a question put on purpose counts as answered with yes.
 *
 * Items come out as soon as it is known what becomes of them, which need not be the order they went in.
 *
 * @param how.comparable wordings do not depend on the items before, so that two versions can be compared
 * @param how.noticed when an item counts as noticed, milliseconds since 1970 UTC; when it appeared, if left out
 */
export function* rehearse(
  definition: Definition,
  world: World,
  items: readonly PastItem[],
  { comparable = false, noticed = momentOf }: { comparable?: boolean; noticed?: (item: PastItem) => number } = {},
): Generator<Rehearsed, void> {
  const program = compile(definition, world);
  const rehearsal = new Rehearsal(program, comparable);
  const begins = items.map((item) => ({ item, at: beginsAt(program, item, noticed(item)) }));
  for (const { item, at } of begins.sort((a, b) => a.at - b.at || a.item.id - b.item.id)) {
    rehearsal.until(at);
    rehearsal.begin(item, at);
    // Handed out in turn, so that whoever listens can stop at any item.
    if (rehearsal.told.length > 0) for (const told of rehearsal.told.splice(0)) yield told;
  }
  rehearsal.finish();
  yield* rehearsal.told;
}

/** One item through a program by itself, as a rehearsal shows it. */
export function rehearseItem(program: Program, item: PastItem, now: number): Rehearsed {
  const rehearsal = new Rehearsal(program);
  rehearsal.begin(item, beginsAt(program, item, now));
  if (rehearsal.told.length === 0) rehearsal.finish();
  return rehearsal.told[0]!;
}

/** When an item starts the workflow: as soon as it is noticed, or once the condition holds that is waited for. */
function beginsAt(program: Program, item: PastItem, noticed: number): number {
  return program.sources.get(item.watch)?.comesAt?.(item.fields, noticed) ?? noticed;
}

type Perform = Extract<Effect, { do: 'perform' }>;

class Rehearsal {
  /** What has become of items, as soon as it is known. */
  readonly told: Rehearsed[] = [];
  readonly #program: Program;
  readonly #tables: VirtualTables;
  readonly #queue = new EventQueue<{ run: VirtualRun; event: 'woke' | 'settled' }>();
  readonly #open = new Set<VirtualRun>();
  /** Runs that may not begin yet. */
  #behind: VirtualRun[] = [];
  /** When something was last sent, by scope. */
  readonly #paced = new Map<string, number>();
  /** What goes out where. */
  readonly #places = new Map<number, Places>();
  #runs = 0;
  readonly #gated: boolean;
  readonly #hasPace: boolean;

  constructor(program: Program, comparable = false) {
    this.#program = program;
    this.#tables = new VirtualTables(program.zone, comparable);
    const { atOnce, inOrder, pace } = program.settings;
    this.#gated = atOnce !== null || inOrder !== null;
    this.#hasPace = Object.values(pace).some((each) => each !== null);
  }

  begin(item: PastItem, now: number): void {
    const { inOrder } = this.#program.settings;
    const order = inOrder === null ? null : fieldText(readField(item.fields, inOrder));
    const run: VirtualRun = { number: this.#runs++, item, state: null, trace: {}, order, told: false };
    if (this.#gated && !this.#mayBegin(run)) return void this.#behind.push(run);
    this.#take(run, { type: 'arrived' }, now);
  }

  /** Everything that happens before a moment. */
  until(moment: number): void {
    for (let next = this.#queue.next; next !== null && next < moment; next = this.#queue.next) {
      const { at, what } = this.#queue.take()!;
      if (!this.#open.has(what.run)) continue;
      this.#take(what.run, what.event === 'woke' ? { type: 'woke' } : { type: 'pretended', at }, at);
    }
  }

  /** Lets time pass until nothing more happens by itself. */
  finish(): void {
    this.until(Infinity);
    for (const run of [...this.#open, ...this.#behind]) if (!run.told) this.#tell(run);
    this.#open.clear();
    this.#behind = [];
  }

  #mayBegin(run: VirtualRun): boolean {
    const { atOnce } = this.#program.settings;
    let active = 0;
    for (const other of this.#open) {
      if (run.order && other.order === run.order) return false;
      // What waits for a person takes up no room.
      if (other.state?.status !== 'held') active++;
    }
    if (run.order && this.#behind.some((other) => other !== run && other.order === run.order && before(other, run)))
      return false;
    return atOnce === null || active < atOnce;
  }

  #take(run: VirtualRun, first: PassageEvent, now: number): void {
    const context: Context = { item: run.item, watch: run.item.watch, now, run: 'rehearsal' };
    const asks: Effect[] = [];
    const sent: Perform[] = [];
    let event: PassageEvent | undefined = first;
    while (event) {
      const { state, effects } = this.#advance(run, event, context);
      for (const effect of effects) {
        if (effect.do === 'ask') asks.push(effect);
        else if (effect.do === 'perform' && (this.#hasPace || effect.placing || this.#hasTimetable(effect)))
          sent.push(effect);
      }
      event = undefined;
      const ask = asks.shift();
      if (ask?.do === 'ask') {
        const answer = this.#tables.answer(ask.ask, now, `${run.number}.${askerOf(ask.key)}`);
        if (ask.ask.of === 'join' && answer.of === 'join')
          this.#wakeCarrier(ask.ask, ask.ask.byLast ? now : answer.closesAt, run, now);
        event = { type: 'answered', key: ask.key, answer };
      } else if ((state.status === 'waiting' || state.status === 'held') && hasAsked(state)) {
        const settledAt = sent.length > 0 ? this.#place(run, sent.splice(0), now) : now;
        if (settledAt > now) this.#queue.put(settledAt, { run, event: 'settled' });
        else event = { type: 'pretended', at: now };
      }
    }
    const state = run.state!;
    if (state.status === 'done' || state.status === 'stopped') {
      this.#open.delete(run);
      this.#tell(run);
      this.#release(now);
      return;
    }
    this.#open.add(run);
    const wake = nextWake(state);
    if (wake !== null) this.#queue.put(Math.max(wake, now), { run, event: 'woke' });
    else if (state.status === 'held' && !hasAsked(state)) {
      // Nobody is there to decide.
      if (!run.order) this.#open.delete(run);
      this.#tell(run);
      this.#release(now);
    }
  }

  #advance(run: VirtualRun, event: PassageEvent, context: Context): Advanced {
    const result = advanceInPlace(this.#program, run.state, event, context);
    run.state = result.state;
    for (const place in result.trace) run.trace[place] = wouldBe(result.trace[place]!);
    return result;
  }

  /** Somebody joined what another run carries, so that it may be complete earlier or later. */
  #wakeCarrier(joined: { step: string; group: string }, closesAt: number | null, run: VirtualRun, now: number): void {
    if (closesAt === null) return;
    for (const other of this.#open) {
      if (other === run || !other.state) continue;
      for (const { wait } of passagesIn(other.state.root)) {
        if (wait?.for !== 'others' || wait.ask.of !== 'close' || keyOf(wait.ask) !== keyOf(joined)) continue;
        wait.until = closesAt;
        this.#queue.put(Math.max(closesAt, now), { run: other, event: 'woke' });
      }
    }
  }

  #release(now: number): void {
    if (!this.#gated) return;
    for (const run of [...this.#behind]) {
      if (!this.#behind.includes(run) || !this.#mayBegin(run)) continue;
      this.#behind = this.#behind.filter((each) => each !== run);
      this.#take(run, { type: 'arrived' }, now);
    }
  }

  /** Places what is sent in time; returns when the last of it is through. */
  #place(run: VirtualRun, sent: readonly Perform[], now: number): number {
    let last = now;
    let before: number | null = null;
    for (const effect of sent) {
      if (!reachesPeople(effect.action)) continue;
      const { at, why } = this.#momentFor(run, effect, before, now);
      const cell = run.trace[effect.place];
      if (cell?.kind === 'posts')
        for (const post of cell.posts)
          if (post.outlet === effect.outlet) {
            post.at = at;
            if (why) post.kept = why;
          }
      if (effect.action === 'publish') before = at;
      last = Math.max(last, at);
    }
    return last;
  }

  /** When something that is sent goes out. */
  #momentFor(run: VirtualRun, effect: Perform, before: number | null, now: number): { at: number; why: Reason | null } {
    const { outlet, placing } = effect;
    const paced = placing && placing.when !== 'now' ? now : this.#pacedFor(run, effect, now);
    if (outlet === null || effect.action !== 'publish') return { at: paced, why: null };
    const asked = placeable(placing, { now: paced, before });
    if (asked.at !== null) {
      this.#placesAt(outlet, now).take({ at: asked.at, slot: null });
      return { at: asked.at, why: null };
    }
    if (!placing && !this.#hasTimetable(effect)) return { at: paced, why: null };
    const places = this.#placesAt(outlet, asked.from);
    const found = places.find(asked.next, asked.from) ?? { at: asked.from, slot: null, why: null };
    places.take(found);
    return found;
  }

  #placesAt(outlet: number, from: number): Places {
    let places = this.#places.get(outlet);
    if (!places) {
      const { zone, hours } = this.#program;
      const timetable = this.#program.timetableOf(outlet) ?? NO_TIMETABLE;
      this.#places.set(outlet, (places = new Places({ timetable, zone, hours, taken: [], from })));
    }
    return places;
  }

  #hasTimetable({ outlet, action }: Perform): boolean {
    return action === 'publish' && outlet !== null && this.#program.timetableOf(outlet) !== undefined;
  }

  /** When the workflow's pace lets something go. */
  #pacedFor(run: VirtualRun, effect: Perform, now: number): number {
    const { pace } = this.#program.settings;
    const account = effect.outlet === null ? undefined : this.#program.accountOf(effect.outlet);
    const scopes = paceScopes(pace, effect.outlet, account ?? null);
    const chance = chanceOf(`${run.item.identity}\n${effect.place}\npace`);
    let at = now;
    for (const [scope, rule] of scopes) at = Math.max(at, pacedTime(rule, this.#paced.get(scope) ?? null, now, chance));
    for (const [scope] of scopes) this.#paced.set(scope, at);
    return at;
  }

  #tell(run: VirtualRun): void {
    run.told = true;
    const { item, state, trace } = run;
    const outcome = state && state.status !== 'cancelled' ? state.status : 'waiting';
    this.told.push({ item: item.id, outcome, endedAt: state ? endOf(state, trace) : null, trace });
  }
}
