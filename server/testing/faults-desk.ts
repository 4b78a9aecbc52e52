// The arm of the fault test at the desk: people answer comments and messages by hand, call answers back and answer again,
// two at once, while a workflow answers some of the same, workers are killed and the network fails. No person may get
// the same twice, and what nobody knows of waits for somebody.
import { setTimeout as pause } from 'node:timers/promises';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';
import { select } from '../db/database.ts';
import { callBack, sendOff } from '../desk/send.ts';
import { ownWorkflow } from '../store/workflows.ts';
import { lookNow } from '../watch/look.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { misbehave, seeded, untilQuiet, type ByHand } from './faults-by-hand.ts';
import type { House } from './house.ts';
import { KilledWorkers } from './killed-workers.ts';
import { live } from './workflow.ts';

const PEOPLE = ['Ana Prata', 'Tom Ridley', 'Bea Lund', 'Jonas Fell', 'Priya Marsh', 'Sefa Quill'];

interface Said {
  text: string;
}

/**
 * @param blind the network knows nothing again: then nothing is sent a second time, and some waits for a person
 */
export async function answersFromDesk(
  house: House,
  { count, kills, blind }: { count: number; kills: number; blind: boolean },
): Promise<ByHand & { held: number }> {
  const { services, lidos } = house;
  const about = blind ? 'Blind' : 'Plain';
  const mo = { ...services, actor: { kind: 'person' as const, userId: house.mo } };
  if (!blind) await house.connect('photos');
  const profile = await house.outlet('@ternbaylidos');
  const comments = await watchOutlet(services, lidos, profile.id, 'comments');
  const messages = await watchOutlet(services, lidos, profile.id, 'messages');
  const caption = `${about} photo`;
  await house.play({ do: 'photo', profile: 'ternbaylidos', caption, picture: 'https://x.example/a.jpg' });
  for (const watch of [comments, messages]) await lookNow(services, watch);
  // It answers every third by itself, comments below them and messages by one.
  const alone: Definition = {
    schema: 1,
    sources: [
      { id: 'comments', watch: comments },
      { id: 'messages', watch: messages },
    ],
    steps: [
      {
        ...{ id: 'mine', verb: 'check' },
        condition: {
          type: 'group',
          match: 'all',
          items: [{ type: 'test', field: 'text', op: 'contains', value: `${about} alone` }],
        },
      },
      { id: 'words', verb: 'compose', name: 'answer', text: 'Answer to {$text}' },
      { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
      {
        ...{ id: 'private', verb: 'check' },
        condition: { type: 'group', match: 'all', items: [{ type: 'test', field: 'level', op: 'empty' }] },
      },
      { id: 'write', verb: 'message', outlet: null, where: 'item', to: 'person.id', caption: 'answer' },
    ],
    settings: { ...NO_SETTINGS, brake: { hour: 10_000, day: 100_000 } },
  };
  const workflow = await live(house, alone);
  const texts = Array.from({ length: count }, (_, n) => `${about} ${n % 3 === 0 ? 'alone' : 'asked'} ${n}.`);
  await misbehave(house, 'photos');
  const workers = new KilledWorkers(house, kills, { BLIND_PHOTOS: blind ? '1' : '0' });
  const chance = seeded(blind ? 19 : 17);
  for (const [n, text] of texts.entries()) {
    const by = PEOPLE[n % PEOPLE.length]!;
    await house.play({ do: n % 2 === 0 ? 'comment' : 'message', profile: 'ternbaylidos', by, text });
  }
  for (const watch of [comments, messages]) await lookNow(services, watch).catch(() => undefined);
  const waiting = await select<{ id: number; text: string }>(
    services.pool,
    `SELECT d.item_id AS id, JSON_VALUE(i.fields, '$.text') AS text FROM desk_entries d JOIN items i ON i.id = d.item_id
     WHERE d.brand_id = ? AND JSON_VALUE(i.fields, '$.text') LIKE ?`,
    [lidos, `${about} %`],
  );
  let byHand = 0;
  const send = async ({ id, text }: { id: number; text: string }) => {
    // As the interface does: whoever answers has seen that nobody has.
    const answers = [{ itemId: id, text: `Answer to ${text}`, held: null, seen: { text, answered: false } }];
    byHand++;
    return sendOff(mo, lidos, house.mo, answers).catch(() => undefined);
  };
  // Some of what the workflow answers is answered by hand too, in the same words.
  const asked = waiting.filter(({ text }) => text.includes('asked') || chance() < 0.3);
  for (const entry of asked) {
    const what = chance();
    // Two colleagues press the button in the same moment.
    await Promise.all(what < 0.3 ? [send(entry), send(entry)] : [send(entry)]);
    if (what > 0.75) {
      await callBack(mo, lidos, [entry.id]).catch(() => []);
      await pause(50);
      await send(entry);
    }
  }
  // Until all that can be called back has gone.
  for (let tries = 0; tries < 240; tries++) {
    const [row] = await select<{ n: number }>(services.pool, 'SELECT COUNT(*) AS n FROM desk_sends', []).catch(() => [
      { n: 1 },
    ]);
    if (Number(row!.n) === 0) break;
    await pause(500);
  }
  const own = (await ownWorkflow(services.pool, lidos, 'answers'))!;
  // The network takes one in two seconds, and what fails is tried again.
  const lost = await untilQuiet(house, [own.id, workflow], 60_000 + count * 4000);
  await workers.stop();
  await house.behave();
  const said = [
    ...(await house.things<Said>('photos', 'comment')),
    ...(await house.things<Said>('photos', 'message')),
  ].map(({ body }) => body.text);
  const [{ held }] = (await select<{ held: number }>(
    services.pool,
    "SELECT COUNT(*) AS held FROM runs WHERE workflow_id IN (?) AND status = 'held'",
    [[own.id, workflow]],
  )) as [{ held: number }];
  const stands = await select<{ text: string; with_somebody: number }>(
    services.pool,
    `SELECT JSON_VALUE(i.fields, '$.text') AS text,
       d.state = 'open' OR EXISTS (
         SELECT 1 FROM runs r WHERE r.item_id IN (d.item_id, COALESCE(d.answer_item, 0)) AND r.status IN ('new', 'waiting', 'held')
       ) AS with_somebody
     FROM desk_entries d JOIN items i ON i.id = d.item_id
     WHERE d.brand_id = ? AND JSON_VALUE(i.fields, '$.text') LIKE ?`,
    [lidos, `${about} %`],
  );
  // What has not gone out is with a person: held, or back at the desk with its reason. What is still under way counts as lost
  // already.
  const kept = new Set(stands.filter((each) => each.with_somebody === 1).map(({ text }) => text));
  let [sent, twice, gone] = [0, 0, 0];
  for (const text of texts) {
    const times = said.filter((each) => each === `Answer to ${text}`).length;
    if (times > 0) sent++;
    if (times > 1) twice++;
    if (times === 0 && !kept.has(text)) gone++;
  }
  return {
    ...{ things: count, byHand, sent, twice, wrong: 0, kills: workers.kills, held: Number(held) },
    lost: lost + gone,
  };
}
