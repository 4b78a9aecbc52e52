// What the engine keeps of runs for others to read: what they hold, and which posts they may still come to.
import { postsAhead } from '@playa/core/engine/ahead.ts';
import type { Program } from '@playa/core/engine/program.ts';
import { nextWake, slotsIn, type RunState } from '@playa/core/model/state.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { Queryable } from '../db/database.ts';
import { keepHeld } from '../store/held.ts';
import { keepPostsAhead } from '../store/planned.ts';
import type { Run } from '../store/runs.ts';

/** What a run in this state holds. */
export const heldSlots = (state: RunState) =>
  state.status === 'held' ? slotsIn(state).filter((slot) => slot.status === 'held') : [];

/** What a run in this state may still come to, where it waits for a moment. */
export const postsOf = (definition: Definition, state: RunState) =>
  nextWake(state) === null ? [] : postsAhead(definition, state);

/** Keeps the records of runs that are about to be stored, and of nothing where there was and is nothing to keep. */
export async function keepRecords(
  db: Queryable,
  saves: readonly { run: Run & { state: RunState }; program: Program }[],
  now: number,
): Promise<void> {
  const held = saves.filter(({ run }) => run.was.status === 'held' || run.state.status === 'held');
  if (held.length > 0)
    await keepHeld(
      db,
      held.map(({ run }) => ({ ...run, slots: heldSlots(run.state) })),
      now,
    );
  const ahead = saves.filter(({ run }) => run.was.wakes || nextWake(run.state) !== null);
  await keepPostsAhead(
    db,
    ahead.map(({ run, program }) => ({
      id: run.id,
      brandId: run.brandId,
      posts: postsOf(program.definition, run.state),
    })),
  );
}
