// A run whose item has changed meanwhile: a row that was corrected, moved or withdrawn, a review that was edited.
import { advance } from '@playa/core/engine/advance.ts';
import type { Trace } from '@playa/core/model/cells.ts';
import type { Program } from '@playa/core/engine/program.ts';
import type { RunEvent } from '@playa/core/model/state.ts';
import { differingFields } from '@playa/core/items/differing.ts';
import { usesField } from '@playa/core/workflow/uses-field.ts';
import type { Queryable } from '../db/database.ts';
import { doneEffects, lockUnsent, noteOvertaken, takeBack, type DoneEffect } from '../store/acts-of-run.ts';
import { itemsById, reviseItem, type StoredItem } from '../store/items.ts';
import { type Run } from '../store/runs.ts';
import { gatheringsOf } from '../store/gatherings.ts';
import { wroteAgain } from '../store/journeys.ts';
import { markChanged } from '../store/run-changes.ts';

const NOTHING_GATHERED = { joined: false, stale: false };

/** What a run did itself shows in its item, and is no news to it: the answer it gave, the columns it wrote. */
function ownFields(done: readonly DoneEffect[]): Set<string> {
  return new Set(
    done.flatMap(({ act }) =>
      act?.action === 'record'
        ? Object.keys(act.input.values)
        : act?.action === 'reply' || act?.action === 'message'
          ? ['answered', 'answeredAt']
          : [],
    ),
  );
}

/**
 * What the change of its item means for a run that is under way.
 *
 * @param run locked
 * @returns null when it goes on as it was
 */
export async function changeOf(
  db: Queryable,
  run: Run,
  program: Program,
  items: { before: StoredItem; after: StoredItem },
  now: number,
): Promise<Extract<RunEvent, { type: 'changed' | 'withdrawn' }> | null> {
  if (!run.state) return null;
  const gathered = program.gathers ? await gatheringsOf(db, run.id) : NOTHING_GATHERED;
  // What has ended, and put nothing into what is gathered, can only come back.
  const withdrawn = (why: string) =>
    run.status === 'stopped' && !gathered.joined ? null : { type: 'withdrawn' as const, why };
  if (program.settings.whenTheyWrite === 'end' && (await wroteAgain(db, run.id)))
    return withdrawn('they have written again');
  // What was on its way when it changed before, and was not sent after all, is planned anew.
  const acts = await lockUnsent(db, run.id);
  const stranded = acts.some(({ overtaken }) => overtaken === 1);
  const rule = program.settings.whileOpen ?? 'update';
  if (rule === 'keep' && !gathered.stale && !stranded) return null;
  if (rule !== 'keep' && items.after.gone) return withdrawn('it is gone at its source');
  const done = await doneEffects(db, run.id);
  const own = ownFields(done);
  const differing = differingFields(items.before.fields, items.after.fields).filter(
    (name) => !own.has(name) && usesField(program.definition, name),
  );
  const differs = rule !== 'keep' && differing.length > 0;
  if (!differs && !gathered.stale && !stranded) return null;
  if (differs && rule === 'end') return withdrawn('it has changed');
  const outcomes = new Map(done.flatMap(({ key, outcome }) => (outcome ? [[key, outcome] as const] : [])));
  const event = (takenBack: ReadonlySet<string>): Extract<RunEvent, { type: 'changed' }> => ({
    type: 'changed',
    trace: run.trace,
    outcomes,
    takenBack,
  });
  // Whether it can be done at all is asked before anything is taken back: what is on its way stays on its way.
  const unsent = new Set(acts.map(({ key }) => key));
  const context = { item: items.after, watch: items.after.watchId, now, run: run.uuid };
  if (advance(program, run.state, event(unsent), context).kept) return null;
  await takeBack(db, acts);
  await noteOvertaken(db, run.id);
  return event(unsent);
}

/** What runs have answered, or found answered, says so from now on, also to other runs that are about it. */
export async function noteAnswered(db: Queryable, runs: readonly Pick<Run, 'itemId'>[], now: number): Promise<void> {
  const items = await itemsById(db, [...new Set(runs.map((run) => run.itemId))]);
  for (const item of items.values()) {
    if (item.fields.answered !== false) continue;
    await reviseItem(db, item, { ...item.fields, answered: true });
    await markChanged(db, item.id, now);
  }
}

/** Whether somebody has seen anything of a run, or is about to. */
export function hasSent(trace: Trace): boolean {
  return Object.values(trace).some(
    (cell) =>
      (cell.kind === 'posts' && cell.posts.some((post) => post.status === 'posted' || post.status === 'planned')) ||
      (cell.kind === 'acts' && cell.acts.some((act) => act.status === 'done' || act.status === 'planned')),
  );
}

/** Whether a run ended, by the change alone, before anybody saw anything of it. */
export const isWithdrawn = (run: Pick<Run, 'status'>, trace: Trace): boolean =>
  run.status === 'stopped' && !hasSent(trace);
