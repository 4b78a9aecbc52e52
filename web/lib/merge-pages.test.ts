import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mergedPages } from './merge-pages.ts';

const up = (a: number, b: number) => a - b;

describe('several lists in one order', () => {
  it('shows no further than the list that has been read least far', () => {
    expect(
      mergedPages(
        [
          { entries: [1, 4], more: true },
          { entries: [2, 9], more: false },
        ],
        up,
      ),
    ).toEqual({
      entries: [1, 2, 4],
      more: true,
    });
    expect(
      mergedPages(
        [
          { entries: [1, 4], more: false },
          { entries: [2, 9], more: false },
        ],
        up,
      ),
    ).toEqual({
      entries: [1, 2, 4, 9],
      more: false,
    });
    expect(mergedPages<number>([], up)).toEqual({ entries: [], more: false });
  });
  it('shows the beginning of what all of them are, however far each has been read, and all of it in the end', () => {
    fc.assert(
      fc.property(fc.array(fc.array(fc.nat(1000), { maxLength: 30 }), { maxLength: 5 }), fc.nat(5), (lists, size) => {
        const whole = lists.flat().sort(up);
        const sorted = lists.map((list) => [...list].sort(up));
        for (let read = size + 1; ; read += size + 1) {
          const pages = sorted.map((list) => ({ entries: list.slice(0, read), more: list.length > read }));
          const { entries, more } = mergedPages(pages, up);
          expect(entries).toEqual(whole.slice(0, entries.length));
          if (!more) {
            expect(entries).toEqual(whole);
            return;
          }
          // Reading on always shows something.
          expect(entries.length).toBeGreaterThan(0);
        }
      }),
    );
  });
});
