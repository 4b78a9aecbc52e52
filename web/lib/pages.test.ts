import { afterEach, describe, expect, it, vi } from 'vitest';
import { Refused } from './api.ts';
import { everyPage } from './pages.ts';

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
    const asked = answers({ sheets: [1, 2], next: 'a/b' }, { sheets: [3], next: null });
    const pages = await everyPage('listSheets', { brand: 1 }, { most: 2 });
    expect(pages.flatMap((page) => page.sheets)).toEqual([1, 2, 3]);
    expect(asked).toEqual(['/api/brands/1/sheets?most=2', '/api/brands/1/sheets?most=2&after=a%2Fb']);
  });
  it('is not shown in half', async () => {
    answers({ sheets: [1, 2], next: 'a' }, 503);
    await expect(everyPage('listSheets', { brand: 1 })).rejects.toThrow(Refused);
  });
});
