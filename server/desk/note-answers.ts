// Answers that have gone out are noted at all that they answer, whoever sent them.
import type { Outcome } from '@playa/core/model/acts.ts';
import type { Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import { noteAnswer } from '../store/desk.ts';
import type { ClaimedEffect } from '../store/effects.ts';
import { ownWorkflow } from '../store/workflows.ts';

/**
 * Notes what was answered, in the transaction that records the answers.
 *
 * @param runs those that sent them, by their numbers
 */
export async function noteDeskAnswers(
  db: Queryable,
  done: readonly { effect: ClaimedEffect; outcome: Outcome }[],
  runs: ReadonlyMap<number, { itemId: number }>,
  now: number,
): Promise<void> {
  for (const { effect } of done) {
    if (effect.action !== 'reply' && effect.action !== 'message') continue;
    const { brandId, outletId, workflowId, action: act, input } = effect;
    const byHand = (await ownWorkflow(db, brandId, 'answers'))?.id === workflowId;
    const itemId = runs.get(effect.runId)?.itemId ?? 0;
    const said = { brandId, outletId, itemId, act, to: input.to, text: input.text };
    await noteAnswer(db, { ...said, by: byHand ? 'person' : 'workflow', at: now });
    await noteChange(db, brandId, 'desk', itemId, now);
  }
}
