import { plannedPosts } from '../store/planned.ts';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readConfig } from '../base/config.ts';
import { change, makeDatabase } from '../db/database.ts';
import { migrate } from '../db/migrate.ts';
import { closeServices, openServices } from '../compose.ts';
import type { Services } from '../base/services.ts';
import { logEntriesSince } from '../store/logbook.ts';
import { brandsOf, userByEmail } from '../store/users.ts';
import { workflowCounts } from '../store/counts.ts';
import { workflowsOf } from '../store/workflows.ts';
import { openHouse, type House } from '../testing/house.ts';
import { differencesBetween, gatheredCells, livedAndRehearsed } from '../testing/lived.ts';
import { DEMO_EMAIL } from './people.ts';
import { seedDemonstration } from './seed.ts';
import { keptAndRebuilt } from '../testing/records.ts';
import { heldRuns, runsOf } from '../testing/runs-of.ts';

// The demonstration, set up for real: consent pages, a month of looks and posts.
let house: House;
let services: Services;
let name: string;
beforeAll(async () => {
  house = await openHouse();
  const url = `${house.env.PLAYA_DATABASE_URL}_demo`;
  name = new URL(url).pathname.slice(1);
  await makeDatabase(url);
  services = openServices(readConfig({ ...house.env, PLAYA_DATABASE_URL: url }));
  await migrate(services.pool);
  await seedDemonstration(services);
  // A month is lived through: on a busy machine that takes its time.
}, 300_000);
afterAll(async () => {
  if (services) {
    await change(services.pool, `DROP DATABASE ${name}`);
    await closeServices(services);
  }
  await house?.close();
});

describe('the demonstration', () => {
  it('has two brands, three live workflows with a month behind them, and one for every other kind of network', async () => {
    const mo = (await userByEmail(services.pool, DEMO_EMAIL))!;
    const brands = await brandsOf(services.pool, mo.id);
    expect(brands.map((brand) => brand.name)).toEqual(['Tern Bay Lidos', 'Marram Bakehouse']);
    const workflows = (await workflowsOf(services.pool, brands[0]!.id)).filter((workflow) => !workflow.own);
    expect(workflows.slice(0, 4).map((workflow) => workflow.status)).toEqual(['live', 'live', 'live', 'draft']);
    expect(workflows.at(-1)).toMatchObject({ name: 'Thanks by stars', status: 'draft' });
    const others = workflows.slice(4, -1);
    expect(others.length).toBeGreaterThanOrEqual(10);
    expect(new Set(others.map((workflow) => workflow.status))).toEqual(new Set(['live']));
    const counts = await workflowCounts(services.pool, brands[0]!.id);
    const [lessons, films] = workflows;
    expect(counts.get(lessons!.id)!.posts).toBeGreaterThan(8);
    expect(counts.get(films!.id)).toMatchObject({ runs: 3, posts: 2, held: 1 });
    // Each of them has done something in its week.
    for (const workflow of others.filter(({ name }) => !/^(The plan, |Clips)/.test(name))) {
      const { posts, answers, others: acts } = counts.get(workflow.id)!;
      expect(posts + answers + acts, workflow.name).toBeGreaterThan(0);
    }
    // What the crew has planned is still to come: two rows wait for their moment, one for a person.
    const plan = others.find(({ name }) => name === 'The plan, posted')!;
    expect(counts.get(plan.id)).toMatchObject({ runs: 4, posts: 0, held: 1 });
    // Three are ready, and have taken the next free times of the microblog.
    const spread = others.find(({ name }) => name === 'The plan, on the microblog')!;
    expect(counts.get(spread.id)).toMatchObject({ runs: 3, posts: 0, held: 0 });
    const ahead = await plannedPosts(services.pool, brands[0]!.id, { from: null, to: null, paused: false }, 50);
    expect(ahead.filter((post) => post.workflowId === spread.id && post.slot === post.at)).toHaveLength(3);
    // So have two clips, of the page.
    const clips = others.find(({ name }) => name === 'Clips spread over the week')!;
    expect(ahead.filter((post) => post.workflowId === clips.id && post.slot === post.at)).toHaveLength(2);
    expect(await workflowsOf(services.pool, brands[1]!.id)).toEqual([]);
  });
  it('was lived through: posts lie minutes after their films, oldest first, and are really there', async () => {
    const [lidos] = await brandsOf(services.pool, (await userByEmail(services.pool, DEMO_EMAIL))!.id);
    const entries = (await logEntriesSince(services.pool, lidos!.id, 0, 1000)).reverse();
    const times = entries.map((entry) => entry.at);
    expect([...times].sort((a, b) => a - b)).toEqual(times);
    expect(times[0]).toBeLessThan(services.clock() - 20 * 86_400_000);
    // Letters, likes and messages have no page of their own; rows of Playa's own sheets are at Playa, which is not up here.
    const { origin } = services.config;
    for (const entry of entries.filter(({ url }) => url !== null && !url.startsWith(`${origin}/`))) {
      const page = await fetch(entry.url!);
      expect(page.status).toBe(200);
    }
    const [lessons] = await workflowsOf(services.pool, lidos!.id);
    const runs = await runsOf(services.pool, lidos!.id, lessons!.id, 100);
    expect(runs.every((run) => run.status === 'done' || run.status === 'stopped')).toBe(true);
    expect((await heldRuns(services.pool, lidos!.id))[0]!.state!.root.wait).toMatchObject({
      slots: [{ trouble: 'too-long' }],
    });
  });
  it('left records that would be made anew just so', async () => {
    const { kept, rebuilt } = await keptAndRebuilt(services);
    expect(kept.held!.length).toBeGreaterThan(2);
    expect(kept.counts!.length).toBeGreaterThan(100);
    expect(rebuilt).toEqual(kept);
  });
  it('did what a rehearsal of the same week says: every cell, but for what only reality knows', async () => {
    const [lidos] = await brandsOf(services.pool, (await userByEmail(services.pool, DEMO_EMAIL))!.id);
    const workflows = await livedAndRehearsed(services, lidos!.id);
    expect(workflows.length).toBeGreaterThanOrEqual(13);
    const compared: Record<string, number> = {};
    for (const workflow of workflows) {
      const gathered = gatheredCells(workflow);
      if (gathered) {
        // The last gathering is still open: what it will say is not said yet.
        const open = workflow.runs.some(({ outcome }) => outcome.lived === 'waiting') ? 3 : 0;
        const missing = gathered.rehearsed.filter((cell) => !gathered.lived.includes(cell));
        expect(missing.length, `${workflow.name}: ${missing.join('\n')}`).toBeLessThanOrEqual(open);
        expect(gathered.lived.filter((cell) => !gathered.rehearsed.includes(cell))).toEqual([]);
        continue;
      }
      for (const run of workflow.runs) {
        expect(differencesBetween(run), `${workflow.name}: ${run.identity}`).toEqual([]);
        const { lived, rehearsed } = run.outcome;
        if (lived !== 'waiting' && lived !== 'held') expect(rehearsed, `${workflow.name}: ${run.identity}`).toBe(lived);
        for (const { kind } of Object.values(run.lived)) compared[kind] = (compared[kind] ?? 0) + 1;
      }
    }
    // That something was compared.
    expect(compared.posts).toBeGreaterThan(40);
    expect(compared.acts).toBeGreaterThan(20);
    expect(compared.stops).toBeGreaterThan(5);
  });
  it('is set up once, and says so when that was interrupted', async () => {
    const before = (await logEntriesSince(services.pool, 1, 0, 100)).length;
    await seedDemonstration(services);
    expect(await logEntriesSince(services.pool, 1, 0, 100)).toHaveLength(before);
    await expect(seedDemonstration(house.services)).rejects.toThrow('npm start -- --fresh');
  });
});
