// Answers that people send from the desk. Each waits a moment, in which it can be called back; then it goes the way that
// everything goes: what a workflow holds goes on with these words, what no workflow holds is an item and a run of the
// workflow that Playa keeps for answers.
import { ANSWERED_BY, entryOf } from '@playa/core/desk/entry.ts';
import type { WrittenAnswer } from '@playa/core/steps/written-answer.ts';
import { fieldText } from '@playa/core/items/read-field.ts';
import type { Step } from '@playa/core/steps/index.ts';
import { sayBy } from '@playa/core/captions/say.ts';
import { wordRules } from '@playa/core/outlets/length.ts';
import { allSteps } from '@playa/core/workflow/tree.ts';
import { concernsAll, inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { Batch } from '../runner/apply.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import * as desk from '../store/desk.ts';
import * as deskTending from '../store/desk-tending.ts';
import * as deskSends from '../store/desk-sends.ts';
import type { DeskEntry } from '../store/desk.ts';
import type { DeskSend } from '../store/desk-sends.ts';
import { addItems, itemsById } from '../store/items.ts';
import { outletBy } from '../store/outlets.ts';
import { addRun, lockRun } from '../store/runs.ts';
import { CannotDecide, decideWithin } from '../workflows/decide.ts';
import { keptWorkflow } from '../watch/own-workflow.ts';

/** How long an answer can be called back, milliseconds. */
export const CALL_BACK = 10_000;

/** Steps by which a workflow answers somebody. */
const ANSWERING = new Set<Step['verb']>(['reply', 'message', 'answer']);

/** Why something at the desk cannot be done, in a sentence. */
export class DeskTrouble extends Error {
  override name = 'DeskTrouble';
  /** no-text-model: an account has to be connected, or connected again, before words can be drafted. */
  readonly why: 'no-text-model' | undefined;
  constructor(message: string, why?: 'no-text-model') {
    super(message);
    this.why = why;
  }
}

/** An answer as somebody sends it off. */
export interface Answer {
  itemId: number;
  text: string;
  /** What a workflow holds for a yes, where that is what is answered with. */
  held: { runId: number; key: string } | null;
  /** What whoever answers has seen: what they said, and whether it was answered. */
  seen?: { text: string; answered: boolean } | undefined;
}

/**
 * Sends answers off: each goes after a moment in which it can be called back.
 *
 * @returns those that could not be sent off, each with its reason; the others are on their way
 */
export async function sendOff(
  services: Services,
  brandId: number,
  userId: number,
  answers: readonly Answer[],
): Promise<{ itemId: number; why: string }[]> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const entries = await desk.lockDeskEntries(
      db,
      brandId,
      answers.map(({ itemId }) => itemId),
    );
    const items = await itemsById(
      db,
      entries.map(({ itemId }) => itemId),
    );
    const refused: { itemId: number; why: string }[] = [];
    for (const { itemId, text, held, seen } of answers) {
      const entry = entries.find((each) => each.itemId === itemId);
      const item = items.get(itemId);
      const why =
        entry && item
          ? (overtaken(entry, fieldText(item.fields.text), seen) ?? (await whyNot(db, entry, text)))
          : 'This is no longer here.';
      if (why !== null || !entry || !item) {
        refused.push({ itemId, why: why ?? '' });
        continue;
      }
      const send: DeskSend = {
        ...{ itemId, brandId, held, userId },
        text: text.trim(),
        was: fieldText(item.fields.text),
        again: entry.state === 'answered',
        dueAt: now + CALL_BACK,
      };
      if (await deskSends.addDeskSend(db, send)) {
        await deskTending.tendEntries(db, brandId, [itemId], { draft: send.text, trouble: null });
        await noteChange(db, brandId, 'desk', itemId, now);
      } else refused.push({ itemId, why: 'An answer to this is on its way already.' });
    }
    return refused;
  });
}

/** What happened between somebody's looking and their sending; null for nothing. */
function overtaken({ state }: DeskEntry, text: string, seen: Answer['seen']): string | null {
  if (!seen) return null;
  if (state === 'answered' && !seen.answered) return 'Somebody has answered this meanwhile.';
  return text === seen.text ? null : 'They have changed what they wrote. Read it again before you answer.';
}

/** Why words cannot be an answer to an entry; null when they can. */
async function whyNot(db: Queryable, entry: DeskEntry, text: string): Promise<string | null> {
  if (text.trim() === '') return 'Write some words first.';
  if (entry.state === 'gone') return 'What this answers has been deleted.';
  if (entry.answersTo === '' || entry.outletId === null) return 'This cannot be answered from here.';
  const outlet = await outletBy(db, entry.brandId, entry.outletId);
  if (!outlet || outlet.gone) return 'The outlet is gone, so nothing can be answered there.';
  const rules = wordRules(outlet.kind, ANSWERED_BY[entry.kind].act === 'reply' ? 'answer' : 'message');
  return sayBy(rules, { text: text.trim() }, null, 'en', outlet.name).refused ?? null;
}

/** Calls answers back that have not gone yet. Returns the entries of those that were called back. */
export async function callBack(services: Services, brandId: number, items: readonly number[]): Promise<number[]> {
  return inTransaction(services.pool, async (db) => {
    const back: number[] = [];
    for (const itemId of [...items].sort((a, b) => a - b)) {
      const send = await deskSends.takeDeskSend(db, itemId, brandId);
      if (!send) continue;
      back.push(itemId);
      await noteChange(db, brandId, 'desk', itemId, services.clock());
    }
    return back;
  });
}

/** Lets go the answers whose moment has come. Returns how many there were. */
export async function sendDue(services: Services, most = 50): Promise<number> {
  const due = await deskSends.dueSends(services.pool, services.clock(), most);
  for (const itemId of due) await sendOne(services, itemId);
  return due.length;
}

const STUMBLED = 'Playa itself stumbled over this answer. Its words are kept; send it again.';

const BEING_ANSWERED =
  'An answer to this is on its way, or may have arrived already. Look again in a minute before you send yours.';

async function sendOne(services: Services, itemId: number): Promise<void> {
  try {
    await inTransaction(services.pool, async (db) => {
      const send = await deskSends.takeDeskSend(db, itemId);
      if (send) await letGo(db, { ...services, actor: { kind: 'person', userId: send.userId } }, send);
    });
  } catch (error) {
    if (concernsAll(error)) throw error;
    const known = error instanceof CannotDecide || error instanceof DeskTrouble;
    if (!known) services.log.error({ err: error, item: itemId }, 'an answer could not be let go');
    const why = known ? error.message : STUMBLED;
    // The words stay at the desk, with why they did not go; the next one goes.
    await inTransaction(services.pool, async (db) => {
      const send = await deskSends.takeDeskSend(db, itemId);
      if (!send) return;
      await deskTending.tendEntries(db, send.brandId, [itemId], { draft: send.text, trouble: why });
      await noteChange(db, send.brandId, 'desk', itemId, services.clock());
    });
  }
}

/** One answer goes: with what is held, or by itself. @throws CannotDecide @throws DeskTrouble */
async function letGo(db: Queryable, services: Services, send: DeskSend): Promise<void> {
  const { brandId, itemId, held, text, userId } = send;
  const now = services.clock();
  // Read without a lock: runs are locked first, as by whoever records an answer.
  const entry = await desk.deskEntry(db, brandId, itemId);
  const item = (await itemsById(db, [itemId])).get(itemId);
  if (!entry || !item) throw new DeskTrouble('This is no longer here.');
  if (entry.state === 'gone') throw new DeskTrouble('What this answers has been deleted.');
  // When it was answered there its network says, which may be before this was sent off and only seen since.
  if (entry.state === 'answered' && (!send.again || (entry.answeredAt ?? 0) > send.dueAt - CALL_BACK))
    throw new DeskTrouble('Somebody has answered this meanwhile.');
  if (held) await decideWithin(db, services, { brandId, ...held }, { do: 'retry', text });
  else {
    const { act } = ANSWERED_BY[entry.kind];
    if (entry.outletId === null) throw new DeskTrouble('This cannot be answered from here.');
    // What waits to be said by a workflow is not said beside it.
    await endAnswers(db, services, entry, 'answered at the desk', now);
    // What is on its way arrives, though its run has ended: nobody gets two answers.
    if (await desk.isBeingAnswered(db, brandId, entry)) throw new DeskTrouble(BEING_ANSWERED);
    const workflow = await keptWorkflow(db, brandId, 'answers', now);
    const answer: WrittenAnswer = { act, outlet: entry.outletId, to: entry.answersTo, text, was: send.was };
    const count = await desk.countAnswers(db, workflow.watch, itemId);
    const { person = null, network = null, link = '' } = item.fields;
    const fields = { text: entryOf(entry.kind, item.fields).text, person, network, link, answer: { ...answer } };
    const written = { identity: `answer:${itemId}:${count + 1}`, publishedAt: now, fields, past: false };
    const [added] = await addItems(db, { brandId, watchId: workflow.watch }, [written], now);
    await deskTending.tendEntries(db, brandId, [itemId], { answerItem: added!, trouble: null });
    await desk.noteDecidedBy(db, itemId, userId);
    const { id: workflowId, version } = workflow;
    await addRun(db, { brandId, workflowId, version, itemId: added!, itemRevision: 0, dueAt: now, now });
    const deed = { brandId, did: 'answered', about: 'desk', id: itemId, name: '', became: text } as const;
    await addAudit(db, services.actor, deed, now);
    await noteChange(db, brandId, 'runs', workflowId, now);
  }
  await noteChange(db, brandId, 'desk', itemId, now);
}

/**
 * Ends the runs that are about to answer something.
 *
 * @param because in a few words, for the record
 */
export async function endAnswers(
  db: Queryable,
  services: Services,
  entry: Pick<DeskEntry, 'brandId' | 'itemId' | 'answerItem'>,
  because: string,
  now: number,
): Promise<void> {
  const { brandId } = entry;
  const batch = new Batch(db, now, services.programs);
  for (const id of await desk.openRunsAbout(db, brandId, entry)) {
    const run = await lockRun(db, id);
    if (!run || !['new', 'waiting', 'held'].includes(run.status)) continue;
    const { definition } = await batch.programOf(run);
    if (!allSteps(definition).some(({ step }) => ANSWERING.has(step.verb))) continue;
    await batch.take(run, { type: 'cancelled' });
    const deed = { brandId, did: 'cancelled', about: 'run', id, became: because } as const;
    await addAudit(db, services.actor, deed, now);
  }
  await batch.flush();
}
