import { advance } from '../engine/advance.ts';
import type { Trace } from '../engine/cells.ts';
import { compile, type Program } from '../engine/program.ts';
import type { RunState } from '../engine/state.ts';
import type { Item } from '../items/item.ts';
import type { Definition } from '../workflow/definition.ts';
import type { World } from '../workflow/world.ts';

/** An item of the past, with what tells it apart on the sheet. */
export interface PastItem extends Item {
  id: number;
  watch: number;
  /** When Playa saw it, or would have: milliseconds since 1970 UTC. */
  seenAt: number;
}

/** What would have become of one item. */
export interface Rehearsed {
  item: number;
  outcome: 'done' | 'stopped' | 'held';
  /** The step where it ended; null when it went all the way. */
  endedAt: string | null;
  trace: Trace;
}

/**
 * The rehearsal driver: runs the interpreter over past items in order of time, on a clock that jumps to each. Outlets
 * are pretended and take whatever they are given at once; what is held stays held, since nobody is there to decide.
 *
 * @param expectedDelay milliseconds between an item's publication and its being noticed, where it was not seen live
 */
export function* rehearse(
  definition: Definition,
  world: World,
  items: readonly PastItem[],
  expectedDelay = 0,
): Generator<Rehearsed, void> {
  const program = compile(definition, world);
  for (const item of [...items].sort((a, b) => momentOf(a) - momentOf(b) || a.id - b.id)) {
    yield rehearseItem(program, item, momentOf(item) + expectedDelay);
  }
}

/** One item through a program, as a rehearsal shows it. */
export function rehearseItem(program: Program, item: PastItem, now: number): Rehearsed {
  const context = { item, now, run: 'rehearsal' };
  let result = advance(program, null, { type: 'arrived' }, context);
  const trace = pretended(result.trace);
  // Each pretended step lets the run go on; one that is held keeps it where it is.
  while (result.state.status === 'waiting') {
    result = advance(program, result.state, { type: 'pretended', at: now }, context);
    Object.assign(trace, pretended(result.trace));
  }
  const { status } = result.state;
  return {
    item: item.id,
    outcome: status === 'done' || status === 'stopped' ? status : 'held',
    endedAt: endOf(program, result.state),
    trace,
  };
}

// A rehearsal says "would be posted": what the live driver would be sending is only planned, and has no key.
function pretended(trace: Trace): Trace {
  for (const step in trace) {
    const cell = trace[step]!;
    if (cell.kind !== 'posts') continue;
    for (const post of cell.posts) {
      post.key = undefined;
      if (post.status === 'sending') post.status = 'planned';
    }
  }
  return trace;
}

function endOf(program: Program, state: RunState): string | null {
  return state.status === 'done' ? null : (program.steps[state.at]?.id ?? null);
}

/** When an item counts as having appeared. */
export function momentOf(item: PastItem): number {
  return item.publishedAt ?? item.seenAt;
}
