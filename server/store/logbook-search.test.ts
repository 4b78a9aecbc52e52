// Words are found the same whether the index of words is asked or the rows are read, on a real MariaDB.
import { randomBytes } from 'node:crypto';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { change, makeDatabase, openPool, select, type Pool } from '../db/database.ts';
import { inIndex, inRow, searchFor, waysOf, type Where } from './logbook-search.ts';

let pool: Pool;
// Of each: letters that the collation takes for several, that it takes for others, and plain ones.
const SYLLABLES = [
  'str',
  'a',
  'ß',
  'SS',
  'e',
  'é',
  'æ',
  'AE',
  'Œ',
  'oe',
  'ﬁ',
  'fi',
  'lm',
  'ﬆ',
  'st',
  'İ',
  'i',
  'ø',
  '14',
  'ç',
];
const word = fc.array(fc.constantFrom(...SYLLABLES), { minLength: 1, maxLength: 4 }).map((parts) => parts.join(''));
const BRAND = 4;
const OTHER = 44;

beforeAll(async () => {
  const server = process.env.PLAYA_TEST_DATABASE;
  if (!server) throw new Error('These tests need the test database: run them with npm test -- unit');
  const url = server.replace(/\/?$/, `/search_${randomBytes(5).toString('hex')}`);
  await makeDatabase(url);
  pool = openPool(url);
  // The parts of the logbook that a search looks at, as migration 014 makes them.
  await change(
    pool,
    `CREATE TABLE logbook (id BIGINT AUTO_INCREMENT PRIMARY KEY, brand_id BIGINT NOT NULL, at DATETIME(3) NOT NULL, text TEXT NOT NULL,
       words TEXT AS (REGEXP_REPLACE(CONCAT_WS(' ', '', text), '[^\\\\p{L}\\\\p{N}]+', CONCAT(' b', brand_id, '_'))) PERSISTENT,
       INDEX (brand_id, at), FULLTEXT INDEX said_words (words)) COLLATE utf8mb4_unicode_520_ci`,
  );
  const texts = fc.sample(
    fc.array(word, { maxLength: 6 }).map((words) => words.join(', ')),
    { numRuns: 1200, seed: 7 },
  );
  await change(pool, 'INSERT INTO logbook (brand_id, at, text) VALUES ?', [
    texts.map((text, index) => [
      index % 4 === 3 ? OTHER : BRAND,
      new Date(Date.UTC(2026, 0, 1) + index * 60_000),
      // A word that nearly all say, one that every tenth does, and two that never come together.
      `New: film ${index % 10 === 0 ? 'sauna' : ''} ${index % 2 === 0 ? 'morning' : 'evening'} ${text}`,
    ]),
  ]);
});
afterAll(async () => {
  const [{ name } = { name: '' }] = await select<{ name: string }>(pool, 'SELECT DATABASE() AS name');
  await change(pool, `DROP DATABASE ${name}`);
  await pool.end();
});

const found = async (of: readonly Where[]): Promise<number[]> => {
  const rows = await select<{ id: number }>(
    pool,
    `SELECT id FROM logbook l WHERE brand_id = ? AND ${of.map(({ sql }) => sql).join(' AND ')} ORDER BY id`,
    [BRAND, ...of.flatMap(({ values }) => values)],
  );
  return rows.map(({ id }) => id);
};

describe('a word in a row', () => {
  it('is what the index finds, however it is written', async () => {
    await fc.assert(
      fc.asyncProperty(word, async (text) => {
        const key = `b${BRAND}_${text}`;
        const row = inRow(key);
        if (row) expect(await found([row]), text).toEqual(await found([inIndex([key])]));
      }),
      { numRuns: 150 },
    );
  });

  it('is looked for in a dozen ways at most', () => {
    expect(waysOf('große')).toEqual(['grosse', 'große']);
    expect(waysOf('film')).toEqual(['film', 'ﬁlm']);
    expect(waysOf('tide')).toEqual(['tide']);
    expect(waysOf('gros')).toEqual(['gros', 'groß', 'groﬆ']);
    expect(waysOf('fi'.repeat(12))).toBeNull();
  });
});

describe('a search', () => {
  it('finds what the index alone would, whatever is common', async () => {
    const search = fc.array(fc.oneof(word, fc.constantFrom('film', 'sauna', 'MORN', 'evening', 'New')), {
      minLength: 1,
      maxLength: 3,
    });
    await fc.assert(
      fc.asyncProperty(search, async (words) => {
        const keys = words.map((each) => `b${BRAND}_${each}`);
        expect(await found(await searchFor(pool, BRAND, words.join(' ')))).toEqual(await found([inIndex(keys)]));
      }),
      { numRuns: 100 },
    );
  });

  it('asks the index for what is rare, and reads rows for what is common', async () => {
    const asks = async (words: string) =>
      (await searchFor(pool, BRAND, words)).map(({ sql }) => /MATCH|LIKE/.exec(sql)![0]);
    expect(await asks('film')).toEqual(['LIKE']);
    expect(await asks('film nowhere')).toEqual(['MATCH', 'LIKE']);
    expect(await asks('film sauna')).toEqual(['LIKE', 'LIKE']);
    // Each is common, and no post says both.
    expect(await asks('morning evening')).toEqual(['MATCH']);
    // Of few posts nothing can be told.
    expect((await searchFor(pool, 9, 'film')).map(({ sql }) => sql.slice(0, 5))).toEqual(['MATCH']);
    expect(await searchFor(pool, BRAND, '–, !')).toEqual([]);
  });
});
