// How one act is carried out. What no network does is Playa's own and is done inside the transaction that records it.
import type { ActInput, Outcome } from '@playa/core/model/acts.ts';
import type { Outdated } from '@playa/core/model/meanwhile.ts';
import { nextMove } from '@playa/core/engine/next-move.ts';
import { sessionFor } from '../accounts/sessions.ts';
import { NetworkTrouble, type Handler, type NetworkAct, type Session } from '../connectors/connector.ts';
import type { Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { accountBy, type AccountKind } from '../store/accounts.ts';
import type { ClaimedEffect } from '../store/effects.ts';
import { markSending } from '../store/effect-claims.ts';
import { findPosts } from '../store/logbook.ts';
import { addNotices } from '../store/notices.ts';
import { outletBy } from '../store/outlets.ts';
import { withMedia } from '../media/before-sending.ts';
import { findContacts, labelContact } from '../store/contacts.ts';
import { findRows, recordRow, type Written } from '../sheets/record-row.ts';
import { beforePosting } from './before-posting.ts';
import { tooLate } from './late.ts';
import { leftAlone } from './left-alone.ts';
import { beforeAnswering } from './before-answering.ts';
import type { ClaimQueue } from './claim-queue.ts';
import { drafted } from './draft.ts';
import { callService, isRepeatable } from './call-service.ts';

/**
 * What came of trying: an outcome, a person to be asked, nothing since the claim has run out (`late`), nothing since it is
 * known not to have gone out and is no longer wanted as it is (`missed`), or an answer that is no longer right.
 */
export type Sent = Outcome | 'ask' | 'late' | 'missed' | { outdated: Outdated };

/** Acts that are done in Playa's own tables, exactly once because the transaction is. */
export function isLocal(effect: ClaimedEffect): boolean {
  if (effect.action === 'find')
    return effect.input.what === 'person' || effect.input.what === 'post' || isAtOwnSheet(effect);
  return (
    effect.action === 'label' || effect.action === 'notify' || (effect.action === 'record' && isAtOwnSheet(effect))
  );
}

/** No account leads to a sheet of Playa's own. */
const isAtOwnSheet = ({ accountId, outletId }: ClaimedEffect) => accountId === null && outletId !== null;

/** What came of an act of Playa's own. */
export interface DoneLocally extends Outcome {
  /** What was written into a row of a sheet, and how workflows are told once the run knows. */
  written?: Pick<Written, 'wrote' | 'tell'>;
}

/** Carries out an act of Playa's own. @throws NetworkTrouble when a sheet, a column or a row is not there */
export async function performLocally(
  db: Queryable,
  effect: ClaimedEffect,
  { origin, now }: { origin: string; now: number },
): Promise<DoneLocally> {
  const made = { remoteId: '', url: null, at: now };
  const { brandId, outletId, runId } = effect;
  switch (effect.action) {
    case 'label':
      return { ...made, remoteId: String(await labelContact(db, brandId, effect.input, now)) };
    case 'record': {
      const { outcome, ...written } = await recordRow(db, effect.input, {
        brandId,
        outletId: outletId!,
        runId,
        origin,
        now,
      });
      return { ...outcome, written };
    }
    case 'notify': {
      const { to, text } = effect.input;
      const told = await addNotices(
        db,
        { brandId, to, onceKey: effect.key, workflowId: effect.workflowId, runId: effect.runId, text },
        now,
      );
      return { ...made, result: { told } };
    }
    case 'find': {
      const { what, by, value } = effect.input;
      if (what === 'row')
        return {
          ...made,
          result: { rows: await findRows(db, effect.input, { brandId, outletId: outletId!, runId, origin, now }) },
        };
      const rows =
        what === 'person'
          ? await findContacts(db, brandId, by, value, effect.input.network)
          : await findPosts(db, brandId, by, value);
      return { ...made, result: { rows } };
    }
    default:
      throw new Error(`${effect.action} is not an act of Playa's own.`);
  }
}

/** Accounts, outlets and sessions as they are while one batch of acts is carried out. */
export class Desk {
  readonly claims: ClaimQueue;
  readonly #services: Services;
  readonly #accounts = new Map<number, ReturnType<typeof accountBy>>();
  readonly #outlets = new Map<number, ReturnType<typeof outletBy>>();
  readonly #sessions = new Map<number, Session>();

  /** @param claims what is about to go out claims what it is about */
  constructor(services: Services, claims: ClaimQueue) {
    this.#services = services;
    this.claims = claims;
  }

  account(brandId: number, id: number): ReturnType<typeof accountBy> {
    let found = this.#accounts.get(id);
    if (!found) this.#accounts.set(id, (found = accountBy(this.#services.pool, brandId, id)));
    return found;
  }

  outlet(brandId: number, id: number): ReturnType<typeof outletBy> {
    let found = this.#outlets.get(id);
    if (!found) this.#outlets.set(id, (found = outletBy(this.#services.pool, brandId, id)));
    return found;
  }

  /** One session for each account, whose token is read once. */
  session(account: { id: number; kind: AccountKind }): Session {
    let session = this.#sessions.get(account.id);
    if (!session) {
      const made = sessionFor(this.#services, account);
      let token: Promise<string> | undefined;
      session = { ...made, token: () => (token ??= made.token()) };
      this.#sessions.set(account.id, session);
    }
    return session;
  }
}

/** Carries out an act at a network or service. @throws NetworkTrouble */
export async function performOutside(services: Services, effect: ClaimedEffect, desk: Desk): Promise<Sent> {
  // A worker that was asleep past its claim must not send beside whoever has claimed the act since.
  const inTime = () => services.clock() + services.config.answerWithin <= effect.leaseUntil;
  if (effect.action === 'call') {
    const repeatable = isRepeatable(effect.input);
    if (effect.unsure && !repeatable) return 'ask';
    if (!inTime() || (!repeatable && !(await markSending(services.pool, effect)))) return 'late';
    return callService(services, effect.brandId, effect.input, effect.key);
  }
  const { pool, connectors } = services;
  if (effect.accountId === null || effect.outletId === null) throw new NetworkTrouble('fix', 'No outlet is chosen.');
  const account = await desk.account(effect.brandId, effect.accountId);
  const outlet = await desk.outlet(effect.brandId, effect.outletId);
  if (!account || !outlet || outlet.gone) throw new NetworkTrouble('fix', 'The outlet is gone.');
  const handler = connectors[account.kind].acts[effect.action as NetworkAct] as AnyHandler | undefined;
  if (!handler) throw new NetworkTrouble('fix', `${outlet.name} does not offer this.`);
  const session = desk.session(account);
  const input =
    effect.action === 'publish'
      ? await withMedia(services, outlet, effect.input, effect.unsure)
      : await withForward(effect, desk);
  const move = nextMove(handler.repeats, effect.unsure);
  if (move === 'ask') return 'ask';
  // Before the look: a token may have to be renewed first, and that takes its time.
  await session.token();
  if (move === 'look') {
    const found = await handler.find!(session, outlet.remoteId, input, effect.firstSentAt ?? services.clock());
    if (found) return found;
    if (effect.overtaken) return 'missed';
  }
  const alone = await leftAlone(pool, effect, account.kind);
  if (alone) return { outdated: alone };
  if (effect.action === 'publish') {
    const late = await tooLate(services, effect);
    if (late) return { outdated: late };
    const repeated = await beforePosting(services, desk.claims, effect, effect.input, outlet.name);
    if (repeated) return { outdated: repeated };
  }
  if (effect.action === 'reply') {
    const replying = handler as unknown as Handler<'reply'>;
    const overtaken = await beforeAnswering(services, desk.claims, effect, replying, session, outlet.remoteId);
    if (overtaken) return { outdated: overtaken };
  }
  if (!inTime() || (handler.repeats !== 'keyed' && !(await markSending(pool, effect)))) return 'late';
  if (effect.action === 'draft') {
    const model = { handler: handler as unknown as Handler<'draft'>, session, remoteId: outlet.remoteId };
    return drafted(pool, effect.brandId, model, effect.input, effect.key);
  }
  return handler.send(session, outlet.remoteId, input, effect.key);
}

/** A forwarded post goes to an outlet that the network knows by its own id. */
async function withForward(effect: ClaimedEffect, desk: Desk): Promise<ActInput> {
  if (effect.action !== 'revise' || effect.input.to === undefined) return effect.input;
  const to = await desk.outlet(effect.brandId, effect.input.to);
  if (!to || to.gone) throw new NetworkTrouble('fix', 'The outlet it would be forwarded to is gone.');
  return { ...effect.input, toRemote: to.remoteId };
}

// Which input goes with which handler, the act's own name says.
type AnyHandler = Omit<Handler<'publish'>, 'send' | 'find' | 'standing'> & {
  send(session: unknown, outlet: string, input: ActInput, key: string): Promise<Outcome>;
  find?: (session: unknown, outlet: string, input: ActInput, since: number) => Promise<Outcome | undefined>;
};
