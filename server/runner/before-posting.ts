// Before a post goes out: has another workflow said the very same there lately?
import type { PublishInput } from '@playa/core/model/acts.ts';
import type { Outdated } from '@playa/core/model/meanwhile.ts';
import { spokenLength } from '@playa/core/text/durations.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { claim } from '../store/claims.ts';
import type { ClaimedEffect } from '../store/effects.ts';
import { timetableOr, timetablesOf } from '../store/timetables.ts';
import type { ClaimQueue } from './claim-queue.ts';

/**
 * Whether the same words went to the same outlet by another workflow lately, or are on their way there.
 *
 * @returns null when it can go out
 */
export async function beforePosting(
  services: Services,
  claims: ClaimQueue,
  effect: ClaimedEffect,
  input: PublishInput,
  outletName: string,
): Promise<Outdated | null> {
  const now = services.clock();
  // The same words under another picture are another post, and pictures alone are told apart by themselves.
  const pictures = (input.media ?? []).map(({ url }) => url);
  const about = ['post', effect.outletId, input.text.trim(), input.card ?? '', ...pictures].join('\n');
  if (await claims.first({ effect, about, now })) return null;
  const { sameWords } = timetableOr((await timetablesOf(services.pool, effect.brandId)).get(effect.outletId!));
  const terms = {
    since: now - sameWords * 1000,
    over: input.again === true || sameWords === 0,
    now,
    within: 'workflow' as const,
  };
  const other = await inTransaction(services.pool, (db) => claim(db, effect, about, terms));
  if (!other) return null;
  const ago = Math.max(0, Math.round((now - other.at) / 1000));
  const when = ago < 60 ? 'just now' : `${spokenLength(ago)} ago`;
  return {
    what: 'repeated',
    says: `The workflow “${other.workflow}” posted the same words at ${outletName} ${when}.`,
    then: 'hold',
    found: { text: null, answers: [] },
  };
}
