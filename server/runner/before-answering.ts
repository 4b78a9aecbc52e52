// Before an answer goes out: is it still right? The network is asked what is there now, and no other workflow of the
// brand's may be about to answer the same.
import type { ActInput } from '@playa/core/model/acts.ts';
import { outdated, type Outdated } from '@playa/core/model/meanwhile.ts';
import { boundedText } from '@playa/core/items/bounded.ts';
import type { Handler, Session } from '../connectors/connector.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { claim } from '../store/claims.ts';
import { doneEffects } from '../store/acts-of-run.ts';
import { type ClaimedEffect } from '../store/effects.ts';
import type { ClaimQueue } from './claim-queue.ts';

type Replying = ClaimedEffect & { action: 'reply'; input: ActInput<'reply'> };

/**
 * Whether an answer can go out as it stands.
 *
 * @returns null when it can
 * @throws NetworkTrouble when the network does not say what is there
 */
export async function beforeAnswering(
  services: Services,
  claims: ClaimQueue,
  effect: Replying,
  handler: Handler<'reply'>,
  session: Session,
  outlet: string,
): Promise<Outdated | null> {
  const { input } = effect;
  const byHand = input.over !== undefined;
  const about = `answer\n${effect.accountId}\n${input.to}`;
  const terms = { since: 0, over: byHand, now: services.clock() };
  const first = await claims.first({ effect, about, now: terms.now });
  const other = first ? null : await inTransaction(services.pool, (db) => claim(db, effect, about, terms));
  if (other && (input.meanwhile?.answered ?? 'hold') !== 'send') {
    const then = input.meanwhile?.answered === 'end' ? 'end' : 'hold';
    const says = `The workflow “${other.workflow}” is answering this, or has answered it.`;
    return { what: 'answered', says, then, found: { text: input.was ?? null, answers: [] } };
  }
  if (!handler.standing) return null;
  const now = await handler.standing(session, outlet, input);
  const standing = now && { ...now, text: boundedText(now.text), answers: now.answers.map(boundedText) };
  return outdated(input, standing, await ownAnswers(services, effect));
}

/** What the run itself has answered there; also this very answer, where an earlier try may have gone through. */
async function ownAnswers(services: Services, effect: Replying): Promise<string[]> {
  const { input } = effect;
  const done = await doneEffects(services.pool, effect.runId);
  const before = done.flatMap(({ act }) =>
    act?.action === 'reply' && act.input.to === input.to ? [act.input.text] : [],
  );
  return effect.firstSentAt === null ? before : [...before, input.text];
}
