// What a manager asks of the desk: how fast and how often people are answered, by whom, and how the stars stand.
import { DateTime } from 'luxon';
import type { DeskKind } from '../desk/kinds.ts';
import { kaplanMeier, timeUntil, type Waited } from './kaplan-meier.ts';

/** Something that somebody wrote, as far as it is counted. */
export interface Counted {
  kind: DeskKind;
  outletId: number | null;
  stars: number | null;
  /** Milliseconds since 1970 UTC. */
  saidAt: number;
  answeredAt: number | null;
  /** workflow: by itself, with nobody's yes; person: by a colleague, or with their yes; there: at the network itself. */
  by: 'workflow' | 'user' | 'there' | null;
  /** open: still waits. left: needs no answer. gone: they took it back. */
  state: 'open' | 'answered' | 'left' | 'gone';
}

/** How fast people were answered. */
export interface Speed {
  /** How many wrote who wanted an answer: answered and waiting. */
  asked: number;
  answered: number;
  waiting: number;
  /** Of those who wanted an answer, how many have one; null of none. */
  share: number | null;
  /** Milliseconds until half, and nine in ten, were answered; null where too many still wait for it to be known. */
  median: number | null;
  ninety: number | null;
}

/** The numbers of one week. */
export interface Week extends Speed {
  /** The day it begins with, a Monday of the brand's zone: "2026-11-23". */
  week: string;
  /** Answers by who gave them. */
  alone: number;
  people: number;
  there: number;
  /** Left without one. */
  left: number;
  /** Reviews with stars, and their mean; null of none. */
  reviews: number;
  stars: number | null;
}

export interface DeskNumbers {
  weeks: Week[];
  /** Of the whole stretch, by place, those with the most first. */
  places: (Speed & { outletId: number | null; reviews: number; stars: number | null })[];
  all: Speed;
  /** How many reviews had one star to five, in this order. */
  byStars: [number, number, number, number, number];
}

/**
 * Counts what people wrote over some weeks.
 *
 * @param said all of the stretch, in any order
 * @param from the first moment, `now` the last; weeks begin on Mondays of `zone` (ISO 8601)
 */
export function deskNumbers(
  said: readonly Counted[],
  { from, now, zone }: { from: number; now: number; zone: string },
): DeskNumbers {
  const weeks: { from: number; week: string; said: Counted[] }[] = [];
  for (let at = mondayOf(from, zone); at.toMillis() <= now; at = at.plus({ weeks: 1 }))
    weeks.push({ from: at.toMillis(), week: at.toISODate()!, said: [] });
  const places = new Map<number | null, Counted[]>();
  const byStars: DeskNumbers['byStars'] = [0, 0, 0, 0, 0];
  const waitOf = ({ saidAt, answeredAt }: Counted) => (answeredAt ?? now) - saidAt;
  // In the order of their waiting, so that every share of them is too: they are sorted once, and not for each week and place.
  const within = said.filter(({ saidAt }) => saidAt >= from && saidAt <= now).sort((a, b) => waitOf(a) - waitOf(b));
  for (const each of within) {
    // By comparing moments: to ask the calendar of each of thousands costs a hundred times as much.
    weeks.findLast(({ from: begins }) => begins <= each.saidAt)?.said.push(each);
    const there = places.get(each.outletId);
    if (there) there.push(each);
    else places.set(each.outletId, [each]);
    if (each.stars !== null && each.stars >= 1 && each.stars <= 5) byStars[each.stars - 1]!++;
  }
  return {
    weeks: weeks.map(({ week, said: of }) => ({ week, ...speedOf(of, now), ...whoOf(of), ...starsOf(of) })),
    places: [...places]
      .map(([outletId, of]) => ({ outletId, ...speedOf(of, now), ...starsOf(of) }))
      .sort((a, b) => b.asked - a.asked || (a.outletId ?? 0) - (b.outletId ?? 0)),
    all: speedOf(within, now),
    byStars,
  };
}

const mondayOf = (at: number, zone: string) => DateTime.fromMillis(at, { zone }).startOf('week');

/** What was left, or taken back, wanted no answer and is not counted; what was answered before it was taken back is. */
function speedOf(said: readonly Counted[], now: number): Speed {
  const waited: Waited[] = [];
  let answered = 0;
  let waiting = 0;
  for (const { saidAt, answeredAt, by, state } of said) {
    if (by !== null) {
      answered++;
      // When somebody answered at the network before Playa looked, nobody knows when.
      if (answeredAt !== null) waited.push({ time: Math.max(0, answeredAt - saidAt), over: true });
    } else if (state === 'open') {
      waiting++;
      waited.push({ time: Math.max(0, now - saidAt), over: false });
    }
  }
  const steps = kaplanMeier(waited);
  const asked = answered + waiting;
  return {
    asked,
    answered,
    waiting,
    share: asked === 0 ? null : answered / asked,
    median: timeUntil(steps, 0.5),
    ninety: timeUntil(steps, 0.9),
  };
}

function whoOf(said: readonly Counted[]): Pick<Week, 'alone' | 'people' | 'there' | 'left'> {
  const count = (fits: (each: Counted) => boolean) => said.filter(fits).length;
  return {
    alone: count(({ by }) => by === 'workflow'),
    people: count(({ by }) => by === 'user'),
    there: count(({ by }) => by === 'there'),
    left: count(({ by, state }) => by === null && state === 'left'),
  };
}

function starsOf(said: readonly Counted[]): { reviews: number; stars: number | null } {
  const given = said.flatMap(({ stars }) => stars ?? []);
  return {
    reviews: given.length,
    stars: given.length === 0 ? null : given.reduce((sum, stars) => sum + stars, 0) / given.length,
  };
}
