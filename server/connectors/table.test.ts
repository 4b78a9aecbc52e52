import { readFile } from 'node:fs/promises';
import { expect, it } from 'vitest';
import { networksDocument } from './table.ts';

it('docs/networks.md says what the connectors say; otherwise run npm run docs', async () => {
  const written = await readFile(new URL('../../docs/networks.md', import.meta.url), 'utf8');
  // Prettier lines the tables up; the words are what counts.
  const plain = (text: string) => text.replace(/[ -]+/g, ' ').trim();
  expect(plain(written)).toBe(plain(networksDocument()));
});
