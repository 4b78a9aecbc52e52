// When acts of the outbox go out: at once, in the workflow's pace, or where their outlet's timetable has room. Booked
// inside the transaction that stores them, under the lock of the timetable, so that two workers never take the same time.
import { chanceOf } from '@playa/core/engine/chance.ts';
import type { Program } from '@playa/core/engine/program.ts';
import { reachesPeople } from '@playa/core/model/acts.ts';
import type { Effect } from '@playa/core/model/effects.ts';
import { Places, type Found, type Reason } from '@playa/core/timetable/earliest.ts';
import { reflow } from '@playa/core/timetable/reflow.ts';
import { paceScopes } from '@playa/core/timetable/pace.ts';
import { placeable } from '@playa/core/timetable/placing.ts';
import type { Timetable } from '@playa/core/timetable/timetable.ts';
import type { Queryable } from '../db/database.ts';
import { bookPacedTime } from '../store/paces.ts';
import type { Run } from '../store/runs.ts';
import { lockTimetable, moveEffects, placeBefore, queuedAt, takenAt, timetableOr } from '../store/timetables.ts';

type Perform = Extract<Effect, { do: 'perform' }>;

/** Where an act goes. */
export interface Placed {
  dueAt: number;
  /** When it was meant to go, where that is not at once. */
  plannedAt: number | null;
  slot: number | null;
  why: Reason | null;
}

/** How often a run has come to an act: by its key, which is another each time. */
const generationOf = (key: string): number => Number(key.slice(key.lastIndexOf('.') + 1));

/** What is known of an outlet under its lock. */
interface Known {
  timetable: Timetable;
  places: Places;
}

/** Places the acts of one transaction. */
export class Placer {
  readonly #db: Queryable;
  readonly #now: number;
  readonly #known = new Map<string, Promise<Known>>();
  readonly #store: () => Promise<void>;

  /** @param store writes down what has been placed and not been stored: it is read back for whoever goes to the front */
  constructor(db: Queryable, now: number, store: () => Promise<void>) {
    this.#db = db;
    this.#now = now;
    this.#store = store;
  }

  /** What was taken may have been given back: it is looked at anew. */
  forget(): void {
    this.#known.clear();
  }

  /**
   * When an act goes.
   *
   * @param earlier when the same content goes out at the outlet before it; null for the first
   */
  async place(run: Run, program: Program, effect: Perform, earlier: number | null): Promise<Placed> {
    const { key, action, outlet, placing } = effect;
    const atOnce: Placed = { dueAt: this.#now, plannedAt: null, slot: null, why: null };
    if (!reachesPeople(action)) return atOnce;
    const paced = placing && placing.when !== 'now' ? this.#now : await this.#paced(run, program, key, outlet);
    const hasTimetable = outlet !== null && program.timetableOf(outlet) !== undefined;
    if (action !== 'publish' || outlet === null || (!placing && !hasTimetable)) return { ...atOnce, dueAt: paced };
    const asked = placeable(placing, { now: paced, before: earlier });
    if (asked.at !== null) {
      (await this.#at(run.brandId, outlet, program)).places.take({ at: asked.at, slot: null });
      return { dueAt: asked.at, plannedAt: asked.at, slot: null, why: null };
    }
    const { places } = await this.#at(run.brandId, outlet, program);
    // What was corrected meanwhile goes when it was to, and when a person has moved it to.
    const before =
      placing && asked.next === 'free' && generationOf(key) > 1 ? await this.#placeBefore(run, effect, outlet) : null;
    if (before && (before.slot === null || !places.holds(before.slot))) {
      places.take(before);
      return { dueAt: before.at, plannedAt: before.at, slot: before.slot, why: null };
    }
    if (asked.front) {
      const moved = await this.#toFront(run.brandId, outlet, program, asked.from);
      if (moved) return { dueAt: moved.at, plannedAt: moved.at, slot: moved.slot, why: null };
    }
    const found = places.find(asked.next, asked.from);
    // A run that nothing can place waits for a person: it is neither lost nor sent in a pause.
    if (!found) throw new Error(`Nothing is free at ${program.outletName(outlet)} within a year.`);
    places.take(found);
    const later = found.at > this.#now || found.slot !== null;
    return { dueAt: found.at, plannedAt: later ? found.at : null, slot: found.slot, why: found.why };
  }

  #placeBefore(run: Run, { place }: Perform, outletId: number) {
    return placeBefore(this.#db, { runId: run.id, step: place, outletId }, this.#now);
  }

  async #paced(run: Run, program: Program, key: string, outlet: number | null): Promise<number> {
    const account = outlet === null ? null : (program.accountOf(outlet) ?? null);
    const scopes = paceScopes(program.settings.pace, outlet, account).map(
      ([scope, rule]) => [scope === 'workflow' ? `workflow ${run.workflowId}` : scope, rule] as const,
    );
    if (scopes.length === 0) return this.#now;
    return bookPacedTime(this.#db, run.brandId, scopes, this.#now, chanceOf(`${key}\npace`));
  }

  #at(brandId: number, outlet: number, program: Program): Promise<Known> {
    // Opening hours are the workflow's, the rest is the outlet's.
    const key = `${outlet} ${JSON.stringify(program.hours)}`;
    let known = this.#known.get(key);
    if (!known) this.#known.set(key, (known = this.#look(brandId, outlet, program)));
    return known;
  }

  async #look(brandId: number, outlet: number, { zone, hours }: Program): Promise<Known> {
    const timetable = timetableOr(await lockTimetable(this.#db, brandId, outlet));
    await this.#store();
    const taken = await takenAt(this.#db, outlet, this.#now);
    return { timetable, places: new Places({ timetable, zone, hours, taken, from: this.#now }) };
  }

  /** Takes the first time there is, and moves on all that wait for one. */
  async #toFront(brandId: number, outlet: number, { zone, hours }: Program, from: number): Promise<Found | null> {
    const timetable = timetableOr(await lockTimetable(this.#db, brandId, outlet));
    await this.#store();
    const queue = await queuedAt(this.#db, outlet, from);
    const waiting = new Set(queue.map(({ slot }) => slot));
    const taken = (await takenAt(this.#db, outlet, this.#now)).filter(
      ({ slot }) => slot === null || !waiting.has(slot),
    );
    const [first, ...rest] = reflow([null, ...queue], { timetable, zone, hours, taken, from });
    if (!first || first.slot === null || rest.some((each) => each === null)) return null;
    await moveEffects(
      this.#db,
      queue.map(({ id }, index) => ({ id, at: rest[index]!.at, slot: rest[index]!.slot })),
    );
    this.forget();
    return first;
  }
}
