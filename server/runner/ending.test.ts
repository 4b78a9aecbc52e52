// What a person decides about a run is what happens: nothing more of an ended one goes out, what was already on its way is
// not forgotten, and corrected words go to every outlet.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PostCell } from '@playa/core/model/cells.ts';
import { slotsIn } from '@playa/core/model/state.ts';
import { select } from '../db/database.ts';
import { logEntriesSince } from '../store/logbook.ts';
import { type Run } from '../store/runs.ts';
import { openHouse, type House } from '../testing/house.ts';
import { live, newVideos, pause, uploadNow } from '../testing/workflow.ts';
import { decide } from '../workflows/decide.ts';
import { cancelRun } from '../workflows/run-actions.ts';
import { lookNow } from '../watch/look.ts';
import { performEffects } from './perform-effects.ts';
import { takeRuns } from './take-runs.ts';
import { runsOf } from '../testing/runs-of.ts';

let house: House;
let watch: number;
let pages: number[];
beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
  await house.connect('video');
  watch = await house.watch();
  pages = [await house.page('Tern Bay Lidos'), await house.page('Gannet Point pool')];
});
afterAll(() => house?.close());

const newest = async (workflow: number): Promise<Run> =>
  (await runsOf(house.services.pool, house.lidos, workflow, 1))[0]!;
const postsIn = (run: Run): PostCell[] =>
  Object.values(run.trace).flatMap((cell) => (cell.kind === 'posts' ? cell.posts : []));
const keysOf = (run: Run) => slotsIn(run.state!).filter((slot) => slot.status === 'held');
const outNow = async (text: string) => [
  ...(await house.posts('tern-bay-lidos')).filter((post) => post.text === text),
  ...(await house.posts('gannet-point')).filter((post) => post.text === text),
];

describe('ending a run', () => {
  it('takes back what it had asked for beside what is held, and says so', async () => {
    const workflow = await live(house, newVideos(watch, pages));
    // The first outlet refuses; the second asks for patience, so that its post is still due.
    await house.fault('pages', { kind: 'error', status: 422 });
    await house.fault('pages', { kind: 'limit', seconds: 60 });
    await uploadNow(house, watch, 'Ended');
    const run = await newest(workflow);
    expect(run.status).toBe('held');
    await decide(house.services, house.lidos, run.id, keysOf(run)[0]!.key, { do: 'end' });
    await house.behave();
    house.clock.now += 3_600_000;
    await house.settle();
    expect(await outNow('New: Ended')).toEqual([]);
    const ended = await newest(workflow);
    expect(ended.status).toBe('stopped');
    expect(postsIn(ended).map((post) => post.status)).toEqual(['skipped', 'skipped']);
    expect(postsIn(ended).some((post) => post.says === 'the run was ended')).toBe(true);
    const effects = await select<{ status: string }>(
      house.services.pool,
      "SELECT status FROM effects WHERE run_id = ? AND status IN ('planned', 'sending')",
      [run.id],
    );
    expect(effects).toEqual([]);
    await pause(house, workflow);
  });

  it('does not forget what was already on its way: it arrives, is logged, and its cell says so', async () => {
    const workflow = await live(house, newVideos(watch, pages.slice(0, 1)));
    await house.fault('pages', { kind: 'slow', milliseconds: 700 });
    await house.upload({ title: 'On its way' });
    await lookNow(house.services, watch);
    await takeRuns(house.services);
    const sending = performEffects(house.services);
    await new Promise((done) => setTimeout(done, 250));
    await cancelRun(house.services, house.lidos, (await newest(workflow)).id);
    await sending;
    await house.settle();
    expect(await outNow('New: On its way')).toHaveLength(1);
    const run = await newest(workflow);
    expect(run.status).toBe('cancelled');
    expect(postsIn(run).map(({ status, url }) => [status, typeof url])).toEqual([['posted', 'string']]);
    const logged = await logEntriesSince(house.services.pool, house.lidos, 0, 10);
    expect(logged.some((entry) => entry.text === 'New: On its way')).toBe(true);
    await pause(house, workflow);
  });
});

describe('words corrected on a Hold', () => {
  const held = (compose: object) => ({
    schema: 1 as const,
    sources: [{ id: 'source', watch }],
    steps: [
      { id: 'words', verb: 'compose' as const, name: 'caption', ...compose },
      { id: 'hold', verb: 'hold' as const, question: 'Good?', text: 'caption' },
      { id: 'post', verb: 'publish' as const, outlets: pages, caption: 'caption', card: null },
    ],
  });

  it.each([
    ['plain', { text: 'New: {$title}' }],
    ['formatted', { text: '{#bold}New{/bold}: {$title} {#optional}{$description}{/optional}' }],
    ['with words of its own for one outlet', { text: 'New: {$title}', own: true }],
  ])('%s go out to every outlet as they were left', async (name, compose) => {
    const own = 'own' in compose ? { own: [{ outlet: pages[1]!, text: 'Gannet: {$title}' }] } : {};
    const workflow = await live(house, held({ text: compose.text, ...own }) as never);
    const title = `Held ${name}`;
    await uploadNow(house, watch, title);
    const run = await newest(workflow);
    const [slot] = keysOf(run);
    const shown = slot!.action === 'hold' ? slot!.input.text! : '';
    const words = shown.replace(title, `Corrected ${name}`);
    expect(words).not.toBe(shown);
    await decide(house.services, house.lidos, run.id, slot!.key, { do: 'retry', text: words });
    // The network had asked for patience.
    house.clock.now += 300_000;
    await house.settle();
    expect(await outNow(words)).toHaveLength(2);
    expect(await outNow(shown)).toHaveLength(0);
    await pause(house, workflow);
  });

  it('and not touched leave each outlet its own', async () => {
    const own = [{ outlet: pages[1]!, text: 'Gannet: {$title}' }];
    const workflow = await live(house, held({ text: 'New: {$title}', own }) as never);
    await uploadNow(house, watch, 'Left alone');
    const run = await newest(workflow);
    await decide(house.services, house.lidos, run.id, keysOf(run)[0]!.key, { do: 'retry' });
    house.clock.now += 300_000;
    await house.settle();
    expect(await outNow('New: Left alone')).toHaveLength(1);
    expect(await outNow('Gannet: Left alone')).toHaveLength(1);
    await pause(house, workflow);
  });
});
