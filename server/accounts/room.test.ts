// A brand that has as many outlets or workflows as it can: nothing more is added, and nothing that is there is lost.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { change, select } from '../db/database.ts';
import { consentAs } from '../demo/lagoon.ts';
import { makeSheet } from '../sheets/keep-sheet.ts';
import { outletsOf } from '../store/outlets.ts';
import { ROOM } from '../store/room.ts';
import { brandsOf } from '../store/users.ts';
import { addWorkflow } from '../store/workflows.ts';
import { openHouse, type House } from '../testing/house.ts';
import { beginConnect, finishConnect, refreshOutlets } from './connect.ts';

let house: House;
let account: number;
const connect = async () => {
  const { services, lidos: brandId, mo: userId } = house;
  const page = await beginConnect(services, { brandId, userId, kind: 'pages', backTo: '/accounts' });
  const brands = await brandsOf(services.pool, userId);
  const answer = await consentAs(services, 1, page);
  return finishConnect(services, userId, answer, (id) => brands.find((brand) => brand.id === id));
};
const there = async () => (await outletsOf(house.services.pool, house.lidos)).filter(({ gone }) => !gone).length;

beforeAll(async () => {
  house = await openHouse();
  account = (await connect()).accountId;
});
afterAll(() => house?.close());

describe('outlets', () => {
  it('are added up to the last there is room for, and not one more', async () => {
    const { pool } = house.services;
    const before = await there();
    // One short of full, on an account of its own.
    await change(
      pool,
      `INSERT INTO outlets (brand_id, account_id, kind, remote_id, name, details)
       SELECT ?, NULL, 'table', CONCAT('t', seq), CONCAT('Table ', seq), '{}' FROM seq_1_to_${ROOM.outlets - before - 1}`,
      [house.lidos],
    );
    await makeSheet(house.services, house.lidos, {
      name: 'The last',
      columns: [{ key: 'a', name: 'A', type: 'text' }],
    });
    expect(await there()).toBe(ROOM.outlets);
    const more = { name: 'One more', columns: [{ key: 'a', name: 'A', type: 'text' as const }] };
    await expect(makeSheet(house.services, house.lidos, more)).rejects.toMatchObject({ name: 'NoRoom' });
    // Those that are there are listed anew all the same.
    await refreshOutlets(house.services, house.lidos, account);
    expect(await there()).toBe(ROOM.outlets);
  });

  it('that a network lists on top leave everything as it was', async () => {
    const { pool } = house.services;
    await change(pool, 'DELETE FROM outlets WHERE account_id = ? LIMIT 1', [account]);
    const full = await there();
    await change(
      pool,
      `INSERT INTO outlets (brand_id, account_id, kind, remote_id, name, details) VALUES (?, NULL, 'table', 'x', 'X', '{}')`,
      [house.lidos],
    );
    await expect(refreshOutlets(house.services, house.lidos, account)).rejects.toMatchObject({
      name: 'NoRoom',
      message: expect.stringContaining('A brand can have 1000 outlets') as string,
    });
    expect(await there()).toBe(full + 1);
    expect(await select(pool, 'SELECT 1 FROM outlets WHERE account_id = ? AND gone_at IS NOT NULL', [account])).toEqual(
      [],
    );
  });

  it('that are more than there is room for, from before there was a limit, are listed anew as ever', async () => {
    const { pool } = house.services;
    await change(
      pool,
      `INSERT INTO outlets (brand_id, account_id, kind, remote_id, name, details)
       SELECT ?, NULL, 'table', CONCAT('old', seq), CONCAT('Old ', seq), '{}' FROM seq_1_to_20`,
      [house.lidos],
    );
    // The one that was taken away above is listed again, in the place of another that is gone since.
    await change(pool, "UPDATE outlets SET gone_at = NOW() WHERE brand_id = ? AND remote_id = 'x'", [house.lidos]);
    await change(
      pool,
      "INSERT INTO outlets (brand_id, account_id, kind, remote_id, name, details) VALUES (?, ?, 'page', 'left', 'Left', '{}')",
      [house.lidos, account],
    );
    const before = await there();
    expect(before).toBeGreaterThan(ROOM.outlets);
    await refreshOutlets(house.services, house.lidos, account);
    expect(await there()).toBe(before);
  });
});

it('workflows are refused with what can be done', async () => {
  const { pool, clock } = house.services;
  const draft = { schema: 1 as const, sources: [], steps: [] };
  const [{ n } = { n: 0 }] = await select<{ n: number }>(
    pool,
    'SELECT COUNT(*) AS n FROM workflows WHERE brand_id = ?',
    [house.lidos],
  );
  for (let have = Number(n); have < ROOM.workflows; have++)
    await addWorkflow(pool, house.lidos, `Workflow ${have}`, draft, clock());
  await expect(addWorkflow(pool, house.lidos, 'One more', draft, clock())).rejects.toThrow('Delete one first.');
  await addWorkflow(pool, house.bakehouse, 'Another brand has its own room', draft, clock());
});
