// An arm of the fault test: several processes give posts the free times of a timetable while workers are killed and people
// move, end and run posts again. Each time is held by one, all are times of the timetable, and in the end each post goes out
// once, whatever was done to it.
import { DateTime } from 'luxon';
import { setTimeout as pause } from 'node:timers/promises';
import { NO_TIMETABLE, timesBetween, type Timetable } from '@playa/core/timetable/timetable.ts';
import { fromTime, inTransaction, select } from '../db/database.ts';
import { addItems } from '../store/items.ts';
import { addRun } from '../store/runs.ts';
import { keepTimetable, timetablesOf } from '../store/timetables.ts';
import { CannotMove, movePost } from '../workflows/move-post.ts';
import { CannotDecide } from '../workflows/decide.ts';
import { cancelRun, rerun } from '../workflows/run-actions.ts';
import { misbehave, seeded, untilQuiet, type ByHand } from './faults-by-hand.ts';
import type { House } from './house.ts';
import { KilledWorkers } from './killed-workers.ts';
import { live, newVideos } from './workflow.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const ZONE = 'Europe/Lisbon';
/** Five times a day of which four are taken at most, and two lie too near one another. */
const TIMES = ['07:00', '08:00', '12:00', '17:00', '20:00'];

/** A post that waits for its time. */
interface Waiting {
  effect: number;
  run: number;
  slot: number | null;
  at: number;
}

/** What came of the arm; `free` is how often a time was given back. */
export async function timesTaken(house: House, count: number, kills: number): Promise<ByHand & { free: number }> {
  const { services, lidos } = house;
  const { pool } = services;
  const mo = { ...services, actor: { kind: 'person' as const, userId: house.mo } };
  const page = await house.page('Old Quay pool');
  const began = Date.now();
  const date = (days: number) => DateTime.fromMillis(began, { zone: ZONE }).plus({ days }).toISODate()!;
  const timetable: Timetable = {
    ...NO_TIMETABLE,
    times: Array.from({ length: 7 }, () => TIMES),
    pauses: [{ from: date(3), to: date(4), name: 'Two days off' }],
    mostPerDay: 4,
    gap: (2 * HOUR) / 1000,
    late: { after: 7 * 86_400, then: 'send' },
  };
  const before = (await timetablesOf(pool, lidos)).get(page)?.revision ?? 0;
  await inTransaction(pool, (db) => keepTimetable(db, lidos, page, timetable, before));
  const watch = await house.watch();
  const definition = newVideos(watch, [page], 'Slot {$title}.');
  Object.assign(definition.steps[1]!, { when: { type: 'free' } });
  const workflow = await live(house, definition);
  const films = Array.from({ length: count }, (_, n) => ({
    identity: `id:slot-${n}`,
    publishedAt: began + n,
    fields: { title: `${n}`, link: null },
    past: false,
  }));
  const items = await addItems(pool, { brandId: lidos, watchId: watch }, films, began);
  // They come in one after the other, so that there are new ones while others are moved.
  const coming = [...items];
  const comeIn = async (many: number) => {
    for (const itemId of coming.splice(0, many))
      await addRun(pool, { brandId: lidos, workflowId: workflow, version: 1, itemId, dueAt: began, now: began });
  };

  const waiting = async (): Promise<Waiting[]> =>
    (
      await select<{ id: number; run_id: number; slot_at: Date | null; due_at: Date }>(
        pool,
        "SELECT id, run_id, slot_at, due_at FROM effects WHERE workflow_id = ? AND status IN ('planned', 'sending', 'account')",
        [workflow],
      )
    ).map(({ id, run_id, slot_at, due_at }) => ({
      effect: id,
      run: run_id,
      slot: slot_at && fromTime(slot_at),
      at: fromTime(due_at),
    }));

  const workers = new KilledWorkers(house, kills);
  const chance = seeded(29);
  const ended = new Set<number>();
  const moved = new Set<number>();
  let [byHand, free] = [0, 0];
  const placedAll = async () => {
    // One whose time has come in the meantime is out, and has had its time too.
    const [row] = await select<{ placed: number }>(
      pool,
      "SELECT COUNT(DISTINCT run_id) AS placed FROM effects WHERE workflow_id = ? AND status <> 'cancelled'",
      [workflow],
    );
    return coming.length === 0 && Number(row!.placed) + ended.size >= count;
  };
  const longest = Date.now() + 180_000;
  while (Date.now() < longest && (byHand < count || !(await placedAll()))) {
    await comeIn(2);
    await pause(150);
    const all = await waiting();
    const post = all[Math.floor(chance() * all.length)];
    // In the end those that were ended last, or run again, come to their times.
    if (!post || byHand >= count) continue;
    const what = chance();
    const act = async () => {
      if (what < 0.3) {
        await cancelRun(mo, lidos, post.run);
        ended.add(post.run);
        free++;
        return;
      }
      if (what < 0.55 && ended.size > 0) {
        const [again] = [...ended].slice(Math.floor(chance() * ended.size));
        await rerun(mo, lidos, again!, 'post');
        ended.delete(again!);
        return;
      }
      const to = post.at + Math.floor(chance() * 20) * 30 * 60_000;
      const others = chance() < 0.5 ? ('stay' as const) : ('move' as const);
      await movePost(mo, lidos, { effect: post.effect, to, others, preview: false });
      moved.add(post.run);
    };
    // Refused, it stays as it is, and whoever asked is told.
    await act().catch((error: unknown) => {
      if (!(error instanceof CannotMove) && !(error instanceof CannotDecide)) throw error;
    });
    byHand++;
  }
  await workers.stop();
  const held = await waiting();
  const wrong = misplaced(held, moved, timetable, began);

  // Months later all of them are due: each goes out once, what was ended does not.
  await misbehave(house, 'pages');
  const later = new KilledWorkers(house, kills, { PLAYA_CLOCK_AHEAD: String(count * DAY) });
  const lost = await untilQuiet(house, [workflow], 180_000);
  await later.stop();
  await house.behave();
  const out = (await house.posts('old-quay')).filter(({ text }) => text.startsWith('Slot '));
  const runs = await select<{ id: number; item_id: number }>(
    pool,
    'SELECT id, item_id FROM runs WHERE workflow_id = ?',
    [workflow],
  );
  let [twice, missing, over] = [0, 0, 0];
  for (const { id, item_id } of runs) {
    const posts = out.filter(({ text }) => text === `Slot ${items.indexOf(item_id)}.`).length;
    if (posts > 1) twice++;
    if (ended.has(id)) over += Math.min(1, posts);
    else if (posts === 0) missing++;
  }
  const killed = workers.kills + later.kills;
  return {
    things: count,
    byHand,
    sent: out.length,
    twice,
    wrong: wrong + over,
    lost: lost + missing,
    kills: killed,
    free,
  };
}

/**
 * How many of those that wait are where the timetable has no place for them: at no time of it, at a time of somebody else's, in
 * a pause, too many on a day, too near one another. Where a person has moved one, that is as they wanted it.
 */
function misplaced(
  waiting: readonly Waiting[],
  moved: ReadonlySet<number>,
  timetable: Timetable,
  from: number,
): number {
  const own = waiting.filter(({ run }) => !moved.has(run));
  const times = new Set(timesBetween(timetable, from, from + 400 * DAY, ZONE));
  let wrong = own.filter(({ slot, at }) => slot === null || slot !== at || !times.has(slot)).length;
  const slots = waiting.flatMap(({ slot }) => slot ?? []);
  wrong += slots.length - new Set(slots).size;
  const days = new Map<string, number>();
  for (const { at } of own) {
    const day = DateTime.fromMillis(at, { zone: ZONE }).toISODate()!;
    days.set(day, (days.get(day) ?? 0) + 1);
  }
  wrong += [...days.values()].filter((posts) => posts > (timetable.mostPerDay ?? Infinity)).length;
  const moments = own.map(({ at }) => at).sort((a, b) => a - b);
  wrong += moments.filter((at, index) => index > 0 && at - moments[index - 1]! < timetable.gap * 1000).length;
  return wrong;
}
