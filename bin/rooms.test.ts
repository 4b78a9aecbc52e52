import { ESLint } from 'eslint';
import { describe, expect, it } from 'vitest';

// The walls of the house hold: ESLint refuses imports against their direction.
const eslint = new ESLint();
const complaints = async (file: string, code: string) =>
  (await eslint.lintText(code, { filePath: file }))[0]!.messages.map((message) => message.ruleId);

describe('import directions', () => {
  it.each([
    ['core/items/x.ts', "import '../../server/base/config.ts';"],
    ['core/items/x.ts', "import '@playa/server/base/config.ts';"],
    ['core/items/x.ts', "import 'node:fs';"],
    ['server/store/x.ts', "import '../../web/lib/api.ts';"],
    ['server/store/x.ts', "import '../../lagoon/base/db.ts';"],
    ['web/lib/x.ts', "import '../../server/base/config.ts';"],
    ['lagoon/x.ts', "import '@playa/core/items/item.ts';"],
    ['lagoon/video/x.ts', "import '../../core/items/item.ts';"],
    ['e2e/x.ts', "import '../lagoon/base/db.ts';"],
  ])('%s may not: %s', async (file, code) => {
    expect(await complaints(file, code)).toContain('no-restricted-imports');
  });
  it.each([
    ['server/store/x.ts', "import '@playa/core/items/item.ts';"],
    ['web/lib/x.ts', "import '@playa/core/items/item.ts';"],
    ['core/items/x.ts', "import '../text/plain.ts';"],
  ])('%s may: %s', async (file, code) => {
    expect(await complaints(file, code)).toEqual([]);
  });
});

describe('other rules of the house', () => {
  it('core has no clock, no chance and no network of its own', async () => {
    expect(await complaints('core/x.ts', 'export const a = Date.now();')).toContain('no-restricted-properties');
    expect(await complaints('core/x.ts', 'export const a = Math.random();')).toContain('no-restricted-properties');
    expect(await complaints('core/x.ts', 'export const a = fetch;')).toContain('no-restricted-globals');
  });
  it('SQL stands in the stores only', async () => {
    const code = 'export const a = "SELECT 1";';
    expect(await complaints('server/http/x.ts', code)).toContain('no-restricted-syntax');
    expect(await complaints('server/store/x.ts', code)).toEqual([]);
  });
});
