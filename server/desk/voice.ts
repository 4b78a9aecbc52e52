// How a brand sounds when it answers: kept for a brand, and drafts in that voice by hand.
import { randomUUID } from 'node:crypto';
import { answeredOf } from '@playa/core/desk/entry.ts';
import type { ActInput } from '@playa/core/model/acts.ts';
import { draftedBy, type Drafted } from '@playa/core/model/drafted.ts';
import type { Voice } from '@playa/core/voice/voice.ts';
import { sessionFor } from '../accounts/sessions.ts';
import { mustBeAt, revisionOf } from '../db/revision.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { drafted } from '../runner/draft.ts';
import { accountsOf } from '../store/accounts.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { deskEntry } from '../store/desk.ts';
import { itemsById } from '../store/items.ts';
import { outletsOf, type Outlet } from '../store/outlets.ts';
import { setVoice, voiceOf } from '../store/users.ts';
import { DeskTrouble } from './send.ts';

/**
 * Keeps how a brand sounds. What is drafted from now on is worded and checked by it.
 *
 * @param seen the revision that was changed
 * @throws ChangedMeanwhile
 */
export function keepVoice(services: Services, brandId: number, voice: Voice, seen?: string): Promise<void> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const before = await voiceOf(db, brandId, true);
    mustBeAt('how the brand sounds', revisionOf(before), seen);
    await setVoice(db, brandId, voice);
    const said = { was: JSON.stringify(before), became: JSON.stringify(voice) };
    await addAudit(
      db,
      services.actor,
      { brandId, did: 'changed', about: 'brand', id: brandId, name: 'voice', ...said },
      now,
    );
    await noteChange(db, brandId, 'desk', null, now);
  });
}

/** The text models a brand can ask, by their outlets. */
export async function textModels(services: Services, brandId: number): Promise<Outlet[]> {
  const [outlets, accounts] = await Promise.all([
    outletsOf(services.pool, brandId),
    accountsOf(services.pool, brandId),
  ]);
  const able = new Set(
    accounts.flatMap(({ id, kind, status }) => (status === 'ok' && services.connectors[kind].acts.draft ? [id] : [])),
  );
  return outlets.filter(({ gone, accountId }) => !gone && accountId !== null && able.has(accountId));
}

/**
 * Has a text model draft something now, for a person to see. Nothing is sent to anybody, and nothing kept.
 *
 * @param outlet the model
 * @throws DeskTrouble when there is no such model
 * @throws NetworkTrouble when it does not answer
 */
export async function tryDraft(
  services: Services,
  brandId: number,
  outlet: number,
  input: ActInput<'draft'>,
): Promise<Drafted> {
  const model = (await textModels(services, brandId)).find((each) => each.id === outlet);
  const account = model && (await accountsOf(services.pool, brandId)).find((each) => each.id === model.accountId);
  const handler = account && services.connectors[account.kind].acts.draft;
  if (!model || !account || !handler)
    throw new DeskTrouble('This text model cannot be asked. Connect its account again.', 'no-text-model');
  const there = { handler, session: sessionFor(services, account), remoteId: model.remoteId };
  return draftedBy(await drafted(services.pool, brandId, there, input, `try.${randomUUID()}`));
}

/** How a draft by hand is asked for. */
export interface Wanted {
  /** The model; the first the brand has when left out. */
  model?: number | undefined;
  /** What it is to say, in a colleague's words. */
  instruction: string;
  /** Drafts before this one: it is to be another. */
  before: number;
}

/** Varied enough that drafting again gives another. */
const VARIETY = 0.8;
const LONGEST = 5000;

/** Drafts an answer to something on the desk. @throws DeskTrouble, NetworkTrouble */
export async function draftEntry(
  services: Services,
  brandId: number,
  itemId: number,
  { model, instruction, before }: Wanted,
): Promise<Drafted & { model: string }> {
  const entry = await deskEntry(services.pool, brandId, itemId);
  const item = (await itemsById(services.pool, entry ? [itemId] : [])).get(itemId);
  if (!entry || !item) throw new DeskTrouble('This is not on the desk.');
  const models = await textModels(services, brandId);
  const asked = model === undefined ? models[0] : models.find((each) => each.id === model);
  if (!asked)
    throw new DeskTrouble('Connect a text model under Accounts; then answers can be drafted here.', 'no-text-model');
  const answers = { ...answeredOf(entry.kind, item.fields), outlet: entry.outletId };
  const seed = (itemId * 7919 + before) % 2 ** 31;
  const input = { instruction, about: '', longest: LONGEST, variety: VARIETY, seed, answers };
  const first = await tryDraft(services, brandId, asked.id, input);
  if (!first.faults) return { ...first, model: asked.name };
  // As a workflow does: once more, with what was wrong.
  const again = { text: first.text, because: first.faults };
  const second = await tryDraft(services, brandId, asked.id, { ...input, seed: (seed + 104_729) % 2 ** 31, again });
  const used = (first.used ?? 0) + (second.used ?? 0);
  return { ...second, used, model: asked.name };
}
