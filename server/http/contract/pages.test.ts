import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { byId, byName, cursorOf, cutPage, pageQuery } from './pages.ts';

describe('a page', () => {
  it('goes on behind its last thing, and the last page says so', () => {
    const at = ({ id }: { id: number }) => ({ after: id });
    expect(cutPage([], 2, at)).toEqual({ page: [], next: null });
    expect(cutPage([{ id: 1 }, { id: 2 }], 2, at)).toEqual({ page: [{ id: 1 }, { id: 2 }], next: null });
    const { page, next } = cutPage([{ id: 1 }, { id: 2 }, { id: 3 }], 2, at);
    expect(page).toEqual([{ id: 1 }, { id: 2 }]);
    expect(pageQuery(byId, 100).parse({ after: next }).after).toEqual({ after: 2 });
  });
  it.each(['sign-off', '🏊'.repeat(60), 'é'.repeat(120)])('goes on behind any name: %s', (after) => {
    expect(pageQuery(byName, 100).parse({ after: cursorOf({ after }) }).after).toEqual({ after });
  });
  it('is refused behind what is no cursor', () => {
    const query = pageQuery(z.object({ after: z.number() }), 100);
    for (const after of ['nothing', cursorOf({ after: 'x' }), 'x'.repeat(3000)])
      expect(query.safeParse({ after }).success).toBe(false);
    expect(query.parse({})).toEqual({ most: 100 });
  });
});
