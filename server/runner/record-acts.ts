// What was done is recorded and takes its run further, many acts in one transaction.
import { actText, type ActName, type Outcome } from '@playa/core/model/acts.ts';
import { sayAct } from '@playa/core/engine/slots.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { wellFormed } from '@playa/core/text/well-formed.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { concernsAll, CouldNotBeStored, inSavepoint, inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { markOk } from '../store/accounts.ts';
import { noteChange } from '../store/changes.ts';
import * as effects from '../store/effects.ts';
import * as effectEnds from '../store/effect-claims.ts';
import { addLogEntries, type NewLogEntry } from '../store/logbook.ts';
import { addOwnThings, type OwnThing } from '../store/own-things.ts';
import { lockRuns } from '../store/runs.ts';
import { noteAnswered } from './bring-up-to-date.ts';
import { noteDeskAnswers } from './note-answers.ts';
import { Batch } from './apply.ts';
import { setRunAside } from './run-aside.ts';
import { performLocally, type DoneLocally } from './perform-act.ts';
import type { Probe } from './probe.ts';
import { Together } from './together.ts';
import { holdUnreadable } from './take-runs.ts';
import { logFault } from './act-troubles.ts';

/**
 * Ends an act of which only that it was done can be stored. Its run waits for a person, and is told nothing of the
 * answer.
 */
async function recordBare(services: Services, { effect, sent }: ToRecord, error: unknown): Promise<void> {
  services.log.error({ err: error, effect: effect.id }, 'what came of an act could not be stored');
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    if (sent) {
      const outcome = { remoteId: cutUnits(wellFormed(sent.remoteId), 200), url: null, at: now };
      await effectEnds.endEffects(db, [{ effect, outcome }]);
    } else await effectEnds.setEffectAside(db, effect, { until: 'held', unsure: false, trouble: NOT_STORED });
    await setRunAside(
      db,
      { id: effect.runId, workflowId: effect.workflowId },
      sent ? DONE_NOT_STORED : NOT_STORED,
      now,
    );
    await noteChange(db, effect.brandId, 'runs', effect.workflowId, now);
  });
}

const DONE_NOT_STORED = 'This was done, but what came back could not be stored. It is not done again by itself.';

const NOT_STORED = 'Playa could not store what came of this step. It is kept, and can be tried again.';

interface ToRecord {
  effect: effects.ClaimedEffect;
  /** Null for what is done in the same transaction. */
  sent: Outcome | null;
  settled: () => void;
  failed: (error: unknown) => void;
}

/**
 * Records what was done and takes the runs further. What is done while one transaction is on its way is recorded by the
 * next one together.
 */
export class Recorder {
  readonly #services: Services;
  readonly #probe: Probe | undefined;
  readonly #queue: Together<ToRecord>;

  constructor(services: Services, probe: Probe | undefined) {
    this.#services = services;
    this.#probe = probe;
    this.#queue = new Together((entries) => this.#together(entries));
  }

  record(effect: effects.ClaimedEffect, sent: Outcome | null): Promise<void> {
    return new Promise((settled, failed) => this.#queue.add({ effect, sent, settled, failed }));
  }

  async #together(entries: ToRecord[]): Promise<void> {
    try {
      const refused = await recordAll(this.#services, entries, this.#probe);
      for (const entry of entries) {
        const why = refused.get(entry);
        if (why) entry.failed(why);
        else entry.settled();
      }
    } catch (error) {
      const [alone] = entries;
      if (entries.length === 1 && alone) {
        if (concernsAll(error)) return alone.failed(error);
        // It was done, and must not be done again because what came of it cannot be stored.
        try {
          await recordBare(this.#services, alone, error);
          return alone.settled();
        } catch (second) {
          return alone.failed(second);
        }
      }
      // One of them may be what the others fail for.
      for (const entry of entries) await this.#together([entry]);
    }
  }
}

/** @returns what could not be done in Playa's own tables, with why; nothing of it is kept */
async function recordAll(
  services: Services,
  entries: readonly ToRecord[],
  probe?: Probe,
): Promise<Map<ToRecord, NetworkTrouble>> {
  return inTransaction(services.pool, async (db) => {
    const refused = new Map<ToRecord, NetworkTrouble>();
    const { runs, unreadable } = await lockRuns(db, [...new Set(entries.map(({ effect }) => effect.runId))]);
    const now = services.clock();
    for (const run of unreadable) await holdUnreadable(services, db, run, now);
    const done: Done[] = [];
    for (const entry of entries) {
      const { effect, sent } = entry;
      // Whoever has lost the claim does nothing of Playa's own a second time.
      if (!sent && !(await effectEnds.holdsClaim(db, effect))) continue;
      try {
        const { written, ...outcome } = sent ? { ...sent, written: undefined } : await doLocally(db, effect);
        done.push({ effect, outcome, written });
      } catch (error) {
        const why = error instanceof CouldNotBeStored ? error.cause : error;
        if (!(why instanceof NetworkTrouble)) throw error;
        refused.set(entry, why);
      }
    }
    // Without the lease somebody else settles it; but a late answer still tells the run what became of its post.
    await effectEnds.endEffects(db, done);
    await addLogEntries(
      db,
      done.filter(({ effect }) => isLogged(effect.action)).map(({ effect, outcome }) => logEntry(effect, outcome)),
    );
    await addOwnThings(
      db,
      done.flatMap((each) => ownThing(each)),
      now,
    );
    const accounts = new Set(done.flatMap(({ effect }) => effect.accountId ?? []));
    for (const account of accounts) await markOk(db, account, now);
    const batch = new Batch(db, now, services.programs);
    await noteDeskAnswers(db, done, runs, now);
    await batch.loadItems([...runs.values()]);
    for (const { effect, outcome } of done) {
      const run = runs.get(effect.runId);
      if (run) await batch.takeOrHold(run, { type: 'done', key: effect.key, outcome }, logFault(services, run));
    }
    await batch.flush();
    // Only now, so that a run which waits is not written over what it is told.
    for (const { written } of done) await written?.tell();
    const answered = new Set(done.flatMap(({ effect }) => (effect.action === 'reply' ? [effect.runId] : [])));
    await noteAnswered(
      db,
      [...runs.values()].filter((run) => answered.has(run.id)),
      now,
    );
    probe?.('effect: recorded, not committed');
    return refused;

    function doLocally(within: Queryable, effect: effects.ClaimedEffect): Promise<DoneLocally> {
      return inSavepoint(within, () => performLocally(within, effect, { origin: services.config.origin, now }));
    }
  });
}

interface Done {
  effect: effects.ClaimedEffect;
  outcome: Outcome;
  written: DoneLocally['written'];
}

function logEntry(effect: effects.ClaimedEffect, outcome: Outcome): NewLogEntry {
  return {
    key: effect.key,
    brandId: effect.brandId,
    workflowId: effect.workflowId,
    runId: effect.runId,
    action: effect.action,
    place: effect.place,
    outletId: effect.outletId,
    text: actText(effect) ?? sayAct(effect),
    card: effect.action === 'publish' ? effect.input.card : null,
    url: outcome.url,
    remoteId: outcome.remoteId,
    at: outcome.at,
  };
}

/** What an act has left at its outlet, for knowing it again when it appears at a source. */
function ownThing({ effect, outcome: { remoteId, url }, written }: Done): OwnThing[] {
  const { brandId, workflowId, outletId } = effect;
  const made = { brandId, workflowId, outletId, remoteId };
  if (effect.action === 'record') return [{ ...made, url: null, wrote: written?.wrote ?? effect.input.values }];
  if (effect.action === 'publish') return [{ ...made, url, wrote: null }];
  return effect.action === 'reply' ? [{ ...made, url: null, wrote: null }] : [];
}

/** Looking something up leaves nothing behind that the logbook should keep. */
const isLogged = (action: ActName) => action !== 'find' && action !== 'draft';
