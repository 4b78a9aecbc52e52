// Somebody who asked to be left alone gets nothing more that nobody wrote to them by hand, whatever workflow it is.
import type { Outdated } from '@playa/core/model/meanwhile.ts';
import type { AccountKind } from '../store/accounts.ts';
import type { ClaimedEffect } from '../store/effects.ts';
import type { Queryable } from '../db/database.ts';
import { whyLeftAlone } from '../store/contacts.ts';
import { ownWorkflow } from '../store/workflows.ts';

/**
 * Whether an act would reach somebody who asked to be left alone.
 *
 * @returns null when it may go out
 */
export async function leftAlone(db: Queryable, effect: ClaimedEffect, network: AccountKind): Promise<Outdated | null> {
  const { brandId, outletId } = effect;
  if (effect.action !== 'message' && effect.action !== 'reply' && effect.action !== 'react') return null;
  if (outletId === null) return null;
  const { to } = effect.input;
  const because =
    (effect.action === 'message' ? await whyLeftAlone(db, brandId, { network, person: to }) : null) ??
    (await whyLeftAlone(db, brandId, { outletId, answersTo: to }));
  if (because === null) return null;
  // Whoever writes by hand at the desk has seen that they asked for it.
  if ((await ownWorkflow(db, brandId, 'answers'))?.id === effect.workflowId) return null;
  return {
    what: 'alone',
    says: `They asked to be left alone. ${because}`,
    then: 'end',
    found: { text: null, answers: [] },
  };
}
