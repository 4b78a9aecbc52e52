import { advance, type Advanced } from '@playa/core/engine/advance.ts';
import { compile, type Program } from '@playa/core/engine/program.ts';
import type { RunEvent } from '@playa/core/engine/state.ts';
import type { Item } from '@playa/core/items/item.ts';
import type { Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import { addEffect } from '../store/effects.ts';
import { itemsById } from '../store/items.ts';
import { holdRun, saveRun, type Run } from '../store/runs.ts';
import { definitionOf } from '../store/workflows.ts';
import { worldOf } from '../workflows/world.ts';

/** Programs and what they need, read once for a batch of runs in one transaction. */
export class Batch {
  readonly #db: Queryable;
  readonly #now: number;
  readonly #programs = new Map<
    string,
    Promise<{ program: Program; accountOf: (outlet: number) => number | undefined }>
  >();
  readonly #worlds = new Map<number, ReturnType<typeof worldOf>>();
  readonly #items = new Map<number, Item>();

  constructor(db: Queryable, now: number) {
    this.#db = db;
    this.#now = now;
  }

  async loadItems(ids: readonly number[]): Promise<void> {
    for (const [id, item] of await itemsById(this.#db, ids)) this.#items.set(id, item);
  }

  /**
   * The live driver's step: takes a locked run one event further and stores the new state, the trace and the effects to
   * perform, all in the caller's transaction.
   */
  async take(run: Run, event: RunEvent): Promise<Advanced> {
    const { program, accountOf } = await this.#programFor(run);
    if (!this.#items.has(run.itemId)) await this.loadItems([run.itemId]);
    const item = this.#items.get(run.itemId);
    if (!item) throw new Error(`Item ${run.itemId} of run ${run.id} is gone.`);
    const result = advance(program, run.state, event, { item, now: this.#now, run: run.uuid });
    await saveRun(this.#db, { id: run.id, state: result.state, trace: { ...run.trace, ...result.trace } }, this.#now);
    for (const effect of result.effects) {
      if (effect.do !== 'perform') continue;
      const accountId = accountOf(effect.outlet);
      if (accountId === undefined) throw new Error(`Outlet ${effect.outlet} of run ${run.id} is gone.`);
      await addEffect(
        this.#db,
        {
          key: effect.key,
          brandId: run.brandId,
          workflowId: run.workflowId,
          runId: run.id,
          step: effect.step,
          outletId: effect.outlet,
          accountId,
          action: effect.action,
          input: effect.input,
        },
        this.#now,
      );
    }
    await noteChange(this.#db, run.brandId, 'runs', run.workflowId, this.#now);
    return result;
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

  #programFor(run: Run) {
    const key = `${run.workflowId}.${run.version}`;
    let made = this.#programs.get(key);
    if (!made) {
      made = this.#compile(run);
      this.#programs.set(key, made);
    }
    return made;
  }

  async #compile(run: Run) {
    let world = this.#worlds.get(run.brandId);
    if (!world) this.#worlds.set(run.brandId, (world = worldOf(this.#db, run.brandId)));
    const definition = await definitionOf(this.#db, run.brandId, run.workflowId, run.version);
    if (!definition) throw new Error(`Version ${run.version} of workflow ${run.workflowId} is gone.`);
    const known = await world;
    return { program: compile(definition, known), accountOf: (outlet: number) => known.outlets.get(outlet)?.accountId };
  }
}
