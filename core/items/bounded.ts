// What comes from outside, brought within bounds before it is stored, worded or learned from: every text well formed,
// nothing nested without end, nothing longer than anybody can mean.
import { cutUnits } from '../text/graphemes.ts';
import { partedMarks, wellFormed } from '../text/well-formed.ts';
import { storable } from './identity.ts';
import type { FieldValue, Fields, Item } from './item.ts';

/** How much one thing from outside may be. */
export const BOUNDS = {
  /** Lists and records within one another. What a run stores wraps them some ten times more. */
  depth: 12,
  /** Values in all, those within lists and records included. */
  values: 20_000,
  /** UTF-16 code units of one text; a longer one is cut at the end of a character and ends with an ellipsis. */
  text: 100_000,
  /** UTF-16 code units of the name of a field. */
  name: 300,
} as const;

/** Why something from outside is not taken. */
export class OutOfBounds extends Error {
  override name = 'OutOfBounds';
  readonly code: 'depth' | 'values';
  constructor(code: OutOfBounds['code']) {
    super(
      code === 'depth'
        ? `It is nested more than ${BOUNDS.depth} deep.`
        : `It holds more than ${BOUNDS.values.toLocaleString('en')} values.`,
    );
    this.code = code;
  }
}

/**
 * A JSON value within bounds, copied only where something had to be changed.
 *
 * @throws OutOfBounds when it is nested too deep or holds too much; a text that is too long is cut instead
 * @example bounded({ note: 'sea \ud83c' }) // { note: 'sea \ufffd' }
 */
export function bounded(value: FieldValue): FieldValue {
  let left: number = BOUNDS.values;
  const visit = (each: FieldValue, depth: number): FieldValue => {
    if (typeof each === 'string') return boundedText(each);
    if (each === null || typeof each !== 'object') return each;
    if (depth >= BOUNDS.depth) throw new OutOfBounds('depth');
    const entries = Array.isArray(each) ? each.length : Object.keys(each).length;
    if ((left -= entries) < 0) throw new OutOfBounds('values');
    if (Array.isArray(each)) {
      const list = each.map((inner) => visit(inner, depth + 1));
      return list.every((inner, index) => inner === each[index]) ? each : list;
    }
    let same = true;
    const record = Object.entries(each).flatMap(([name, inner]) => {
      const kept = cutUnits(wellFormed(name), BOUNDS.name);
      const now = visit(inner, depth + 1);
      same &&= kept === name && now === inner && name !== '__proto__';
      // In the language's own objects this is no field but what they inherit from.
      return name === '__proto__' ? [] : [[kept, now] as const];
    });
    return same ? each : Object.fromEntries(record);
  };
  return visit(value, 0);
}

/** A text within bounds. */
export function boundedText(text: string): string {
  const whole = partedMarks(wellFormed(text));
  return whole.length <= BOUNDS.text ? whole : `${cutUnits(whole, BOUNDS.text - 1)}…`;
}

/** The first and last moments that can be stored, milliseconds since 1970 UTC: the years 1000 to 9999. */
const FIRST = Date.UTC(1000, 0, 1);
const LAST = Date.UTC(9999, 11, 31);

/**
 * An item within bounds. A moment that no calendar has counts as not said.
 *
 * @throws OutOfBounds
 */
export function boundedItem(item: Item): Item {
  const { publishedAt } = item;
  const said = publishedAt !== null && publishedAt >= FIRST && publishedAt <= LAST;
  return {
    identity: storable(item.identity),
    publishedAt: said ? publishedAt : null,
    fields: bounded(item.fields) as Fields,
  };
}

/** Items within bounds, and what is wrong with those that are not. One that is refused holds back no other. */
export function boundedItems(items: readonly Item[]): { items: Item[]; refused: { identity: string; why: string }[] } {
  const kept: Item[] = [];
  const refused: { identity: string; why: string }[] = [];
  for (const item of items) {
    try {
      kept.push(boundedItem(item));
    } catch (error) {
      if (!(error instanceof OutOfBounds)) throw error;
      refused.push({ identity: storable(item.identity), why: error.message });
    }
  }
  return { items: kept, refused };
}
