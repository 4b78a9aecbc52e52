import type { Brake } from '../workflow/settings.ts';
import type { Rehearsed } from './rehearse.ts';

const HOUR = 3_600_000;

/**
 * The most that would have gone out at one outlet within an hour and within a day; null when nothing would. By moments
 * that slide, as the brake counts them.
 */
export function busiestAt(rehearsed: readonly Rehearsed[]): Brake | null {
  const moments = new Map<number, number[]>();
  for (const { trace } of rehearsed)
    for (const cell of Object.values(trace)) {
      const sent = cell.off
        ? []
        : cell.kind === 'posts'
          ? cell.posts
          : cell.kind === 'acts'
            ? cell.acts.filter(isSent)
            : [];
      for (const { outlet, at, trouble } of sent) {
        if (outlet === null || trouble) continue;
        const known = moments.get(outlet);
        if (known) known.push(at);
        else moments.set(outlet, [at]);
      }
    }
  if (moments.size === 0) return null;
  const all = [...moments.values()].map((each) => each.sort((a, b) => a - b));
  return {
    hour: Math.max(...all.map((each) => most(each, HOUR))),
    day: Math.max(...all.map((each) => most(each, 24 * HOUR))),
  };
}

const isSent = ({ action }: { action: string }) => action === 'reply' || action === 'message' || action === 'react';

/** The most of some moments, in order, that lie within a period. */
function most(moments: readonly number[], period: number): number {
  let from = 0;
  let found = 0;
  moments.forEach((moment, index) => {
    while (moments[from]! <= moment - period) from++;
    found = Math.max(found, index - from + 1);
  });
  return found;
}

/** A brake for a workflow that has been as busy as this: room to grow, and no less than the usual one. */
export function brakeFor(busiest: Brake | null, usual: Brake): Brake {
  if (!busiest) return usual;
  return { hour: Math.max(usual.hour, busiest.hour * 3), day: Math.max(usual.day, busiest.day * 3) };
}
