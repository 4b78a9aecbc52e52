import { describe, expect, it } from 'vitest';
import { withChanged } from './changed-items.ts';

const item = (id: number, publishedAt: number | null, title = `Film ${id}`) => ({
  id,
  watch: 1,
  identity: `id:${id}`,
  publishedAt,
  seenAt: 100,
  fields: { title },
});

describe('items that are kept up to date', () => {
  const known = [item(3, 30), item(2, 20), item(1, 10)];
  it('stay the very same list while nothing has changed', () => {
    expect(withChanged(known, [])).toBe(known);
    expect(withChanged(known, [item(2, 20)])).toBe(known);
  });
  it('take in what is new where it belongs, and what has changed in its place', () => {
    const next = withChanged(known, [item(4, 25), item(1, 10, 'Film one'), item(5, null)]);
    expect(next.map(({ id }) => id)).toEqual([5, 3, 4, 2, 1]);
    expect(next.at(-1)!.fields.title).toBe('Film one');
    expect(known.at(-1)!.fields.title).toBe('Film 1');
  });
});
