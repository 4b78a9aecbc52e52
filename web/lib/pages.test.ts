import { afterEach, describe, expect, it, vi } from 'vitest';
import { Refused } from './api.ts';
import { behind, everyPage } from './pages.ts';

afterEach(() => void vi.unstubAllGlobals());

const answers = (...pages: (object | number)[]) => {
  const asked: string[] = [];
  vi.stubGlobal('fetch', (path: string) => {
    const page = pages[asked.push(path) - 1]!;
    return Promise.resolve(typeof page === 'number' ? new Response('{}', { status: page }) : Response.json(page));
  });
  return asked;
};

describe('a list in pages', () => {
  it('is asked for until there is no more', async () => {
    const asked = answers({ things: [1, 2], next: 'a/b' }, { things: [3], next: null });
    const pages = await everyPage<{ things: number[]; next: string | null }>('/things');
    expect(pages.flatMap((page) => page.things)).toEqual([1, 2, 3]);
    expect(asked).toEqual(['/api/things', '/api/things?after=a%2Fb']);
  });
  it('is not shown in half', async () => {
    answers({ things: [1, 2], next: 'a' }, 503);
    await expect(everyPage('/things')).rejects.toThrow(Refused);
  });
  it('goes on from filters as they are', () => {
    expect(behind('/things?kind=a', 'b')).toBe('/things?kind=a&after=b');
    expect(behind('/things?kind=a', null)).toBe('/things?kind=a');
  });
});
