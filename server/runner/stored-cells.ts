// Which cells of a run stay when it ends or goes through its steps again.
import { cellsOf, type Trace } from '@playa/core/model/cells.ts';
import type { RunEvent } from '@playa/core/model/state.ts';

/** Cells of steps that have sent something. */
export function sentCells(trace: Trace): Trace {
  return Object.fromEntries(
    Object.entries(trace).filter(
      ([, cell]) =>
        (cell.kind === 'posts' && cell.posts.some((post) => post.status === 'posted')) ||
        (cell.kind === 'acts' && cell.acts.some((act) => act.status === 'done')),
    ),
  );
}

/** Whether an event ends the run before its time. */
export const isEnd = (event: RunEvent) =>
  event.type === 'cancelled' || event.type === 'withdrawn' || (event.type === 'decided' && event.decision.do === 'end');
export function without(trace: Trace, steps: readonly string[]): Trace {
  const kept = { ...trace };
  for (const step of steps) for (const { place } of cellsOf(trace, step)) delete kept[place];
  return kept;
}
