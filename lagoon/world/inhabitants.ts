// Who and what is in the smaller services when Lagoon opens.
import type { EventType } from '../bookings/routes.ts';
import type { Chat } from '../broadcast/api.ts';
import type { Folder, StoredFile } from '../files/routes.ts';
import type { Queue } from '../helpdesk/routes.ts';
import type { Lagoon } from '../base/lagoon.ts';
import type { Location } from '../listings/routes.ts';
import type { Board } from '../boards/routes.ts';
import type { MicroProfile } from '../microblog/store.ts';
import { PhotoStore } from '../photos/store.ts';
import type { Author } from '../professional/routes.ts';
import { RoomStore } from '../rooms/store.ts';
import type { Tab } from '../sheets/routes.ts';
import { Things } from '../base/things.ts';

const MO = 1;
const INES = 2;

/** The audience, besides Mo and Ines. */
export const AUDIENCE = [
  'Ana Prata',
  'Tom Ridley',
  'Bea Lund',
  'Jonas Fell',
  'Priya Marsh',
  'Sefa Quill',
  'Wanda Oake',
  'Ilse Barrow',
  'Teo Vance',
  'Nell Harker',
] as const;

export const PROFILES: [handle: string, name: string, about: string, owner: number][] = [
  ['ternbaylidos', 'Tern Bay Lidos', 'Three open-air sea pools.', MO],
  ['moatthelido', 'Mo Okoro', 'Looks after the lidos.', MO],
  ['marrambakehouse', 'Marram Bakehouse', 'Bread by the dunes.', INES],
  ['harbourmaster', 'The harbour master', 'Tides and traffic.', 3],
  ['ternbayswimmers', 'Tern Bay swimmers', 'We go in anyway.', 4],
  ['gannetdivers', 'Gannet divers', 'From the stones.', 5],
  ['oldquayhistory', 'Old Quay history', 'Minute books and photographs.', 6],
  ['baybuses', 'Bay buses', 'Lines 2 and 7.', 7],
  ['dunerangers', 'Dune rangers', 'Mind the marram.', 8],
  ['tidetables', 'Tide tables', 'Twice a day.', 9],
];

export async function inhabit(lagoon: Lagoon, now: number): Promise<void> {
  const { db } = lagoon;
  await db.query('INSERT IGNORE INTO people (id, name) VALUES ?', [AUDIENCE.map((name, index) => [index + 3, name])]);

  const micro = new Things<MicroProfile>(lagoon, 'microblog', 'profile');
  for (const [handle, name, about, owner] of PROFILES)
    await micro.add({ handle, name, about }, now, { owner, key: handle });

  const photos = new PhotoStore(lagoon);
  for (const [handle, name, about, type, owner] of [
    ['ternbaylidos', 'Tern Bay Lidos', 'Salt water, three times.', 'business', MO],
    ['mo.okoro', 'Mo Okoro', 'My own.', 'personal', MO],
    ['marrambakehouse', 'Marram Bakehouse', 'Loaves.', 'business', INES],
  ] as const)
    await photos.profiles.add({ handle, name, about, type }, now, { owner, key: handle });

  const boards = new Things<Board>(lagoon, 'boards', 'board');
  const sections = new Things<{ name: string }>(lagoon, 'boards', 'section');
  for (const [name, about, owner, parts] of [
    ['Swim lessons', 'Films and tips for learning to swim in the sea.', MO, ['Beginners', 'Open water']],
    ['Our photographs', 'What our visitors liked.', MO, []],
    ['The pools in winter', 'Ice on the steps.', MO, []],
    ['Bread', 'What comes out of the oven.', INES, ['Rye']],
  ] as const) {
    const board = await boards.add({ name, about }, now, { owner });
    for (const part of parts) await sections.add({ name: part }, now, { parent: board });
  }

  const authors = new Things<Author>(lagoon, 'professional', 'author');
  await authors.add({ type: 'profile', name: 'Mo Okoro', about: 'Marketing for three sea pools.' }, now, { owner: MO });
  await authors.add({ type: 'organisation', name: 'Tern Bay Lidos', about: 'A community trust.' }, now, { owner: MO });
  await authors.add({ type: 'organisation', name: 'Marram Bakehouse', about: 'A bakery.' }, now, { owner: INES });

  const rooms = new RoomStore(lagoon);
  for (const [name, about, owner, groups, channels] of [
    [
      'Tern Bay crew',
      'Everyone who works at the pools.',
      MO,
      ['Lifeguards', 'Volunteers'],
      [
        ['general', false],
        ['new-films', false],
        ['notices', true],
      ],
    ],
    [
      'Coast watch',
      'Neighbours along the bay.',
      3,
      ['On duty'],
      [
        ['talk', false],
        ['sightings', false],
      ],
    ],
  ] as const) {
    const community = await rooms.communities.add({ name, about }, now, { owner });
    for (const group of groups) await rooms.groups.add({ name: group }, now, { parent: community });
    for (const [channel, readOnly] of channels)
      await rooms.channels.add({ name: channel, readOnly }, now, { parent: community });
  }

  const chats = new Things<Chat>(lagoon, 'broadcast', 'chat');
  for (const [handle, invite, title, type, subscribers, owner] of [
    ['ternbaywater', 'kD3vW8pQ', 'Tern Bay water', 'channel', 1240, MO],
    [null, 'mR7xT2nB', 'Lifeguards', 'group', 18, MO],
    ['coastdigest', 'pL5zH9cF', 'Coast digest', 'channel', 5310, MO],
    ['marrambread', 'wN4jS6gY', 'Bread today', 'channel', 320, INES],
  ] as const)
    await chats.add({ handle, invite, title, type, subscribers, admins: [] }, now, { owner, key: handle ?? invite });

  const locations = new Things<Location>(lagoon, 'listings', 'location');
  for (const [business, name, address, owner] of [
    ['Tern Bay Lidos', 'Tern Bay Lido', '1 Sea Wall, Tern Bay', MO],
    ['Tern Bay Lidos', 'Gannet Point Pool', 'Gannet Point, Tern Bay', MO],
    ['Tern Bay Lidos', 'Old Quay Pool', 'Old Quay 4, Tern Bay', MO],
    ['Marram Bakehouse', 'Marram Bakehouse', 'Dune Road 12', INES],
  ] as const)
    await locations.add({ business, name, address }, now, { owner });

  const types = new Things<EventType>(lagoon, 'bookings', 'type');
  for (const [name, minutes, where, owner] of [
    ['Beginners’ lesson', 45, 'Tern Bay Lido', MO],
    ['Sunrise swim', 60, 'Gannet Point Pool', MO],
    ['Aqua class', 45, 'Old Quay Pool', MO],
    ['Baking morning', 180, 'Marram Bakehouse', INES],
  ] as const)
    await types.add({ name, minutes, where }, now, { owner });

  const tabs = new Things<Tab>(lagoon, 'sheets', 'tab');
  const column = (name: string, type: Tab['columns'][number]['type'] = 'text') => ({ name, type });
  await tabs.add(
    {
      file: 'Pool log',
      name: 'Water',
      columns: [column('Date', 'date'), column('Pool'), column('Degrees', 'number'), column('Note')],
    },
    now,
    { owner: MO },
  );
  await tabs.add(
    {
      file: 'Marketing',
      name: 'Own posts',
      columns: [column('Title'), column('Link', 'link'), column('Network'), column('Published', 'date')],
    },
    now,
    { owner: MO },
  );
  await tabs.add(
    { file: 'Marketing', name: 'Trends', columns: [column('Topic'), column('Link', 'link'), column('Day', 'date')] },
    now,
    { owner: MO },
  );
  await tabs.add(
    {
      file: 'Marketing',
      name: 'Ideas',
      columns: [column('Caption'), column('Picture', 'link'), column('Ready', 'yes-no')],
    },
    now,
    { owner: MO },
  );
  await tabs.add(
    {
      file: 'Marketing',
      name: 'Plan',
      columns: [column('Caption'), column('Status'), column('At'), column('Posted')],
    },
    now,
    { owner: MO },
  );
  await tabs.add({ file: 'Bread', name: 'Orders', columns: [column('Loaf'), column('Count', 'number')] }, now, {
    owner: INES,
  });

  const folders = new Things<Folder>(lagoon, 'files', 'folder');
  const files = new Things<StoredFile>(lagoon, 'files', 'file');
  const classes = await folders.add({ name: 'Class pictures' }, now, { owner: MO });
  for (const name of ['Beginners’ lesson', 'Sunrise swim', 'Aqua class'])
    await files.add(
      {
        name: `${name}.jpg`,
        type: 'image/jpeg',
        size: 180_000,
        seed: `class-${name.length}-${name.slice(0, 3)}`,
        content: null,
      },
      now,
      { parent: classes },
    );
  await folders.add({ name: 'Posters' }, now, { owner: MO });

  const queues = new Things<Queue>(lagoon, 'helpdesk', 'queue');
  await queues.add({ name: 'Pools' }, now, { owner: MO });
  await queues.add({ name: 'Bakery' }, now, { owner: INES });

  // Films that belong together can be watched together.
  const [films] = await db.query(
    "SELECT id FROM videos WHERE channel_id = 'ch_7tQm2xVb9Lk' AND title LIKE '%esson%' ORDER BY published_at DESC",
  );
  await new Things<{ channel: string; title: string; films: string[] }>(lagoon, 'video', 'playlist').add(
    { channel: 'ch_7tQm2xVb9Lk', title: 'Lessons', films: (films as { id: string }[]).map((film) => film.id) },
    now,
  );
}
