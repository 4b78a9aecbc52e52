import { advance } from '@playa/core/engine/advance.ts';
import type { Trace } from '@playa/core/model/cells.ts';
import type { Effect } from '@playa/core/model/effects.ts';
import type { Program } from '@playa/core/engine/program.ts';
import { settleCells } from '@playa/core/engine/settle-cells.ts';
import type { RunEvent, RunState } from '@playa/core/model/state.ts';
import type { Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import { addEffects, type NewEffect } from '../store/effects.ts';
import { cancelEffects } from '../store/acts-of-run.ts';
import { endGatherings, leaveGatherings } from '../store/gatherings.ts';
import { itemsAt, itemsById, type StoredItem } from '../store/items.ts';
import { saveRuns, type Run, type SavedRun } from '../store/runs.ts';
import { setRunRevision } from '../store/run-changes.ts';
import { releaseRuns } from '../store/run-order.ts';
import { forgetFailures, lockWorkflow, pausedWorkflows } from '../store/workflow-state.ts';
import { BrakeCounts } from './brake.ts';
import { answerAsk } from './asks.ts';
import { changeOf, hasSent, isWithdrawn } from './bring-up-to-date.ts';
import { noteFailure } from './failures.ts';
import { Placer } from './placing.ts';
import { keepRecords } from './records.ts';
import type { Programs } from '../base/services.ts';
import { setRunAside, STUMBLED } from './run-aside.ts';
import { without, sentCells, isEnd } from './stored-cells.ts';

/** UTF-16 code units of a run's state and trace; the database takes 16 MB in one piece, unless it was told otherwise. */
const LARGEST = 4_000_000;

type Perform = Extract<Effect, { do: 'perform' }>;

/**
 * Takes runs further inside one transaction. Items and programs are read once, and what becomes of the runs is written
 * together: whoever makes a batch calls `flush` before the transaction ends.
 */
export class Batch {
  readonly #db: Queryable;
  readonly #now: number;
  readonly #programs: Programs;
  readonly #brake: BrakeCounts;
  readonly #placer: Placer;
  readonly #epochs = new Map<number, number>();
  readonly #items = new Map<string, StoredItem>();
  /** Brands and workflows whose open screens are to be told. */
  readonly #changed = new Map<number, number>();
  #saves = new Map<number, { run: SavedRun; program: Program }>();
  #effects: NewEffect[] = [];

  constructor(db: Queryable, now: number, programs: Programs) {
    this.#db = db;
    this.#now = now;
    this.#programs = programs;
    this.#brake = new BrakeCounts(db, now);
    this.#placer = new Placer(db, now, () => this.flush());
  }

  /** Items as they were when their runs began. */
  async loadItems(runs: readonly Pick<Run, 'itemId' | 'itemRevision'>[]): Promise<void> {
    for (const [key, item] of await itemsAt(this.#db, runs)) this.#items.set(key, item);
  }

  /** The watch that the item of a run came from, once it is loaded. */
  watchOf(run: Pick<Run, 'itemId' | 'itemRevision'>): number | undefined {
    return this.itemOf(run)?.watchId;
  }

  /** The item of a run as it is to the run, once it is loaded. */
  itemOf(run: Pick<Run, 'itemId' | 'itemRevision'>): StoredItem | undefined {
    return this.#items.get(`${run.itemId}.${run.itemRevision}`);
  }

  /** The version a run is on, made ready. @throws an error when it is gone */
  programOf(run: Pick<Run, 'brandId' | 'workflowId' | 'version'>): Promise<Program> {
    return this.#programs.get(this.#db, run, this.#epochs);
  }

  /**
   * The live driver's step: takes a locked run one event further, answers what the interpreter asks meanwhile, and
   * keeps the new state, the trace and the acts to perform for `flush`. The run itself is brought up to date.
   */
  async take(run: Run, first: RunEvent): Promise<void> {
    const program = await this.programOf(run);
    const key = `${run.itemId}.${run.itemRevision}`;
    if (!this.#items.has(key)) await this.loadItems([run]);
    const item = this.#items.get(key);
    if (!item) throw new Error(`Item ${run.itemId} of run ${run.id} is gone.`);
    const context = { item, watch: item.watchId, now: this.#now, run: run.uuid };
    const performs: Perform[] = [];
    /** With which asks it has put something into what is gathered. */
    const joined = new Set<string>();
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
        // Others of this batch may be what is asked about.
        await this.flush();
        if (effect.ask.of === 'join') joined.add(effect.key);
        const about = { key: effect.key, zone: program.zone, now: this.#now };
        events.push({ type: 'answered', key: effect.key, answer: await answerAsk(this.#db, run, effect.ask, about) });
      }
    }
    if (first.type === 'done')
      trace = { ...trace, ...settleCells(trace, new Map([[first.key, { done: first.outcome }]])) };
    // What a step has done stays to be seen where the run ended.
    if (first.type === 'withdrawn') trace = { ...trace, ...sentCells(run.trace) };
    if (isEnd(first)) trace = { ...trace, ...(await this.#takeBack(run, trace)) };
    const effects = await this.#newEffects(run, program, performs, trace);
    const stored = { state: JSON.stringify(state), trace: JSON.stringify(trace) };
    if (stored.state.length + stored.trace.length > LARGEST)
      throw new Error(`What run ${run.id} holds has grown beyond what can be stored.`);
    this.#effects.push(...effects);
    await this.#brake.count(run, effects, { brake: program.settings.brake, outletName: program.outletName });
    const before = { state: run.state, status: run.status };
    Object.assign(run, { state, trace, status: state!.status, trouble: null, queued: false, stored });
    this.#saves.set(run.id, { run: run as SavedRun, program });
    this.#changed.set(run.workflowId, run.brandId);
    if (program.gathers) await this.#leaveGatherings(run, first, joined);
    await this.#afterwards(run, program, before);
  }

  /**
   * What becomes of what a run has put into gatherings, and of those it carries: as long as it is under way they stay; once
   * it has ended, others carry on what has not been said, and what it has said is let go.
   *
   * @param joined keys of the asks with which it has put something in just now
   */
  async #leaveGatherings(run: Run, event: RunEvent, joined: ReadonlySet<string>): Promise<void> {
    const again = event.type === 'changed' || event.type === 'withdrawn';
    const ended = run.status === 'done' || run.status === 'stopped' || run.status === 'cancelled';
    if (!again && !ended) return;
    await this.flush();
    // What is partly out is not begun anew by another.
    const unsaid = hasSent(run.trace) ? 'goes' : 'on';
    if (!again && run.status !== 'cancelled')
      return endGatherings(this.#db, run.id, new Set(Object.keys(run.trace)), unsaid, this.#now);
    // As long as the run may come to it again, it keeps what is complete.
    const comesAgain = !ended && joined.size === 0;
    const complete = run.status === 'cancelled' ? 'goes' : comesAgain ? 'stays' : unsaid;
    await leaveGatherings(this.#db, run.id, { kept: joined, complete, now: this.#now });
  }

  /**
   * Lets a run know that its item has changed: it goes through its steps again with the item as it is now, goes on as it
   * was, or ends, as its workflow says.
   *
   * @param run locked
   */
  async bringUpToDate(run: Run): Promise<void> {
    const after = (await itemsById(this.#db, [run.itemId])).get(run.itemId);
    if (!after) throw new Error(`Item ${run.itemId} of run ${run.id} is gone.`);
    const key = `${run.itemId}.${run.itemRevision}`;
    if (!this.#items.has(key)) await this.loadItems([run]);
    const before = this.#items.get(key) ?? after;
    const ended = run.status === 'stopped';
    await this.flush();
    const program = await this.programOf(run);
    const event = await changeOf(this.#db, run, program, { before, after }, this.#now);
    // What was taken back has given back its times.
    if (event) this.#placer.forget();
    run.changed = false;
    if (event || !run.state) {
      run.itemRevision = after.revision;
      this.#items.set(`${run.itemId}.${run.itemRevision}`, after);
    }
    if (event) await this.take(run, event);
    await this.flush();
    const withdrawn = event ? isWithdrawn(run, run.trace) : ended;
    await setRunRevision(this.#db, run.id, run.itemRevision, withdrawn);
  }

  /** Acts for the outbox, each with its time, which its cell says too. */
  async #newEffects(run: Run, program: Program, performs: readonly Perform[], trace: Trace): Promise<NewEffect[]> {
    const effects: NewEffect[] = [];
    let before: number | null = null;
    for (const perform of performs) {
      const { key, place, outlet, action, input } = perform;
      const accountId = outlet === null ? null : program.accountOf(outlet);
      if (accountId === undefined) throw new Error(`Outlet ${outlet} of run ${run.id} is gone.`);
      const { dueAt, plannedAt, slot, why } = await this.#placer.place(run, program, perform, before);
      if (action === 'publish') before = dueAt;
      const { brandId, workflowId, id: runId } = run;
      const owner = { brandId, workflowId, runId, place, outletId: outlet, accountId };
      effects.push({ key, ...owner, action, input, dueAt, plannedAt, slot } as NewEffect);
      const cell = trace[place];
      if (cell?.kind === 'posts' && plannedAt !== null)
        trace[place] = {
          ...cell,
          posts: cell.posts.map((post) =>
            post.key === key ? { ...post, at: plannedAt, ...(why && { kept: why }) } : post,
          ),
        };
    }
    return effects;
  }

  /**
   * A person has ended the run, one way or another: nothing more of it is sent.
   *
   * @returns cells of what was on its way and is taken back
   */
  async #takeBack(run: Run, trace: Trace): Promise<Trace> {
    // Its acts may be waiting to be written down with those of others.
    await this.flush();
    const keys = await cancelEffects(this.#db, run.id, this.#now);
    this.#placer.forget();
    return settleCells(trace, new Map(keys.map((key) => [key, { takenBack: 'the run was ended' }])));
  }

  /** What else follows from where the run is now: for its workflow, and for runs that waited for it. */
  async #afterwards(run: Run, program: Program, before: { state: RunState | null; status: string }): Promise<void> {
    const { atOnce, inOrder, stopAfter } = program.settings;
    const state = run.state!;
    const ended = state.status === 'done' || state.status === 'stopped' || state.status === 'cancelled';
    // One that is held no longer counts as under way.
    const leaves = ended || (state.status === 'held' && before.status !== 'held');
    if (leaves && (atOnce !== null || inOrder !== null)) {
      await this.flush();
      // Whoever is just finding that it must wait is seen waiting before this commits.
      await lockWorkflow(this.#db, run.workflowId);
      await releaseRuns(this.#db, run.workflowId, ended ? run.orderHash : null, atOnce ?? 1, this.#now);
    }
    if (stopAfter === null) return;
    if ((before.state?.failures ?? 0) === 0 && state.failures > 0) {
      await this.flush();
      await noteFailure(this.#db, run, stopAfter, this.#now);
    } else if (ended && state.failures === 0) await forgetFailures(this.#db, run.workflowId);
  }

  /** Writes down what has become of the runs so far. */
  async flush(): Promise<void> {
    const saves = [...this.#saves.values()];
    const runs = saves.map(({ run }) => run);
    const effects = this.#effects;
    this.#saves = new Map();
    this.#effects = [];
    if (runs.length > 0) {
      // Their rows are kept from changing, so that a pause either is seen here or parks what is written here.
      const paused = await pausedWorkflows(this.#db, [...new Set(runs.map((run) => run.workflowId))]);
      await addEffects(this.#db, effects, paused, this.#now);
      await keepRecords(this.#db, saves, this.#now);
      for (const some of inPackets(runs)) await saveRuns(this.#db, some, paused, this.#now);
    }
    for (const [workflowId, brandId] of this.#changed)
      await noteChange(this.#db, brandId, 'runs', workflowId, this.#now);
    this.#changed.clear();
  }

  /**
   * The same as `take`, but a fault of ours in this one run (a version or an outlet that is gone, a definition that
   * cannot be read) sets the run aside instead of undoing the transaction: what the network has already answered must be
   * stored. Troubles of the database are thrown, and the whole is tried again.
   */
  takeOrHold(run: Run, event: RunEvent, onFault: (error: unknown) => void): Promise<void> {
    return this.orHold(run, () => this.take(run, event), onFault);
  }

  /** The same for anything that takes one run further. */
  async orHold(run: Run, work: () => Promise<void>, onFault: (error: unknown) => void): Promise<void> {
    try {
      await work();
    } catch (error) {
      if ((error as { sqlState?: string }).sqlState) throw error;
      onFault(error);
      await this.flush();
      await setRunAside(this.#db, run, STUMBLED, this.#now);
      // Another event of this batch may still take it further.
      run.was = { status: 'held', wakes: run.was.wakes };
      this.#changed.set(run.workflowId, run.brandId);
    }
  }
}

/** Runs as they are written together: a few large ones would be more than the database takes in one piece. */
function inPackets(runs: readonly SavedRun[]): SavedRun[][] {
  const packets: SavedRun[][] = [[]];
  let size = 0;
  for (const run of runs) {
    const own = run.stored.state.length + run.stored.trace.length;
    if (size > 0 && size + own > LARGEST / 2) {
      packets.push([]);
      size = 0;
    }
    packets.at(-1)!.push(run);
    size += own;
  }
  return packets;
}
