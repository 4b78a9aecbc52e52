// What another version of a workflow would make of the same item, told apart piece by piece.
import type { Cell } from '../model/cells.ts';
import { rehearse, type Rehearsed } from './rehearse.ts';
import type { PastItem } from './virtual-run.ts';
import type { Definition } from '../workflow/definition.ts';
import type { World } from '../model/world.ts';

/** What of a post, answer or message differs. */
export type Aspect = 'words' | 'title' | 'card' | 'media' | 'trouble' | 'outcome';

export interface Difference {
  aspect: Aspect;
  /** Where it differs in just this way; empty for what no outlet does. */
  outlets: number[];
  /** Null when there was nothing of the sort, or will be nothing. */
  before: string | null;
  after: string | null;
}

/**
 * What differs between two versions of a workflow for the same items, under the rules of each: whoever is let through
 * only once, what is gathered, what waits its turn. Wordings fall by the same chances.
 *
 * @returns those items for which something differs, in the order given
 */
export function differencesBetween(
  before: Definition,
  after: Definition,
  world: World,
  items: readonly PastItem[],
): { item: PastItem; all: Difference[] }[] {
  const made = (definition: Definition) =>
    new Map([...rehearse(definition, world, items, { comparable: true })].map((each) => [each.item, each]));
  const [then, now] = [made(before), made(after)];
  return items.flatMap((item) => {
    const [was, is] = [then.get(item.id), now.get(item.id)];
    const all = was && is ? differencesOf(was, is) : [];
    return all.length > 0 ? [{ item, all }] : [];
  });
}

/** What differs between two outcomes of one item; what differs alike at several outlets is said once. */
export function differencesOf(before: Rehearsed, after: Rehearsed): Difference[] {
  const [then, now] = [aspectsOf(before), aspectsOf(after)];
  const found = new Map<string, Difference>();
  for (const key of new Set([...then.keys(), ...now.keys()])) {
    const [was, is] = [then.get(key), now.get(key)];
    if (was?.value === is?.value) continue;
    const { aspect, outlet } = (is ?? was)!;
    const [old, next] = [was?.value ?? null, is?.value ?? null];
    const same = JSON.stringify([aspect, old, next]);
    const known = found.get(same);
    const outlets = outlet === null ? [] : [outlet];
    if (known) known.outlets.push(...outlets);
    else found.set(same, { aspect, outlets, before: old, after: next });
  }
  return [...found.values()];
}

interface Said {
  aspect: Aspect;
  outlet: number | null;
  value: string;
}

/** Everything that a reader would notice of an item, by where and what it is. */
function aspectsOf({ trace, outcome }: Rehearsed): Map<string, Said> {
  const all = new Map<string, Said>();
  const times = new Map<string, number>();
  const add = (aspect: Aspect, outlet: number | null, value: string) => {
    // Several posts at one outlet are told apart by their order.
    const place = `${aspect} ${outlet}`;
    const time = (times.get(place) ?? 0) + 1;
    times.set(place, time);
    all.set(`${place} ${time}`, { aspect, outlet, value });
  };
  for (const cell of Object.values(trace)) if (!cell.off) aspects(cell, add);
  add('outcome', null, outcome);
  return all;
}

function aspects(cell: Cell, add: (aspect: Aspect, outlet: number | null, value: string) => void): void {
  if (cell.kind === 'acts')
    for (const { outlet, says, text, what } of cell.acts) {
      add('words', outlet, text ?? what);
      if (says) add('trouble', outlet, says);
    }
  if (cell.kind !== 'posts') return;
  for (const { outlet, says, text, card, more } of cell.posts) {
    add('words', outlet, text);
    // What stands in its way is said beside the words, not in their place.
    if (says) add('trouble', outlet, says);
    if (more?.title) add('title', outlet, more.title);
    if (card) add('card', outlet, card);
    for (const { type, alt } of more?.media ?? []) add('media', outlet, alt ? `${type}: ${alt}` : type);
  }
}
