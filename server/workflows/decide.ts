import { ACT_INPUTS, actText, hasMedia, type Act } from '@playa/core/model/acts.ts';
import { slotsIn, type Decision, type Slot } from '@playa/core/model/state.ts';
import { purposeOf, titleRules, wordRules } from '@playa/core/outlets/length.ts';
import { refusal } from '@playa/core/captions/say.ts';
import { writtenText } from '@playa/core/captions/written.ts';
import { inTransaction, type Queryable } from '../db/database.ts';
import { Batch } from '../runner/apply.ts';
import type { Services } from '../base/services.ts';
import { addAudit, type Deed } from '../store/audit.ts';
import { noteDecidedBy } from '../store/desk.ts';
import { settledEffects } from '../store/acts-of-run.ts';
import { addLogEntries } from '../store/logbook.ts';
import { outletBy } from '../store/outlets.ts';
import { lockRun, runBy } from '../store/runs.ts';

/** Why a decision cannot be carried out, in a sentence. */
export class CannotDecide extends Error {
  override name = 'CannotDecide';
}

/** What a person decides, as it comes in: an input of any act, not looked at yet. */
export type Decided = Exclude<Decision, { do: 'retry' }> | { do: 'retry'; text?: string | undefined; input?: unknown };

/** Carries out what a person decided about something held. @throws CannotDecide */
export function decide(
  services: Services,
  brandId: number,
  runId: number,
  key: string,
  decided: Decided,
): Promise<void> {
  return inTransaction(services.pool, (db) => decideWithin(db, services, { brandId, runId, key }, decided));
}

/** The same within a transaction that does more. @throws CannotDecide, with nothing changed */
export async function decideWithin(
  db: Queryable,
  services: Services,
  { brandId, runId, key }: { brandId: number; runId: number; key: string },
  decided: Decided,
): Promise<void> {
  const run = (await runBy(db, brandId, runId)) && (await lockRun(db, runId));
  if (!run?.state) throw new CannotDecide('This run is gone, or has not begun.');
  const now = services.clock();
  const batch = new Batch(db, now, services.programs);
  // What has just changed is not decided about in its old words: the person is asked about the new ones.
  if (run.changed) await batch.bringUpToDate(run);
  const slot = slotsIn(run.state).find((each) => each.key === key);
  if (!slot || slot.status !== 'held')
    throw new CannotDecide('This no longer waits for you; somebody may have been faster.');
  const { actor } = services;
  if (actor.kind === 'person' && decided.do === 'retry') await noteDecidedBy(db, run.itemId, actor.userId);
  const decision = decided.do === 'retry' ? await retryOf(db, brandId, slot, decided) : decided;
  await batch.take(run, { type: 'decided', key, decision });
  await batch.flush();
  const deed = { brandId, about: 'run', id: runId, name: key } as const;
  await addAudit(db, services.actor, { ...deed, ...saidOf(slot, decision) }, now);
  if (decision.do === 'itWentOut') {
    await addLogEntries(db, [
      {
        key,
        brandId,
        workflowId: run.workflowId,
        runId,
        action: slot.action,
        place: key.split('.')[1] ?? '',
        outletId: slot.outlet,
        text: actText(slot) ?? '',
        card: slot.action === 'publish' ? slot.input.card : null,
        url: decision.url ?? null,
        remoteId: '',
        at: now,
      },
    ]);
  }
}

/** A decision as it is written down: what was said to it, and the words before and after where they differ. */
function saidOf(slot: Slot, decision: Decision): Pick<Deed, 'did' | 'was' | 'became'> {
  const was = actText(slot);
  switch (decision.do) {
    case 'skip':
      return { did: 'left out', was };
    case 'end':
      return { did: 'ended', was };
    case 'itWentOut':
      return { did: 'said it went out', was, became: decision.url ?? null };
    case 'retry': {
      const became = decision.input ? actText({ action: slot.action, input: decision.input } as Act) : decision.text;
      if (became !== undefined && became !== null && became !== was) return { did: 'sent other words', was, became };
      return { did: slot.action === 'hold' || slot.trouble === 'asks' ? 'said yes' : 'tried again', was };
    }
  }
}

/** A decision to try anew, once it is sure that what would be sent can be. */
async function retryOf(
  db: Queryable,
  brandId: number,
  slot: Slot,
  decided: Extract<Decided, { do: 'retry' }>,
): Promise<Decision> {
  const { text } = decided;
  if (slot.action === 'hold') return { do: 'retry', text };
  let input: Act['input'] | undefined;
  if (decided.input !== undefined) {
    const read = ACT_INPUTS[slot.action].safeParse(decided.input);
    if (!read.success) throw new CannotDecide('What was changed cannot be sent like this.');
    input = read.data;
  }
  const words = input ? actText({ action: slot.action, input } as Act) : (text ?? actText(slot));
  if (words !== null && words.trim() === '' && slot.action !== 'draft')
    throw new CannotDecide('Write some words first.');
  if (slot.outlet === null) return { do: 'retry', text, input };
  const outlet = await outletBy(db, brandId, slot.outlet);
  if (!outlet || outlet.gone) throw new CannotDecide('The outlet is gone, so nothing can be posted there.');
  const purpose = purposeOf(slot.action);
  if (words === null || purpose === null) return { do: 'retry', text, input };
  const rules = wordRules(outlet.kind, purpose, hasMedia(input ?? slot.input));
  // Words that stay as they were keep their formatting, and with it the length they were held with.
  const same = words === actText(slot) && slot.length !== undefined;
  const written = same ? { text: words, length: slot.length! } : writtenText(rules, words);
  const refused = refusal(rules, written, outlet.name);
  if (refused !== undefined) throw new CannotDecide(refused);
  const title = input && 'title' in input ? input.title : undefined;
  const ofTitle = titleRules(outlet.kind);
  const titleRefused = title && ofTitle && refusal(ofTitle, writtenText(ofTitle, title), outlet.name);
  if (titleRefused) throw new CannotDecide(`The title: ${titleRefused}`);
  return { do: 'retry', text, input, length: written.length };
}

/**
 * Lets a run that Playa itself stumbled over try again: from its beginning when it had not begun, otherwise by telling it
 * what came of its effects meanwhile. Nothing that went out is sent a second time.
 */
export async function tryRunAgain(services: Services, brandId: number, runId: number): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const run = (await runBy(db, brandId, runId)) && (await lockRun(db, runId));
    if (!run?.trouble) throw new CannotDecide('This run does not wait for that.');
    const batch = new Batch(db, services.clock(), services.programs);
    if (run.state) {
      const settled = await settledEffects(db, runId);
      for (const { key, status } of slotsIn(run.state)) {
        const result = settled.get(key);
        if (status !== 'planned' || !result) continue;
        await batch.take(
          run,
          'outcome' in result
            ? { type: 'done', key, outcome: result.outcome }
            : { type: 'failed', key, says: result.says, unknown: result.unsure, fault: result.fault },
        );
      }
      // Nothing was settled meanwhile: then it may have been a moment that came.
      if (run.trouble) await batch.take(run, { type: 'woke' });
    } else await batch.take(run, { type: 'arrived' });
    await batch.flush();
    await addAudit(db, services.actor, { brandId, did: 'tried again', about: 'run', id: runId }, services.clock());
  });
}
