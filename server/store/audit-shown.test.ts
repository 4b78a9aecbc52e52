// Who did what, read in pages: by whom, about what, since when, and never of another brand.
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Actor } from '@playa/core/access/actor.ts';
import { openHouse, type House } from '../testing/house.ts';
import { runsOf } from '../testing/runs-of.ts';
import { live, newVideos, uploadNow } from '../testing/workflow.ts';
import { addAudit, type Deed } from './audit.ts';
import { auditPage, type AuditFilter } from './audit-shown.ts';

let house: House;
let began: number;
let workflow: number;
beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  const watch = await house.watch();
  workflow = await live(house, newVideos(watch, [await house.page()]));
  await uploadNow(house, watch, 'A film');
  const [run] = await runsOf(house.services.pool, house.lidos, workflow, 1);
  began = house.clock.now + 1_000_000;
  const mo: Actor = { kind: 'person', userId: house.mo };
  const deeds: [Actor, Omit<Deed, 'brandId'>, brand?: number][] = [
    [mo, { did: 'paused', about: 'workflow', id: workflow }],
    [mo, { did: 'said yes', about: 'run', id: run!.id, became: 'Good words' }],
    [
      { kind: 'run', runId: run!.id },
      { did: 'paused', about: 'workflow', id: workflow },
    ],
    [{ kind: 'system' }, { did: 'deleted', about: 'snippet', name: 'sign-off', was: 'Your crew' }],
    [mo, { did: 'changed', about: 'snippet', name: 'theirs' }, house.bakehouse],
  ];
  for (const [index, [actor, deed, brandId = house.lidos]] of deeds.entries())
    await addAudit(house.services.pool, actor, { brandId, ...deed }, began + index * 1000);
});
afterAll(() => house?.close());

const page = (filter: AuditFilter = {}, before?: number, most = 100, brand = house.lidos) =>
  auditPage(house.services.pool, brand, { from: began, ...filter }, before, most);
const said = async (filter: AuditFilter) => (await page(filter)).map(({ by, did, name }) => [by, did, name]);

it('names who did it and what it was done to', async () => {
  expect(await said({})).toEqual([
    [null, 'deleted', 'sign-off'],
    ['A workflow', 'paused', 'A workflow'],
    ['Mo Okoro', 'said yes', 'A workflow'],
    ['Mo Okoro', 'paused', 'A workflow'],
  ]);
  expect((await page()).map(({ byUser, workflowId, was, became }) => [byUser, workflowId, was, became])).toEqual([
    [false, null, 'Your crew', null],
    [false, workflow, null, null],
    [true, workflow, null, 'Good words'],
    [true, workflow, null, null],
  ]);
});

it('is narrowed by who, what and when', async () => {
  expect((await said({ by: house.mo })).map(([, did]) => did)).toEqual(['said yes', 'paused']);
  expect((await said({ by: 'workflows' })).map(([, did]) => did)).toEqual(['paused']);
  expect((await said({ by: 'playa' })).map(([, did]) => did)).toEqual(['deleted']);
  expect((await said({ about: 'workflow', by: house.mo })).map(([, did]) => did)).toEqual(['paused']);
  expect((await said({ from: began + 1000, to: began + 3000 })).map(([, did]) => did)).toEqual(['paused', 'said yes']);
});

it('goes on behind an entry, and never into another brand', async () => {
  const first = await page({}, undefined, 3);
  const rest = await page({}, first.at(-1)!.id, 3);
  expect([first.length, rest.length]).toEqual([3, 1]);
  expect((await page({}, undefined, 100, house.bakehouse)).map(({ name }) => name)).toEqual(['theirs']);
});
