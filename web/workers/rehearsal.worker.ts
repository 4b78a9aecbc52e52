import { rehearse, type Rehearsed } from '@playa/core/rehearsal/rehearse.ts';
import type { Lint } from '@playa/core/rehearsal/lints.ts';
import { Summing, type RecentPost, type Summary } from '@playa/core/rehearsal/summary.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { World } from '@playa/core/model/world.ts';
import { withChanged } from '../lib/changed-items.ts';
import { type PastItem } from '@playa/core/rehearsal/virtual-run.ts';

export interface RehearsalOrder {
  id: number;
  definition: Definition;
  // What is as it was with the order before is left out: each order copies what it holds.
  world?: World | undefined;
  /** Of thousands of items those that are new or have changed, and whether there are any others. */
  items?: { these: PastItem[]; only: boolean } | undefined;
  recent?: RecentPost[] | undefined;
}
export interface RehearsalNews {
  id: number;
  done: number;
  of: number;
  /** Whether this is the last of it. */
  finished: boolean;
  summary: Summary;
  /** Where each item ended, for the filters; cells are computed where they are shown. */
  ends: [item: number, end: ItemEnd][];
  milliseconds: number;
}
export interface ItemEnd {
  outcome: Rehearsed['outcome'];
  endedAt: string | null;
  /** The outlets at which it says too much. */
  tooLong: number[];
  empty: boolean;
  lints: Lint[];
}

let newest = 0;
/** As they were sent last. */
let world: World;
let items: PastItem[] = [];
let recent: RecentPost[] = [];
const SLICE = 400;

self.onmessage = async (event: MessageEvent<RehearsalOrder>) => {
  const { id, definition, items: sent } = event.data;
  ({ world = world, recent = recent } = event.data);
  if (sent) items = sent.only ? sent.these : withChanged(items, sent.these);
  newest = id;
  const began = performance.now();
  const past = items;
  const summing = new Summing(definition, world, recent);
  let ends: RehearsalNews['ends'] = [];
  let done = 0;
  const tell = (finished: boolean) => {
    const news: RehearsalNews = {
      id,
      done,
      of: past.length,
      finished,
      summary: summing.summary,
      ends,
      milliseconds: performance.now() - began,
    };
    self.postMessage(news);
    ends = [];
  };
  for (const rehearsed of rehearse(definition, world, past)) {
    const lints = summing.add(rehearsed);
    ends.push([rehearsed.item, endOf(rehearsed, [...lints])]);
    if (++done % SLICE === 0) {
      tell(false);
      // Lets a newer order in.
      await new Promise((next) => setTimeout(next));
      if (newest !== id) return;
    }
  }
  tell(true);
};

function endOf({ outcome, endedAt, trace }: Rehearsed, lints: Lint[]): ItemEnd {
  const tooLong: number[] = [];
  let empty = false;
  for (const cell of Object.values(trace)) {
    for (const { trouble, outlet } of cell.kind === 'posts' ? cell.posts : cell.kind === 'acts' ? cell.acts : []) {
      if (trouble === 'too-long' && outlet !== null) tooLong.push(outlet);
      empty ||= trouble === 'empty';
    }
    if (cell.kind === 'text') empty ||= cell.empty.length > 0;
  }
  return { outcome, endedAt, tooLong, empty, lints };
}
