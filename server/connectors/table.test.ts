import { readFile } from 'node:fs/promises';
import { expect, it } from 'vitest';
import { tweaksDocument } from '@playa/core/captions/table.ts';
import { networksDocument } from './table.ts';

it.each([
  ['networks.md', networksDocument],
  ['tweaks.md', tweaksDocument],
])('docs/%s says what the code says; otherwise run npm run docs', async (name, make) => {
  const written = await readFile(new URL(`../../docs/${name}`, import.meta.url), 'utf8');
  // Prettier lines the tables up; the words are what counts.
  const plain = (text: string) => text.replace(/[ -]+/g, ' ').trim();
  expect(plain(written)).toBe(plain(make()));
});
