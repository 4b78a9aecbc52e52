import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { select } from '../db/database.ts';
import { lookNow } from '../watch/look.ts';
import { openHouse, type House, testNow } from '../testing/house.ts';
import { live, newVideos } from '../testing/workflow.ts';
import { leaseOf } from './perform-effects.ts';
import { POINTS, type Point } from './probe.ts';

let house: House;
let watch: number;
beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  watch = await house.watch();
  await live(house, newVideos(watch, [await house.page()]));
});
afterAll(() => house?.close());

const ROOT = fileURLToPath(new URL('../..', import.meta.url));

/** Runs a real worker process until it is done with everything, or dead. Returns the signal that ended it. */
async function runWorker(dieAt: Point | undefined, ahead: number): Promise<NodeJS.Signals | null> {
  const child = spawn(process.execPath, ['--import', 'tsx', 'server/testing/dying-worker.ts'], {
    cwd: ROOT,
    env: { ...process.env, ...house.env, CLOCK_AHEAD: String(ahead), ...(dieAt ? { DIE_AT: dieAt } : {}) },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  const ended = new Promise<NodeJS.Signals | null>((resolve) => child.once('exit', (_code, signal) => resolve(signal)));
  // On a busy machine a process alone takes many seconds to come up.
  for (const until = Date.now() + 100_000; Date.now() < until;) {
    if (child.exitCode !== null || child.signalCode !== null) return ended;
    const [left] = await select<{ open: number }>(
      house.services.pool,
      "SELECT COUNT(*) AS open FROM runs WHERE status IN ('new', 'waiting')",
    );
    if (!dieAt && Number(left!.open) === 0) child.kill('SIGTERM');
    await new Promise((done) => setTimeout(done, 50));
  }
  child.kill('SIGKILL');
  return ended;
}

describe('a worker killed by signal 9 leaves exactly one post', () => {
  it.each(POINTS)(
    '%s',
    async (point) => {
      const title = `Film for “${point}”`;
      house.clock.now = testNow();
      await house.upload({ title });
      await lookNow(house.services, watch);
      expect(await runWorker(point, 0)).toBe('SIGKILL');
      // The next worker comes when the claim of the dead one has run out.
      // (When nothing was left to do it is asked to stop before it listens, and ends by that signal.)
      expect([null, 'SIGTERM']).toContain(await runWorker(undefined, leaseOf(house.services) + 5_000));

      const posts = (await house.posts()).filter((post) => post.text === `New: ${title}`);
      expect(posts).toHaveLength(1);
      const runs = await select<{ status: string; trace: string }>(
        house.services.pool,
        "SELECT r.status, r.trace FROM runs r JOIN items i ON i.id = r.item_id WHERE JSON_VALUE(i.fields, '$.title') = ?",
        [title],
      );
      expect(runs.map((run) => run.status)).toEqual(['done']);
      expect(JSON.parse(runs[0]!.trace).post.posts[0]).toMatchObject({
        status: 'posted',
        url: `${house.lagoon}/pages/posts/${posts[0]!.id}`,
      });
      const [logged] = await select<{ times: number }>(
        house.services.pool,
        'SELECT COUNT(*) AS times FROM logbook WHERE remote_id = ?',
        [posts[0]!.id],
      );
      expect(Number(logged!.times)).toBe(1);
    },
    240_000,
  );
});
