// A run that is only rehearsed, and what is told of it.
import type { Item } from '../items/item.ts';
import { slotsIn, type RunState, type Slot } from '../model/state.ts';
import type { Trace } from '../model/cells.ts';

/** An item of the past, with what tells it apart on the sheet. */
export interface PastItem extends Item {
  id: number;
  watch: number;
  /** When Playa saw it, or would have: milliseconds since 1970 UTC. */
  seenAt: number;
}

export interface VirtualRun {
  number: number;
  item: PastItem;
  state: RunState | null;
  trace: Trace;
  /** What it must follow, when runs of the same person keep their order. */
  order: string | null;
  /** Whether it has been said what becomes of it. */
  told: boolean;
}

export function before(a: VirtualRun, b: VirtualRun): boolean {
  return momentOf(a.item) < momentOf(b.item) || (momentOf(a.item) === momentOf(b.item) && a.item.id < b.item.id);
}

/** Whether a rehearsal can let something of the run count as done. */
export function hasAsked(state: RunState): boolean {
  const { wait } = state.root;
  if (wait?.for === 'acts') return wait.slots.some(isAsked);
  return (wait?.for === 'inside' || wait?.for === 'elements') && slotsIn(state).some(isAsked);
}

const isAsked = (slot: Slot) => slot.status === 'planned' || (slot.status === 'held' && slot.trouble === 'asks');
// A rehearsal says "would be posted": nothing of it is in an outbox, and it has no key.
export function wouldBe(cell: Trace[string]): Trace[string] {
  if (cell.kind === 'posts') {
    for (const post of cell.posts) {
      post.key = undefined;
      if (post.status === 'planned') post.status = 'would';
    }
  } else if (cell.kind === 'acts') {
    for (const act of cell.acts) {
      act.key = undefined;
      if (act.status === 'planned' || act.status === 'done') act.status = 'would';
      if (act.trouble === 'asks') act.status = 'would';
    }
  }
  return cell;
}

/** The step at which a run ended or stands. */
export function endOf(state: RunState, trace: Trace): string | null {
  if (state.status === 'done') return null;
  if (state.status === 'stopped') {
    // Inside a Split the step that stopped it is not the one the run stands at.
    let stopped: string | null = null;
    for (const place in trace) {
      const { kind, off } = trace[place]!;
      if ((kind === 'stops' || kind === 'joined') && !off && !place.includes('#')) stopped = place;
    }
    if (stopped) return stopped;
  }
  return state.root.at;
}

/** When an item counts as having appeared. */
export function momentOf(item: PastItem): number {
  return item.publishedAt ?? item.seenAt;
}
