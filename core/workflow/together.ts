// What the live workflows of a brand do together: answer the same, post the same, or set each other off in a circle.
import type { Condition } from '../conditions/condition.ts';
import { findKeyword, readKeywords, type Keyword } from '../said/keywords.ts';
import type { Definition } from './definition.ts';
import type { Problem } from '../model/problems.ts';
import { allSteps } from './tree.ts';
import type { World } from '../model/world.ts';

/** A workflow beside others. */
export interface Beside {
  id: number;
  name: string;
  definition: Definition;
}

/** The tables that a workflow adds rows to. */
function rowsBy({ definition }: Beside): Set<number> {
  return new Set(
    allSteps(definition).flatMap(({ step }) =>
      step.verb === 'record' && !step.off && step.outlet !== null && step.match === null ? [step.outlet] : [],
    ),
  );
}

/** The outlets at which a workflow leaves something new that may appear at a source: posts, and rows. */
const madeBy = (one: Beside): Set<number> => new Set([...postsAt(one), ...rowsBy(one)]);

const watchesOf = ({ definition }: Beside): number[] => definition.sources.flatMap(({ watch }) => watch ?? []);

/** Whether what one leaves behind appears where the other looks. */
export function setsOff(one: Beside, other: Beside, world: World, made = madeBy(one)): boolean {
  return watchesOf(other).some((watch) => world.watches.get(watch)?.shows?.some((outlet) => made.has(outlet)));
}

/**
 * Whether it does so in earnest. Playa knows its own posts again, and the rows of the same workflow; rows that another
 * workflow has added are news.
 */
function startsAnother(one: Beside, other: Beside, world: World): boolean {
  if (takesOwn(other)) return setsOff(one, other, world);
  return one !== other && setsOff(one, other, world, rowsBy(one));
}

/** Whether a workflow takes also what Playa itself has made. */
const takesOwn = ({ definition }: Beside): boolean => definition.settings?.own === 'start';

/**
 * A shortest way from a workflow back to itself, over workflows that set off the next.
 *
 * @param goes whether one sets off the other
 * @returns the workflows in order, the first one not repeated at the end; null when there is none
 */
export function circleThrough<T>(start: T, all: readonly T[], goes: (one: T, other: T) => boolean): T[] | null {
  const before = new Map<T, T>();
  const queue = [start];
  for (let next = queue.shift(); next !== undefined; next = queue.shift()) {
    if (goes(next, start)) {
      const way = [next];
      while (way[0] !== start) way.unshift(before.get(way[0]!)!);
      return way;
    }
    for (const other of all) {
      if (other === start || before.has(other) || !goes(next, other)) continue;
      before.set(other, next);
      queue.push(other);
    }
  }
  return null;
}

/** What comes of a workflow being live beside others. */
export function problemsTogether(mine: Beside, others: readonly Beside[], world: World): Problem[] {
  const beside = others.filter((other) => other.id !== mine.id);
  return [...circleProblems(mine, beside, world), ...sameProblems(mine, beside, world)];
}

function circleProblems(mine: Beside, beside: readonly Beside[], world: World): Problem[] {
  const all = [mine, ...beside];
  const goes = (one: Beside, other: Beside) => setsOff(one, other, world);
  // Where every workflow on the way takes what Playa has made, nothing ends it.
  const endless = circleThrough(mine, all, (one, other) => startsAnother(one, other, world));
  const circle = endless ?? circleThrough(mine, all, goes);
  if (!circle) return [];
  const way =
    circle.length === 1
      ? 'What this posts appears at what it watches'
      : `What this posts sets off ${circle
          .slice(1)
          .map(({ name }) => `“${name}”`)
          .join(', then ')}, and that sets off this again`;
  return [
    endless
      ? { level: 'harm', step: null, says: `${way}: it would go round without end.` }
      : { level: 'advice', step: null, says: `${way}. Playa knows its own posts again and leaves them out.` },
  ];
}

/** Whether a workflow answers where its items came from. */
const answers = ({ definition }: Beside): boolean =>
  allSteps(definition).some(({ step }) => step.verb === 'reply' && !step.off);

function sameProblems(mine: Beside, beside: readonly Beside[], world: World): Problem[] {
  const problems: Problem[] = [];
  const watches = new Set(watchesOf(mine));
  const posts = postsAt(mine);
  for (const other of beside) {
    const shared = watchesOf(other).filter((watch) => watches.has(watch));
    if (shared.length === 0) continue;
    const source = world.watches.get(shared[0]!)?.name ?? 'the same source';
    const both = answers(mine) && answers(other);
    const keywords = both ? sharedKeywords(mine, other) : null;
    if (keywords && keywords.length > 0)
      problems.push({
        level: 'advice',
        step: null,
        says: `“${other.name}” answers ${keywords.map((each) => `“${each}”`).join(', ')} at ${source} too. What one has answered waits for you in the other.`,
      });
    else if (both && !keywords)
      problems.push({
        level: 'advice',
        step: null,
        says: `“${other.name}” answers ${source} too. What one has answered waits for you in the other; keep their checks apart, or pause one.`,
      });
    const same = [...postsAt(other)].filter((outlet) => posts.has(outlet));
    if (same.length > 0) {
      const names = same.map((outlet) => world.outlets.get(outlet)?.name ?? 'an outlet');
      problems.push({
        level: 'advice',
        step: null,
        says: `“${other.name}” posts from ${source} to ${names.join(', ')} too, so that people there may see the same twice. Leave the outlet out of one, or pause one.`,
      });
    }
  }
  return problems;
}

/** Keywords by which a workflow takes what people write; null where it takes other things too. */
function keywordsOf({ definition }: Beside): Keyword[] | null {
  const lists = definition.steps.flatMap((step) =>
    step.verb === 'check' && !step.off ? mentionsIn(step.condition) : [],
  );
  return lists.length === 0 ? null : lists.flatMap(readKeywords);
}

/** Lists of keywords of which one must be used, in what must hold. */
function mentionsIn(condition: Condition): string[] {
  if (condition.type === 'test') return condition.op === 'mentions' ? [String(condition.value ?? '')] : [];
  const inside = condition.items.map(mentionsIn);
  if (condition.match === 'all') return inside.find((each) => each.length > 0) ?? [];
  // Where one of several is enough, each of them has to be about keywords.
  return inside.every((each) => each.length > 0) ? inside.flat() : [];
}

/** Keywords that both take, also in each other's misspellings; null where one of them takes other things too. */
function sharedKeywords(mine: Beside, other: Beside): string[] | null {
  const [ours, theirs] = [keywordsOf(mine), keywordsOf(other)];
  if (!ours || !theirs) return null;
  return ours
    .filter((each) => findKeyword(each.said, theirs) ?? theirs.some(({ said }) => findKeyword(said, [each])))
    .map(({ said }) => said);
}

function postsAt({ definition }: Beside): Set<number> {
  return new Set(
    allSteps(definition).flatMap(({ step }) => (step.verb === 'publish' && !step.off ? step.outlets : [])),
  );
}
