// Where a composed text goes, and how long it is there: what the counters of the composer and of the sheet show.
import { cellsOf, type Trace } from '../model/cells.ts';
import type { TrimmedParts, Trouble } from '../model/effects.ts';
import { wordRules, type Purpose } from '../outlets/length.ts';
import type { WordRules } from '../outlets/kinds.ts';
import type { Definition } from './definition.ts';
import { allSteps } from './tree.ts';
import type { World } from '../model/world.ts';

/** A step that sends a composed text. */
export interface WordUse {
  step: string;
  outlets: readonly number[];
  purpose: Purpose;
  /** Whether the words are shortened where too few are taken. */
  fits: boolean;
}

/** The steps that send each text, by its name. */
export function wordUses(definition: Definition, world: World): Map<string, WordUse[]> {
  const uses = new Map<string, WordUse[]>();
  const add = (name: string, use: WordUse) => uses.set(name, [...(uses.get(name) ?? []), use]);
  const steps = allSteps(definition).map(({ step }) => step);
  // Where items come from that are answered at the place where they were seen.
  const seenAt = definition.sources.flatMap(({ watch }) => world.watches.get(watch ?? 0)?.outlet ?? []);
  for (const step of steps) {
    if (step.off || !('caption' in step) || !step.caption) continue;
    const use = { step: step.id, fits: step.fit === true };
    if (step.verb === 'publish') add(step.caption, { ...use, outlets: step.outlets, purpose: 'post' });
    else if (step.verb === 'revise') {
      const publish = steps.find((each) => each.verb === 'publish' && each.as === step.of);
      const outlets = publish?.verb === 'publish' ? publish.outlets : [];
      if (step.change === 'edit') add(step.caption, { ...use, outlets, purpose: 'post' });
    } else {
      const outlets = step.where === 'item' ? [...new Set(seenAt)] : step.outlet === null ? [] : [step.outlet];
      add(step.caption, { ...use, outlets, purpose: step.verb === 'reply' ? 'answer' : 'message' });
    }
  }
  return uses;
}

/** A text as one outlet would get it. */
export interface SaidAt {
  outlet: number;
  text: string;
  /** In the unit of the outlet's kind. */
  length: number;
  limit: number | null;
  trouble?: Trouble | undefined;
  trimmed?: TrimmedParts | undefined;
}

/**
 * What outlets would get of a text, by the cells of the steps that send it.
 *
 * @param place the cell in which it is composed: inside a For each only the same element counts
 */
export function saidAt(trace: Trace, uses: readonly WordUse[], place = ''): SaidAt[] {
  const element = place.includes('#') ? place.slice(place.indexOf('#')) : '';
  const found = new Map<number, SaidAt>();
  for (const { step } of uses)
    for (const { place: there, cell } of cellsOf(trace, step)) {
      if (element !== '' && !there.endsWith(element)) continue;
      const acts = cell.kind === 'posts' ? cell.posts : cell.kind === 'acts' ? cell.acts : [];
      for (const { outlet, text = '', length = 0, limit = null, trouble, trimmed } of acts)
        if (outlet !== null && !found.has(outlet)) found.set(outlet, { outlet, text, length, limit, trouble, trimmed });
    }
  return [...found.values()];
}

/** The rules of a text at an outlet to which it goes. */
export function rulesAt(uses: readonly WordUse[], outlet: number, world: World): WordRules | undefined {
  const kind = world.outlets.get(outlet)?.kind;
  const use = uses.find(({ outlets }) => outlets.includes(outlet));
  return kind && wordRules(kind, use?.purpose);
}

/** Something that would be said of an item: a post, an answer, a message, a notice. */
export interface Saying {
  outlet: number | null;
  text: string;
  /** Why it would not go out. */
  says?: string | undefined;
}

/** Everything that would be said of an item, in the order of the sheet. */
export function everythingSaid(trace: Trace): Saying[] {
  return Object.values(trace).flatMap((cell): Saying[] => {
    if (cell.kind === 'posts' && !cell.off) return cell.posts;
    return cell.kind === 'acts' && !cell.off ? cell.acts.map((act) => ({ ...act, text: act.text ?? act.what })) : [];
  });
}
