// Arms of the fault test in which people decide while workers are killed and the network fails: reviews answered and
// changed by hand while two workflows answer them, rows and posts by hand corrected, moved and withdrawn while their runs
// wait.
import { setTimeout as pause } from 'node:timers/promises';
import { slotsIn } from '@playa/core/model/state.ts';
import { newPost } from '@playa/core/posts/written.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';
import { createOutlet } from '../accounts/outlets.ts';
import { select } from '../db/database.ts';
import { changePost, makePost } from '../posts/keep-post.ts';
import { PostTrouble } from '../posts/check-post.ts';
import { ownWorkflow } from '../store/workflows.ts';
import { writtenPostBy } from '../store/written-posts.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { lookNow } from '../watch/look.ts';
import { decide } from '../workflows/decide.ts';
import type { House } from './house.ts';
import { KilledWorkers } from './killed-workers.ts';
import { live, plannedRows } from './workflow.ts';
import { heldRuns } from './runs-of.ts';

const FREE = { ...NO_SETTINGS, brake: { hour: 10_000, day: 100_000 } };
/** A number in [0, 1) that goes on from a seed, so that a run of this test can be told from another (Park and Miller 1988). */
export function seeded(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
}
export async function misbehave(house: House, service: string): Promise<void> {
  for (const [fault, share] of [
    [{ kind: 'error', status: 500 }, 0.05],
    [{ kind: 'hangAfter' }, 0.04],
    [{ kind: 'errorAfter', status: 502 }, 0.03],
  ] as const)
    await fetch(`${house.lagoon}/control/api/faults`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ service, fault, count: 1_000_000, share }),
    });
}
/** Waits until nothing of some workflows is under way but what waits for a person. */
export async function untilQuiet(house: House, workflows: readonly number[], longest: number): Promise<number> {
  const began = performance.now();
  for (;;) {
    const [row] = await select<{ open: number }>(
      house.services.pool,
      "SELECT COUNT(*) AS open FROM runs WHERE workflow_id IN (?) AND status IN ('new', 'waiting')",
      [workflows],
    ).catch(() => [{ open: 1 }]);
    const open = Number(row!.open);
    if (open === 0 || performance.now() - began > longest) return open;
    await pause(500);
  }
}

/** What came of an arm. Everything but the first numbers must be 0. */
export interface ByHand {
  things: number;
  byHand: number;
  sent: number;
  /** Answered or posted more than once, or over what a person had done. */
  twice: number;
  /** Sent although it was withdrawn, or in words that had been corrected. */
  wrong: number;
  lost: number;
  kills: number;
}

/** Posts written by hand to two pages, which are corrected, moved, and set back to drafts before their moment. */
export async function postsByHand(house: House, count: number, kills: number): Promise<ByHand> {
  const { services, lidos } = house;
  const mo = { ...services, actor: { kind: 'person' as const, userId: house.mo } };
  const pages = [await house.page('Gannet Point pool'), await house.page('Old Quay pool')];
  const wall = (at: number) => new Date(at).toISOString();
  const chance = seeded(13);
  interface Written {
    id: number;
    at: number;
    text: string;
    state: 'draft' | 'ready';
  }
  const wanted = ({ text, at, state }: Omit<Written, 'id'>) => {
    const post = newPost(pages, wall(at));
    return { state, post: { ...post, compose: { ...post.compose, text } } };
  };
  const written: Written[] = [];
  for (let n = 0; n < count; n++) {
    const post = {
      text: `Hand ${n}.`,
      at: Date.now() + 45_000 + Math.floor(chance() * 25_000),
      state: 'ready' as const,
    };
    written.push({ ...post, id: await makePost(mo, lidos, wanted(post)) });
  }
  await misbehave(house, 'pages');
  const workers = new KilledWorkers(house, kills);
  let byHand = 0;
  for (const [n, post] of written.entries()) {
    const times = chance() < 0.75 ? 1 + Math.floor(chance() * 3) : 0;
    for (let time = 0; time < times && Date.now() < post.at - 5000; time++) {
      const what = chance();
      const next = { ...post };
      if (what < 0.4) next.text = `Hand ${n}. Corrected ${time + 1}.`;
      else if (what < 0.65) next.at += 15_000;
      else next.state = post.state === 'ready' ? 'draft' : 'ready';
      const { revision } = (await writtenPostBy(services.pool, lidos, post.id))!;
      // Refused it stays as it was, and whoever asked is told.
      const done = await changePost(mo, lidos, post.id, revision, wanted(next)).then(
        () => true,
        (error: unknown) => {
          if (error instanceof PostTrouble) return false;
          throw error;
        },
      );
      if (done) Object.assign(post, next);
      byHand++;
    }
  }
  await pause(Math.max(0, Math.max(...written.map(({ at }) => at)) + 5000 - Date.now()));
  const workflow = (await ownWorkflow(services.pool, lidos, 'posts'))!;
  const lost = await untilQuiet(house, [workflow.id], 120_000);
  await workers.stop();
  await house.behave();
  const out = await Promise.all(['gannet-point', 'old-quay'].map((slug) => house.posts(slug)));
  let [sent, twice, wrong, missing] = [0, 0, 0, 0];
  for (const [n, post] of written.entries())
    for (const page of out) {
      const mine = page.filter(({ text }) => text.startsWith(`Hand ${n}.`));
      if (mine.length > 0) sent++;
      if (mine.length > 1) twice++;
      if (mine.some(({ text }) => text !== post.text) || (post.state === 'draft' && mine.length > 0)) wrong++;
      if (post.state === 'ready' && mine.length === 0) missing++;
    }
  return { things: count * 2, byHand, sent, twice, wrong, lost: lost + missing, kills: workers.kills };
}

interface Review {
  text: string;
  replies?: { by: 'app' | 'hand'; text: string; at: number }[];
}

/** Reviews that two workflows answer, one at once and one after a yes, while people answer, edit and delete them. */
export async function answersByHand(house: House, count: number, kills: number): Promise<ByHand> {
  const { services, lidos } = house;
  await house.connect('listings');
  const listing = await house.outlet('Tern Bay Lido');
  const watch = await watchOutlet(services, lidos, listing.id, 'reviews');
  await lookNow(services, watch);
  const answering = (hold: boolean): Definition => ({
    schema: 1,
    sources: [{ id: 'source', watch }],
    steps: [
      { id: 'words', verb: 'compose', name: 'answer', text: `${hold ? 'Asked' : 'Alone'}: thank you for “{$text}”` },
      ...(hold ? [{ id: 'hold', verb: 'hold' as const, question: 'Good?', text: 'answer' }] : []),
      { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
    ],
    settings: FREE,
  });
  const workflows = [await live(house, answering(false)), await live(house, answering(true))];
  await misbehave(house, 'listings');
  const chance = seeded(7);
  const workers = new KilledWorkers(house, kills);
  const ids: number[] = [];
  let byHand = 0;
  for (let n = 0; n < count; n++) {
    ids.push(
      await house.play({ do: 'review', location: 'Tern Bay Lido', by: 'Ana Prata', stars: 5, text: `Review ${n}` }),
    );
    if (n % 10 === 9) await lookNow(services, watch).catch(() => undefined);
    // Somebody is at it too, with a review of a moment ago.
    const id = ids[Math.max(0, ids.length - 1 - Math.floor(chance() * 12))]!;
    const what = chance();
    if (what < 0.45) {
      const act =
        what < 0.25
          ? { do: 'answer-review', id, text: `By hand ${id}` }
          : what < 0.4
            ? { do: 'edit-review', id, text: `Review edited ${id}` }
            : { do: 'delete-review', id };
      byHand += await house.play(act).then(
        () => 1,
        () => 0,
      );
    }
    for (const run of await heldRuns(services.pool, lidos)) {
      const slot = run.state && slotsIn(run.state).find((each) => each.status === 'held');
      // Whoever is told that it was answered meanwhile leaves it.
      if (!slot || slot.trouble === 'unknown') continue;
      const decision = slot.trouble === 'asks' ? { do: 'retry' as const } : { do: 'skip' as const };
      await decide(services, lidos, run.id, slot.key, decision).catch(() => undefined);
    }
  }
  await lookNow(services, watch).catch(() => undefined);
  const lost = await untilQuiet(house, workflows, 120_000);
  await workers.stop();
  await house.behave();
  const reviews = await house.things<Review>('listings', 'review');
  let [sent, twice, wrong] = [0, 0, 0];
  for (const { body } of reviews) {
    const answers = (body.replies ?? []).filter((each, index, all) => each.text !== all[index - 1]?.text);
    const ours = answers.filter(({ by }) => by === 'app');
    sent += ours.length > 0 ? 1 : 0;
    // A hand that comes between the look and the sending, a moment later, nobody can see.
    const over = answers.some(({ by, at }, index) => index > 0 && by === 'app' && at - answers[index - 1]!.at > 3000);
    if (ours.length > 1 || over) twice++;
    if (ours.some(({ text }) => /^(Alone|Asked)/.test(text) && !/“Review/.test(text))) wrong++;
  }
  return { things: count, byHand, sent, twice, wrong, lost, kills: workers.kills };
}

/** Rows posted at the moment they say, which are corrected, moved and withdrawn before it. */
export async function rowsByHand(house: House, count: number, kills: number): Promise<ByHand> {
  const { services, lidos } = house;
  const sheets = await house.connect('sheets');
  const columns = { file: 'Faults', name: 'Rows', columns: 'Caption, Status, At' };
  const table = await createOutlet(services, lidos, sheets, 'table', columns);
  const watch = await watchOutlet(services, lidos, table, 'rows');
  await lookNow(services, watch);
  const settings = { ...FREE, onChange: ['Status'] };
  const workflow = await live(house, plannedRows(watch, [await house.page('Old Quay pool')], settings));
  const chance = seeded(11);
  interface Planned {
    id: number;
    n: number;
    at: number;
    caption: string;
    status: 'ready' | 'draft';
  }
  const rows: Planned[] = [];
  for (let n = 0; n < count; n++) {
    const at = Date.now() + 45_000 + Math.floor(chance() * 25_000);
    const cells = { Caption: `Row ${n}.`, Status: 'ready', At: new Date(at).toISOString() };
    rows.push({
      n,
      at,
      caption: cells.Caption,
      status: 'ready',
      id: await house.play({ do: 'row', tab: 'Rows', cells }),
    });
  }
  await lookNow(services, watch);
  await misbehave(house, 'pages');
  const workers = new KilledWorkers(house, kills);
  let byHand = 0;
  // What is changed within the last seconds before its moment may be too late for anybody.
  for (const row of rows) {
    const times = chance() < 0.75 ? 1 + Math.floor(chance() * 3) : 0;
    for (let time = 0; time < times && Date.now() < row.at - 15_000; time++) {
      const what = chance();
      if (what < 0.4) row.caption = `Row ${row.n}. Corrected ${time + 1}.`;
      else if (what < 0.65) row.at += 15_000;
      else row.status = row.status === 'ready' ? 'draft' : 'ready';
      const cells = { Caption: row.caption, Status: row.status, At: new Date(row.at).toISOString() };
      await house.play({ do: 'change-row', id: row.id, cells });
      byHand++;
    }
  }
  const last = Math.max(...rows.map((row) => row.at));
  await pause(Math.max(0, last + 5000 - Date.now()));
  const lost = await untilQuiet(house, [workflow], 120_000);
  await workers.stop();
  await house.behave();
  const posts = (await house.posts('old-quay')).map((post) => post.text);
  let [sent, twice, wrong, missing] = [0, 0, 0, 0];
  for (const row of rows) {
    const mine = posts.filter((text) => text.startsWith(`Row ${row.n}.`));
    if (mine.length > 0) sent++;
    if (mine.length > 1) twice++;
    if (mine.some((text) => text !== row.caption) || (row.status === 'draft' && mine.length > 0)) wrong++;
    if (row.status === 'ready' && mine.length === 0) missing++;
  }
  return { things: count, byHand, sent, twice, wrong, lost: lost + missing, kills: workers.kills };
}
