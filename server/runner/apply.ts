import { advance } from '@playa/core/engine/advance.ts';
import { reachesPeople } from '@playa/core/engine/acts.ts';
import { chanceOf } from '@playa/core/engine/chance.ts';
import { cellsOf, type Trace } from '@playa/core/engine/cells.ts';
import type { Effect } from '@playa/core/engine/effects.ts';
import { compile, type Program } from '@playa/core/engine/program.ts';
import type { RunEvent, RunState } from '@playa/core/engine/state.ts';
import { paceScopes } from '@playa/core/timetable/pace.ts';
import type { Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import { addEffects, cancelEffects, type NewEffect } from '../store/effects.ts';
import { dropGatherings } from '../store/gatherings.ts';
import { itemsAt, type StoredItem } from '../store/items.ts';
import { bookPacedTime } from '../store/paces.ts';
import { holdRun, releaseRuns, saveRun, type Run } from '../store/runs.ts';
import { definitionOf, forgetFailures, lockWorkflow } from '../store/workflows.ts';
import { worldOf } from '../workflows/world.ts';
import { answerAsk } from './asks.ts';
import { noteFailure } from './failures.ts';

type Perform = Extract<Effect, { do: 'perform' }>;

/** Where a run ended up. */
export interface Taken {
  state: RunState;
  trace: Trace;
}

/** Programs and what they need, read once for a batch of runs in one transaction. */
export class Batch {
  readonly #db: Queryable;
  readonly #now: number;
  readonly #programs = new Map<string, Promise<Program>>();
  readonly #worlds = new Map<number, ReturnType<typeof worldOf>>();
  readonly #items = new Map<string, StoredItem>();
  readonly #changed = new Set<number>();

  constructor(db: Queryable, now: number) {
    this.#db = db;
    this.#now = now;
  }

  /** Items as they were when their runs began. */
  async loadItems(runs: readonly Pick<Run, 'itemId' | 'itemRevision'>[]): Promise<void> {
    for (const [key, item] of await itemsAt(this.#db, runs)) this.#items.set(key, item);
  }

  /**
   * The live driver's step: takes a locked run one event further, answers what the interpreter asks meanwhile, and
   * stores the new state, the trace and the acts to perform, all in the caller's transaction.
   */
  async take(run: Run, first: RunEvent): Promise<Taken> {
    const program = await this.programOf(run);
    const key = `${run.itemId}.${run.itemRevision}`;
    if (!this.#items.has(key)) await this.loadItems([run]);
    const item = this.#items.get(key);
    if (!item) throw new Error(`Item ${run.itemId} of run ${run.id} is gone.`);
    const context = { item, watch: item.watchId, now: this.#now, run: run.uuid };
    const performs: Perform[] = [];
    const events: RunEvent[] = [first];
    let state = run.state;
    let trace = run.trace;
    for (let event = events.shift(); event; event = events.shift()) {
      const result = advance(program, state, event, context);
      state = result.state;
      if (result.forget) trace = without(trace, result.forget);
      trace = { ...trace, ...result.trace };
      for (const effect of result.effects) {
        if (effect.do === 'perform') performs.push(effect);
        if (effect.do !== 'ask') continue;
        const about = { key: effect.key, zone: program.zone, now: this.#now };
        events.push({ type: 'answered', key: effect.key, answer: await answerAsk(this.#db, run, effect.ask, about) });
      }
    }
    const taken = { state: state!, trace };
    await saveRun(this.#db, { id: run.id, ...taken }, this.#now);
    await this.#store(run, program, performs);
    await this.#afterwards(run, program, taken.state);
    if (!this.#changed.has(run.workflowId)) {
      this.#changed.add(run.workflowId);
      await noteChange(this.#db, run.brandId, 'runs', run.workflowId, this.#now);
    }
    return taken;
  }

  /** Puts acts into the outbox, each at the time the workflow's pace allows. */
  async #store(run: Run, program: Program, performs: readonly Perform[]): Promise<void> {
    const effects: NewEffect[] = [];
    for (const { key, place, outlet, action, input } of performs) {
      const accountId = outlet === null ? null : program.accountOf(outlet);
      if (accountId === undefined) throw new Error(`Outlet ${outlet} of run ${run.id} is gone.`);
      let dueAt = this.#now;
      if (reachesPeople(action)) {
        const { workflow, ...rest } = program.settings.pace;
        const scopes = paceScopes({ workflow, ...rest }, outlet, accountId).map(
          ([scope, rule]) => [scope === 'workflow' ? `workflow ${run.workflowId}` : scope, rule] as const,
        );
        if (scopes.length > 0)
          dueAt = await bookPacedTime(this.#db, run.brandId, scopes, this.#now, chanceOf(`${key}\npace`));
      }
      const { brandId, workflowId, id: runId } = run;
      effects.push({
        key,
        brandId,
        workflowId,
        runId,
        place,
        outletId: outlet,
        accountId,
        action,
        input,
        dueAt,
      } as NewEffect);
    }
    await addEffects(this.#db, effects, this.#now);
  }

  /** What else follows from where the run is now: for its workflow, and for runs that waited for it. */
  async #afterwards(run: Run, program: Program, state: RunState): Promise<void> {
    const { atOnce, inOrder, stopAfter } = program.settings;
    const ended = state.status === 'done' || state.status === 'stopped' || state.status === 'cancelled';
    if (state.status === 'cancelled') {
      await cancelEffects(this.#db, run.id);
      await dropGatherings(this.#db, run.id);
    }
    // One that is held no longer counts as under way.
    const leaves = ended || (state.status === 'held' && run.status !== 'held');
    if (leaves && (atOnce !== null || inOrder !== null)) {
      // Whoever is just finding that it must wait is seen waiting before this commits.
      await lockWorkflow(this.#db, run.workflowId);
      await releaseRuns(this.#db, run.workflowId, ended ? run.orderHash : null, atOnce ?? 1, this.#now);
    }
    if (stopAfter === null) return;
    const before = run.state?.failures ?? 0;
    if (before === 0 && state.failures > 0) await noteFailure(this.#db, run, stopAfter, this.#now);
    else if (ended && state.failures === 0) await forgetFailures(this.#db, run.workflowId);
  }

  /**
   * The same, but a fault of ours in this one run (a version or an outlet that is gone, a definition that cannot be read)
   * sets the run aside instead of undoing the transaction: what the network has already answered must be stored.
   * Troubles of the database are thrown, and the whole is tried again.
   */
  async takeOrHold(run: Run, event: RunEvent, onFault: (error: unknown) => void): Promise<void> {
    try {
      await this.take(run, event);
    } catch (error) {
      if ((error as { sqlState?: string }).sqlState) throw error;
      onFault(error);
      await holdRun(
        this.#db,
        run.id,
        'Playa itself stumbled over this item. It is kept, and can be tried again.',
        this.#now,
      );
      await noteChange(this.#db, run.brandId, 'runs', run.workflowId, this.#now);
    }
  }

  /** The version a run is on, made ready. */
  programOf(run: Pick<Run, 'brandId' | 'workflowId' | 'version'>): Promise<Program> {
    const key = `${run.workflowId}.${run.version}`;
    let made = this.#programs.get(key);
    if (!made) {
      made = this.#compile(run);
      this.#programs.set(key, made);
    }
    return made;
  }

  async #compile(run: Pick<Run, 'brandId' | 'workflowId' | 'version'>): Promise<Program> {
    let world = this.#worlds.get(run.brandId);
    if (!world) this.#worlds.set(run.brandId, (world = worldOf(this.#db, run.brandId)));
    const definition = await definitionOf(this.#db, run.brandId, run.workflowId, run.version);
    if (!definition) throw new Error(`Version ${run.version} of workflow ${run.workflowId} is gone.`);
    return compile(definition, await world);
  }
}

function without(trace: Trace, steps: readonly string[]): Trace {
  const kept = { ...trace };
  for (const step of steps) for (const { place } of cellsOf(trace, step)) delete kept[place];
  return kept;
}
