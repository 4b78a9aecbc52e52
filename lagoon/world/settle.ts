import { rows, type Database } from '../base/db.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { addVideo } from '../video/store.ts';
import { BAKEHOUSE_FILMS, LIDO_FILMS, type Film } from './films.ts';
import { inhabit } from './inhabitants.ts';
import { Audience } from './audience.ts';
import { SCENES } from './scenes.ts';
import { answerByHand, fillReviews } from './history.ts';
import { fillWeek } from './week.ts';

const DAY = 86_400_000;

/** How long things have been going on in the smaller services. */
const LIVED = 26 * DAY;
/** And for how long people have written reviews. */
const REVIEWED = 84 * DAY;
/** Time of day, UTC, by which the films of a day are out. */
const EARLY = '06:30';

/** Fills an empty Lagoon with its people and places, and with what has happened there in the last weeks. */
export async function settle(lagoon: Lagoon, empty: boolean): Promise<void> {
  const { db, clock } = lagoon;
  const now = clock.now();
  if ((await rows(db, 'SELECT id FROM people LIMIT 1')).length > 0) return;
  await db.query('INSERT INTO people (id, name) VALUES (1, ?), (2, ?)', ['Mo Okoro', 'Ines Duarte']);
  await db.query('INSERT INTO channels (id, handle, title, about, owner_id) VALUES ?', [
    [
      [
        'ch_7tQm2xVb9Lk',
        'ternbaylidos',
        'Tern Bay channel',
        'Lessons, water and weather at three open-air sea pools: Tern Bay, Gannet Point and Old Quay.',
        1,
      ],
      [
        'ch_4oQy8wPz1Rn',
        'oldquayfilms',
        'Old Quay films',
        'Longer films about the old harbour pool and the people who look after it.',
        1,
      ],
      ['ch_2mKb6rJd5Ws', 'marrambakehouse', 'Marram Bakehouse', 'Bread by the dunes.', 2],
    ],
  ]);
  await db.query('INSERT INTO pages (id, slug, title, about, picture, owner_id) VALUES ?', [
    [
      [101, 'tern-bay-lidos', 'Tern Bay Lidos', 'Three open-air sea pools, run by their swimmers.', 'page-tern-bay', 1],
      [102, 'gannet-point', 'Gannet Point pool', 'The one with the diving stones.', 'page-gannet', 1],
      [103, 'old-quay', 'Old Quay pool', 'Heated since 1934, more or less.', 'page-old-quay', 1],
      [104, 'marram-bakehouse', 'Marram Bakehouse', 'Bread by the dunes, from half past six.', 'bread-page', 2],
    ],
  ]);
  if (empty) return inhabit(lagoon, now - 400 * DAY);
  await addFilms(db, 'ch_7tQm2xVb9Lk', 'film', LIDO_FILMS, now);
  await addFilms(db, 'ch_4oQy8wPz1Rn', 'quay', OLD_QUAY(), now);
  await addFilms(db, 'ch_2mKb6rJd5Ws', 'bread', BAKEHOUSE_FILMS, now);
  // Long ago, so that whoever sets Lagoon's clock back still finds them there.
  await inhabit(lagoon, now - 400 * DAY);
  await fillReviews(lagoon, 'months', now - REVIEWED, now - LIVED);
  await fillWeek(lagoon, 'first', now - LIVED, now);
  await answerByHand(lagoon, 'owner', now);
  // A week without an incident, or in which nobody asks for the timetable, would show too little.
  const audience = new Audience(lagoon);
  const midnight = Math.floor(now / DAY) * DAY;
  const [storm] = SCENES.storm!.acts();
  await audience.play(storm!, midnight - 2 * DAY + 9 * 3_600_000);
  for (const [daysAgo, by, text] of [
    [3, 'Ana Prata', 'timetable please!'],
    [1, 'Tom Ridley', 'Could I have the TIMETABLE too?'],
  ] as const)
    await audience.play(
      { do: 'comment', profile: 'ternbaylidos', by, text },
      midnight - daysAgo * DAY + 10 * 3_600_000,
    );
}

/** The day that the films call today: before the morning's films it is still yesterday, or the newest would be missing. */
function filmsToday(now: number): number {
  const [hours, minutes] = EARLY.split(':').map(Number) as [number, number];
  return Math.floor((now - (hours * 60 + minutes) * 60_000) / DAY) * DAY;
}

async function addFilms(
  db: Database,
  channel: string,
  prefix: string,
  films: readonly Film[],
  now: number,
): Promise<void> {
  const midnight = filmsToday(now);
  for (const [index, film] of films.entries()) {
    const [hours, minutes] = film.at.split(':').map(Number) as [number, number];
    await addVideo(db, {
      channel_id: channel,
      title: film.title,
      description: film.description,
      seconds: film.seconds,
      picture: `${prefix}-${index}`,
      views: 40 + ((index * 137) % 900),
      published_at: midnight - film.daysAgo * DAY + (hours * 60 + minutes) * 60_000,
    });
  }
}

function OLD_QUAY(): Film[] {
  const history = Array.from(
    { length: 30 },
    (_, year) =>
      `${1934 + year * 3}: ${['the wall was raised by a foot', 'the boiler was replaced', 'the gate was painted green again', 'the storm took the diving board'][year % 4]}, and the minutes of the trust say who paid for it.`,
  );
  return [
    {
      daysAgo: 24,
      at: '10:00',
      seconds: 1260,
      title: 'The boiler room, a tour',
      description: 'How a boiler from 1951 keeps a harbour pool at nineteen degrees.\n\nFilmed by the volunteers.',
    },
    {
      daysAgo: 10,
      at: '10:00',
      seconds: 2710,
      title: 'Ninety years of Old Quay',
      description: `A walk through the minute books of the trust.\n\n${history.join('\n')}`,
    },
    {
      daysAgo: 3,
      at: '10:00',
      seconds: 940,
      title: 'Repairing the tide gate',
      description:
        'Four people, one crane, and a gate that has to fit before the tide turns.\n\nThank you to everyone who lent a hand.',
    },
  ];
}
