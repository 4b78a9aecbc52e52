// Who did it is written down with what was done, in the same transaction.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Actor } from '@playa/core/access/actor.ts';
import { slotsIn } from '@playa/core/model/state.ts';
import type { Services } from '../base/services.ts';
import { change, select } from '../db/database.ts';
import { pauseByItself } from '../runner/failures.ts';
import { auditOf } from '../store/audit.ts';
import { openHouse, type House } from '../testing/house.ts';
import { live, newVideos, uploadNow } from '../testing/workflow.ts';
import { decide } from './decide.ts';
import { pause, resume } from './go-live.ts';
import { cancelRun, rerun } from './run-actions.ts';
import { runsOf } from '../testing/runs-of.ts';

let house: House;
let watch: number;
let mo: Services;
beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  watch = await house.watch();
  const actor: Actor = { kind: 'person', userId: house.mo };
  mo = { ...house.services, actor };
});
afterAll(() => house?.close());

const asking = async () => {
  const definition = newVideos(watch, [await house.page()], `Asked ${Math.random()}: {$title}`);
  definition.steps.splice(1, 0, { id: 'ask', verb: 'hold', question: 'Good?', text: 'caption' });
  return live(house, definition);
};
const newest = async (workflow: number) => (await runsOf(house.services.pool, house.lidos, workflow, 1))[0]!;
const keyOf = async (workflow: number) => slotsIn((await newest(workflow)).state!)[0]!.key;
const done = async (run: number) =>
  (await auditOf(house.services.pool, house.lidos, 'run', [run])).map(({ by, did, became }) => [by, did, became]);

describe('who did it', () => {
  it('is known of a yes, of other words, of leaving out and of ending', async () => {
    const workflow = await asking();
    const decided = async (title: string, decision: Parameters<typeof decide>[4]) => {
      await uploadNow(house, watch, title);
      const run = await newest(workflow);
      await decide(mo, house.lidos, run.id, await keyOf(workflow), decision);
      return done(run.id);
    };
    expect(await decided('One', { do: 'retry' })).toEqual([['Mo Okoro', 'said yes', null]]);
    expect(await decided('Two', { do: 'retry', text: 'In other words' })).toEqual([
      ['Mo Okoro', 'sent other words', 'In other words'],
    ]);
    expect(await decided('Three', { do: 'skip' })).toEqual([['Mo Okoro', 'left out', null]]);
    expect(await decided('Four', { do: 'end' })).toEqual([['Mo Okoro', 'ended', null]]);
    await pause(mo, house.lidos, workflow);
  });
  it('is known of running again and of cancelling', async () => {
    const workflow = await asking();
    await uploadNow(house, watch, 'Five');
    const run = await newest(workflow);
    await rerun(mo, house.lidos, run.id, 'words');
    await cancelRun(mo, house.lidos, run.id);
    expect(await done(run.id)).toEqual([
      ['Mo Okoro', 'cancelled', null],
      ['Mo Okoro', 'ran again', 'from words'],
    ]);
    await pause(mo, house.lidos, workflow);
  });
  it('is known of pausing and going on, and is Playa where nobody did it', async () => {
    const { pool } = house.services;
    const workflow = await asking();
    await pause(mo, house.lidos, workflow);
    await resume(mo, house.lidos, workflow);
    await pauseByItself(pool, { id: 1, brandId: house.lidos, workflowId: workflow }, 'Too many.', 'x', house.clock.now);
    const all = await auditOf(pool, house.lidos, 'workflow', [workflow]);
    expect(all.map(({ by, did, became }) => [by, did, became])).toEqual([
      [null, 'paused', 'Too many.'],
      ['Mo Okoro', 'let go on', null],
      ['Mo Okoro', 'paused', null],
      // The house lets it go live as Playa itself.
      [null, 'went live', 'version 1'],
    ]);
    const [row] = await select<{ actor: string }>(pool, 'SELECT actor FROM audit ORDER BY id DESC LIMIT 1', []);
    expect(row!.actor).toBe('run');
  });
  it('is not written down where nothing was done', async () => {
    const workflow = await asking();
    await uploadNow(house, watch, 'Six');
    const run = await newest(workflow);
    const key = await keyOf(workflow);
    // Another brand's, and one that was decided already.
    await expect(decide(mo, house.bakehouse, run.id, key, { do: 'skip' })).rejects.toThrow();
    await decide(mo, house.lidos, run.id, key, { do: 'skip' });
    await expect(decide(mo, house.lidos, run.id, key, { do: 'skip' })).rejects.toThrow();
    expect(await done(run.id)).toHaveLength(1);
    // What fails after it was written down takes the writing back with it.
    await uploadNow(house, watch, 'Seven');
    const next = await newest(workflow);
    await change(house.services.pool, 'ALTER TABLE audit RENAME TO audit_away', []);
    await expect(cancelRun(mo, house.lidos, next.id)).rejects.toThrow();
    await change(house.services.pool, 'ALTER TABLE audit_away RENAME TO audit', []);
    expect((await newest(workflow)).status).toBe('held');
  });
});
