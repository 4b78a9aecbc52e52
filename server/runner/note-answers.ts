// Answers that have gone out are noted at all that they answer, whoever sent them.
import { entryOf } from '@playa/core/desk/entry.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import type { Outcome } from '@playa/core/model/acts.ts';
import type { Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import { addNotices } from '../store/notices.ts';
import { deskEntry, noteAnswer } from '../store/desk.ts';
import type { ClaimedEffect } from '../store/effects.ts';
import { noteReached } from '../store/journeys.ts';
import { itemsById } from '../store/items.ts';
import { policyOf } from '../store/users.ts';
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
    await noteAnswer(db, { ...said, by: byHand ? 'user' : 'workflow', at: now });
    if (!byHand) {
      await copyToColleagues(db, effect, itemId, now);
      await noteReached(db, { runId: effect.runId, brandId, workflowId, itemId, at: now });
    }
    await noteChange(db, brandId, 'desk', itemId, now);
  }
}

/** Colleagues who want one get a copy of what was answered alone, question and answer. */
async function copyToColleagues(db: Queryable, effect: ClaimedEffect, itemId: number, now: number): Promise<void> {
  if (effect.action !== 'reply' && effect.action !== 'message') return;
  const { brandId, workflowId, runId, key } = effect;
  const to = (await policyOf(db, brandId))?.copyTo ?? [];
  if (to.length === 0) return;
  const entry = await deskEntry(db, brandId, itemId);
  const item = entry && (await itemsById(db, [itemId])).get(itemId);
  if (!entry || !item || entry.answeredBy !== 'workflow') return;
  const { person, text, stars } = entryOf(entry.kind, item.fields);
  const said = [stars === null ? '' : `${stars} of 5 stars`, text ? `“${cutUnits(text, 600)}”` : ''].filter(Boolean);
  const copy = `${person.name}, ${said.join(', ') || 'without words'}. We answered: “${cutUnits(effect.input.text, 900)}”`;
  await addNotices(db, { brandId, to, onceKey: `copy.${key}`, workflowId, runId, text: copy }, now);
}
