import { compile, type Program } from '@playa/core/engine/program.ts';
import type { Programs } from '../base/services.ts';
import type { Queryable } from '../db/database.ts';
import { brandEpoch } from '../store/users.ts';
import type { Run } from '../store/runs.ts';
import { definitionOf } from '../store/versions.ts';
import { worldOf } from '../world/world.ts';

/** More compiled versions than this are not kept. */
const MOST = 500;

/**
 * Versions of workflows made ready, kept from one transaction to the next. What they are made of changes with the
 * brand's epoch (outlets, renamed fields), which is asked for every time.
 */
export class ProgramCache implements Programs {
  readonly #kept = new Map<string, { epoch: number; program: Promise<Program> }>();

  /** @throws an error when the version is gone */
  async get(
    db: Queryable,
    run: Pick<Run, 'brandId' | 'workflowId' | 'version'>,
    epochs: Map<number, number>,
  ): Promise<Program> {
    let epoch = epochs.get(run.brandId);
    if (epoch === undefined) epochs.set(run.brandId, (epoch = await brandEpoch(db, run.brandId)));
    const key = `${run.workflowId}.${run.version}`;
    const kept = this.#kept.get(key);
    if (kept?.epoch === epoch) return kept.program;
    const program = this.#compile(db, run);
    // One that could not be made is tried anew next time.
    program.catch(() => this.#kept.delete(key));
    this.#kept.delete(key);
    this.#kept.set(key, { epoch, program });
    if (this.#kept.size > MOST) this.#kept.delete(this.#kept.keys().next().value!);
    return program;
  }

  async #compile(db: Queryable, run: Pick<Run, 'brandId' | 'workflowId' | 'version'>): Promise<Program> {
    const definition = await definitionOf(db, run.brandId, run.workflowId, run.version);
    if (!definition) throw new Error(`Version ${run.version} of workflow ${run.workflowId} is gone.`);
    return compile(definition, await worldOf(db, run.brandId));
  }
}
