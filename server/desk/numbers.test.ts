// The numbers of the desk on a real database and a real Lagoon: counted from what really happened.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { change, select } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { leaveAlone } from '../store/contacts.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { live } from '../testing/workflow.ts';
import { lookNow } from '../watch/look.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { numbersOf, SILENT_AFTER } from './numbers.ts';
import { CALL_BACK, sendOff } from './send.ts';
import { tendDesk } from './tend.ts';

const HOUR = 3_600_000;
let house: House;
let mo: Services;
let reviews: number;
let messages: number;

beforeAll(async () => {
  house = await openHouse();
  house.clock.now = testNow();
  await house.connect('listings');
  await house.connect('photos');
  mo = { ...house.services, actor: { kind: 'person', userId: house.mo } };
  reviews = await watchOutlet(house.services, house.lidos, (await house.outlet('Tern Bay Lido')).id, 'reviews');
  messages = await watchOutlet(house.services, house.lidos, (await house.outlet('@ternbaylidos')).id, 'messages');
  for (const each of [reviews, messages]) await lookNow(house.services, each);
  // What lies behind is not what is counted here.
  await change(house.services.pool, 'DELETE FROM desk_entries', []);
});
afterAll(() => house?.close());

const numbers = () =>
  numbersOf(house.services.pool, house.lidos, { weeks: 4, zone: 'Europe/Lisbon', now: house.clock.now });
async function said(act: object, watch: number): Promise<{ id: number; item: number }> {
  const id = await house.play(act as never);
  await lookNow(house.services, watch);
  await house.settle();
  const [row] = await select<{ id: number }>(house.services.pool, 'SELECT MAX(item_id) AS id FROM desk_entries', []);
  return { id, item: row!.id };
}
const review = (stars: number, by = 'Ana Prata') =>
  said({ do: 'review', location: 'Tern Bay Lido', by, stars, text: `Stars ${stars}` }, reviews);
const message = (text: string, by: string) => said({ do: 'message', profile: 'ternbaylidos', by, text }, messages);

describe('the numbers of the desk', () => {
  it('count who answered, how long it took, and who still waits', async () => {
    const byHand = await review(5);
    house.clock.now += 2 * HOUR;
    await sendOff(mo, house.lidos, house.mo, [{ itemId: byHand.item, text: 'Thank you!', held: null }]);
    house.clock.now += CALL_BACK;
    await house.settle();
    const there = await review(3);
    house.clock.now += HOUR;
    await house.play({ do: 'answer-review', id: there.id, text: 'We saw this.' });
    // Playa looks later: the network says when it was.
    house.clock.now += 3 * HOUR;
    await lookNow(house.services, reviews);
    const left = await review(4);
    await tendDesk(mo, house.lidos, [left.item], { do: 'ignore' });
    await review(1);
    house.clock.now += 5 * HOUR;
    const { all, weeks, places, byStars } = await numbers();
    expect(all).toMatchObject({ asked: 3, answered: 2, waiting: 1 });
    // Lagoon keeps the machine's time: one at once, one after two hours, and one that has waited for eleven.
    expect(Math.round(all.median! / HOUR)).toBe(2);
    expect(all.ninety).toBeNull();
    const sum = (field: 'alone' | 'people' | 'there' | 'left' | 'waiting') =>
      weeks.reduce((total, week) => total + week[field], 0);
    expect(['alone', 'people', 'there', 'left', 'waiting'].map((field) => sum(field as 'alone'))).toEqual([
      0, 1, 1, 1, 1,
    ]);
    expect(byStars).toEqual([1, 0, 1, 1, 1]);
    expect(places).toHaveLength(1);
  });

  it('tell what became of those whom a workflow wrote to', async () => {
    house.clock.now = testNow();
    const welcome: Definition = {
      schema: 1,
      sources: [{ id: 'source', watch: messages }],
      steps: [
        { id: 'words', verb: 'compose', name: 'answer', text: 'Here it is, {$person.name}.' },
        { id: 'write', verb: 'message', outlet: null, where: 'item', to: 'person.id', caption: 'answer' },
      ],
      settings: undefined,
    };
    const workflow = await live(house, welcome);
    await message('Timetable please', 'Tom Ridley');
    await message('Timetable please', 'Bea Lund');
    const stopped = await message('Timetable please', 'Jonas Fell');
    await message('Timetable please', 'Priya Marsh');
    // Whoever writes again starts a journey of their own, too.
    await message('Thank you!', 'Tom Ridley');
    const [{ contact_id }] = (await select<{ contact_id: number }>(
      house.services.pool,
      'SELECT contact_id FROM desk_entries WHERE item_id = ?',
      [stopped.item],
    )) as [{ contact_id: number }];
    await leaveAlone(house.services.pool, house.lidos, contact_id, 'They asked.', house.clock.now);
    const one = (await numbers()).journeys.find((each) => each.workflowId === workflow);
    expect(one).toMatchObject({ begun: 5, again: 1, stopped: 1, silent: 0, open: 3 });
    house.clock.now += SILENT_AFTER + HOUR;
    const two = (await numbers()).journeys.find((each) => each.workflowId === workflow);
    expect(two).toMatchObject({ begun: 5, again: 1, stopped: 1, silent: 3, open: 0 });
  });

  it('are the same when they are counted from the logbook', async () => {
    const kept = await select(house.services.pool, 'SELECT * FROM journeys ORDER BY run_id', []);
    const counted = await select<{ run_id: number; first_at: Date; contact_id: number }>(
      house.services.pool,
      `SELECT l.run_id, d.contact_id, MIN(l.at) AS first_at FROM logbook l JOIN runs r ON r.id = l.run_id
         JOIN desk_entries d ON d.item_id = r.item_id JOIN workflows f ON f.id = l.workflow_id
       WHERE l.action IN ('reply', 'message') AND f.own IS NULL GROUP BY l.run_id ORDER BY l.run_id`,
      [],
    );
    expect(kept.map((each) => (each as { run_id: number }).run_id)).toEqual(counted.map(({ run_id }) => run_id));
    expect(kept.map((each) => (each as { contact_id: number }).contact_id)).toEqual(
      counted.map(({ contact_id }) => contact_id),
    );
  });

  it('of another brand are its own', async () => {
    const { all, journeys } = await numbersOf(house.services.pool, house.bakehouse, {
      ...{ weeks: 52, zone: 'Europe/London', now: house.clock.now },
    });
    expect(all.asked).toBe(0);
    expect(journeys).toEqual([]);
  });
});
