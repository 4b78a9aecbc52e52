// The demonstration's desk: what people wrote over the past week, some of it answered by hand, some of it waiting.
import type { Services } from '../base/services.ts';
import { sendOff } from '../desk/send.ts';
import { deskSources, listenAt } from '../desk/sources.ts';
import { noteContact } from '../desk/contact.ts';
import { tendDesk } from '../desk/tend.ts';
import { deskPage } from '../store/desk-shown.ts';
import { outletsOf } from '../store/outlets.ts';
import { contactsPage } from '../store/contacts-shown.ts';
import { lookNow } from '../watch/look.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { playAtLagoon } from './lagoon.ts';

/** Has the desk listen wherever it may. Returns the sources. */
export async function listenEverywhere(services: Services, brandId: number): Promise<number[]> {
  const watches: number[] = [];
  for (const { outletId, what } of await deskSources(services, brandId, await outletsOf(services.pool, brandId))) {
    const watch = await watchOutlet(services, brandId, outletId, what);
    // Profiles that are not a business's keep their comments to themselves.
    if (!(await lookNow(services, watch).then(always, never))) continue;
    await listenAt(services, brandId, { outletId, what, listens: true });
    watches.push(watch);
  }
  return watches;
}

const DAY = 86_400_000;
const always = () => true;
const never = () => false;

/** What people wrote in the last hours. */
const LATELY: object[] = [
  { do: 'comment', profile: 'ternbaylidos', by: 'Nell Harker', text: 'timetabel please!!' },
  {
    do: 'message',
    profile: 'ternbaylidos',
    by: 'Jonas Fell',
    text: 'Is the pool open for under-tens on Sunday? Last time the sign said no.',
  },
  {
    do: 'review',
    location: 'Gannet Point Pool',
    by: 'Tom Ridley',
    stars: 2,
    text: 'Changing rooms were cold and the floor was wet everywhere. £7 is too much for that.',
  },
  { do: 'comment', profile: 'ternbaylidos', by: 'Wanda Oake', text: '🙌🙌🙌' },
  {
    do: 'note',
    profile: 'baybuses',
    text: 'Line 7 calls at the sea wall again from Monday, two minutes from @ternbaylidos. Is the early swim still at half past six?',
  },
  { do: 'review', location: 'Old Quay Pool', by: 'Teo Vance', stars: 1, text: null },
  {
    do: 'message',
    profile: 'ternbaylidos',
    by: 'Ilse Barrow',
    text: 'O horário de inverno já está publicado? Obrigada!',
  },
  {
    do: 'review',
    location: 'Tern Bay Lido',
    by: 'Ana Prata',
    stars: 5,
    text: 'Swam here every morning of my holiday. Staff at the gate remembered my name by day two.',
  },
];

/** What people wrote in the last hours, so that there is something to answer. */
export async function sayLately(services: Services): Promise<void> {
  for (const act of LATELY) await playAtLagoon(services, act);
}

/** Some of what waited was answered by hand, some put off; colleagues know some of the people. */
export async function answerSome(services: Services, brandId: number, userId: number): Promise<void> {
  const now = services.clock();
  const page = await deskPage(
    services.pool,
    brandId,
    { shelf: 'open', order: 'oldest' },
    { after: undefined, most: 50, now },
  );
  // What is older than a few days was read and let be.
  const old = page.filter(({ saidAt, held }) => held === null && saidAt < now - 8 * DAY);
  if (old.length > 0)
    await tendDesk(
      services,
      brandId,
      old.map(({ itemId }) => itemId),
      { do: 'ignore' },
    );
  const free = page
    .filter((entry) => !old.includes(entry))
    .filter(({ held, coming }) => held === null && coming === null);
  const of = (kind: string, index: number) => free.filter((entry) => entry.kind === kind)[index];
  const answers = [
    { entry: of('message', 0), text: 'They are in the basket by the gate. Ask for Rui, he keeps them dry.' },
    { entry: of('comment', 0), text: 'Here you are: the timetable is at the top of our page. See you in the water.' },
  ].flatMap(({ entry, text }) => (entry ? [{ itemId: entry.itemId, text, held: null }] : []));
  if (answers.length > 0) await sendOff(services, brandId, userId, answers);
  const later = of('comment', 1);
  if (later) await tendDesk(services, brandId, [later.itemId], { do: 'snooze', until: now + 20 * 3_600_000 });
  const mine = of('comment', 2);
  if (mine) await tendDesk(services, brandId, [mine.itemId], { do: 'assign', to: userId });
  for (const person of await contactsPage(services.pool, brandId, {}, undefined, 50)) {
    const noted = KNOWN[person.name];
    if (noted)
      await noteContact(services, brandId, person.id, {
        labels: { add: noted.labels, remove: [] },
        notes: { text: noted.notes },
      });
  }
}

const KNOWN: Readonly<Record<string, { labels: string[]; notes: string }>> = {
  'Ana Prata': { labels: ['regular'], notes: 'Swims at seven, all year. Her sister teaches the aqua class.' },
  'Bea Lund': { labels: ['regular', 'lessons'], notes: '' },
  'Sefa Quill': { labels: ['press'], notes: 'Writes for the parish paper; rings before she prints.' },
};
