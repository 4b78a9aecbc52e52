import type { Decision } from '@playa/core/engine/state.ts';
import { KIND_RULES, textLength } from '@playa/core/outlets/kinds.ts';
import { inTransaction } from '../db/database.ts';
import { Batch } from '../runner/apply.ts';
import type { Services } from '../services.ts';
import { settledEffects } from '../store/effects.ts';
import { addLogEntry } from '../store/logbook.ts';
import { outletBy } from '../store/outlets.ts';
import { lockRun, runBy } from '../store/runs.ts';

/** Why a decision cannot be carried out, in a sentence. */
export class CannotDecide extends Error {
  override name = 'CannotDecide';
}

/** Carries out what a person decided about something held. @throws CannotDecide */
export async function decide(
  services: Services,
  brandId: number,
  runId: number,
  key: string,
  decision: Decision,
): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const run = (await runBy(db, brandId, runId)) && (await lockRun(db, runId));
    if (!run?.state) throw new CannotDecide('This run is gone, or has not begun.');
    const slot = run.state.slots.find((each) => each.key === key);
    if (!slot || slot.status !== 'held')
      throw new CannotDecide('This no longer waits for you; somebody may have been faster.');
    const outlet = await outletBy(db, brandId, slot.outlet);
    if (decision.do === 'retry') {
      if (!outlet || outlet.gone) throw new CannotDecide('The outlet is gone, so nothing can be posted there.');
      const text = decision.text ?? slot.input.text;
      const { limit } = KIND_RULES[outlet.kind].text;
      const length = textLength(outlet.kind, text);
      if (text.trim() === '') throw new CannotDecide('Write some words first.');
      if (limit !== null && length > limit)
        throw new CannotDecide(`These are ${length} characters; ${outlet.name} takes ${limit}.`);
    }
    const now = services.clock();
    await new Batch(db, now).take(run, { type: 'decided', key, decision });
    if (decision.do === 'itWentOut') {
      await addLogEntry(db, {
        key,
        brandId,
        workflowId: run.workflowId,
        runId,
        outletId: slot.outlet,
        text: slot.input.text,
        card: slot.input.card,
        url: decision.url ?? null,
        remoteId: '',
        at: now,
      });
    }
  });
}

/**
 * Lets a run that Playa itself stumbled over try again: from its beginning when it had not begun, otherwise by telling it
 * what came of its effects meanwhile. Nothing that went out is sent a second time.
 */
export async function tryRunAgain(services: Services, brandId: number, runId: number): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    let run = (await runBy(db, brandId, runId)) && (await lockRun(db, runId));
    if (!run?.trouble) throw new CannotDecide('This run does not wait for that.');
    const batch = new Batch(db, services.clock());
    if (!run.state) return void (await batch.take(run, { type: 'arrived' }));
    const settled = await settledEffects(db, runId);
    for (const { key, status } of run.state.slots) {
      const result = settled.get(key);
      if (status !== 'asked' || !result) continue;
      await batch.take(
        run,
        'outcome' in result
          ? { type: 'done', key, outcome: result.outcome }
          : { type: 'failed', key, says: result.says, unknown: result.unsure },
      );
      run = (await lockRun(db, runId))!;
    }
  });
}
