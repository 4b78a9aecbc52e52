import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { keptInPlace } from './kept-in-place.ts';

interface Row {
  id: number;
  says: string;
}
const placeOf = (row: Row) => String(row.id);
const row = (id: number, says = 'waits'): Row => ({ id, says });
const shown = (rows: ReturnType<typeof keptInPlace<Row>>) =>
  rows.map(({ place, gone }) => (gone ? `(${place})` : place));

describe('a list that somebody is at', () => {
  it('keeps a row that has left it in its place, marked, and puts what is new last', () => {
    const before = keptInPlace([], [row(1), row(2), row(3)], placeOf, false);
    const kept = keptInPlace(before, [row(4), row(1), row(3)], placeOf, true);
    expect(shown(kept)).toEqual(['1', '(2)', '3', '4']);
    expect(shown(keptInPlace(kept, [row(4), row(1), row(3)], placeOf, false))).toEqual(['4', '1', '3']);
  });
  it('shows a row that has changed as it is now, and one that came back as being back', () => {
    const before = keptInPlace([], [row(1), row(2)], placeOf, false);
    const changed = keptInPlace(before, [row(1, 'waits otherwise')], placeOf, true);
    expect(changed[0]).toEqual({ place: '1', row: row(1, 'waits otherwise'), gone: false });
    expect(shown(keptInPlace(changed, [row(2), row(1)], placeOf, true))).toEqual(['1', '2']);
  });
  it('never moves a row up or down, and never loses one', () => {
    const lists = fc.array(fc.uniqueArray(fc.integer({ min: 0, max: 12 })), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(lists, ([first, ...others]) => {
        let now = keptInPlace(
          [],
          first!.map((id) => row(id)),
          placeOf,
          false,
        );
        for (const ids of others) {
          const before = now.map(({ place }) => place);
          now = keptInPlace(
            now,
            ids.map((id) => row(id)),
            placeOf,
            true,
          );
          expect(now.map(({ place }) => place).slice(0, before.length)).toEqual(before);
          expect(now.flatMap(({ place, gone }) => (gone ? [] : [Number(place)])).sort()).toEqual([...ids].sort());
        }
      }),
    );
  });
});
