// What live workflows will likely post, by what they really did at a real Lagoon.
import { DateTime } from 'luxon';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { NO_TIMETABLE } from '@playa/core/timetable/timetable.ts';
import { inTransaction } from '../db/database.ts';
import { keepTimetable } from '../store/timetables.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { live, newVideos, pause } from '../testing/workflow.ts';
import { lookNow } from '../watch/look.ts';
import { resume } from '../workflows/go-live.ts';
import { likelyPosts } from './likely-posts.ts';

const ZONE = 'Europe/Lisbon';
let house: House;
let page: number;
let workflow: number;
/** A day of the brand's, some weeks ahead, so that whatever Lagoon holds already is long past. */
const FIRST = DateTime.fromMillis(testNow(), { zone: ZONE })
  .plus({ weeks: 12 })
  .startOf('week')
  .set({ hour: 9, minute: 30 });

async function setClocks(at: DateTime): Promise<void> {
  house.clock.now = at.toMillis();
  await fetch(`${house.lagoon}/control/api/clock`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ now: at.toMillis() }),
  });
}
const next = (days: number) => {
  const from = DateTime.fromMillis(house.clock.now, { zone: ZONE }).startOf('day');
  return likelyPosts(house.services, house.lidos, { from: from.toMillis(), to: from.plus({ days }).toMillis() });
};

beforeAll(async () => {
  house = await openHouse();
  // Signed in at that time: a sign-in of long ago would have run out.
  await setClocks(FIRST.minus({ days: 1 }));
  await house.connect('pages');
  page = await house.page();
  const watch = await house.watch();
  workflow = await live(house, newVideos(watch, [page]));
  for (let week = 0; week < 3; week++) {
    await setClocks(FIRST.plus({ weeks: week }));
    await house.upload({ title: `Monday’s film ${week}`, publishedAt: house.clock.now });
    await lookNow(house.services, watch);
    await house.settle();
  }
  await setClocks(FIRST.plus({ weeks: 2, days: 2 }));
});
afterAll(() => house?.close());

it('is a post on the days on which there has been one, until somebody stops it', async () => {
  const mondays = [FIRST.plus({ weeks: 3 }), FIRST.plus({ weeks: 4 })];
  expect(await next(14)).toEqual(
    mondays.map((monday) => ({
      ...{ workflow, name: 'A workflow', outlet: page, date: monday.toISODate(), posts: 1, at: monday.toMillis() },
    })),
  );
  await pause(house, workflow);
  expect(await next(14)).toEqual([]);
  await resume(house.services, house.lidos, workflow);
  expect(await next(14)).toHaveLength(2);
  // What was, was: nothing of it is likely.
  house.clock.now += 7 * 86_400_000;
  const [from, to] = [FIRST.plus({ weeks: 2 }).toMillis(), FIRST.plus({ weeks: 3 }).toMillis()];
  expect(await likelyPosts(house.services, house.lidos, { from, to })).toEqual([]);
  house.clock.now -= 7 * 86_400_000;
});

it('is not where the outlet has a pause', async () => {
  const day = FIRST.plus({ weeks: 3 }).toISODate()!;
  const pauses = [{ from: day, to: day, name: 'Closed' }];
  await inTransaction(house.services.pool, (db) =>
    keepTimetable(db, house.lidos, page, { ...NO_TIMETABLE, pauses }, 0),
  );
  expect((await next(14)).map(({ date }) => date)).toEqual([FIRST.plus({ weeks: 4 }).toISODate()]);
});
