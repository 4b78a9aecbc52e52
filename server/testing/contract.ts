// The cases that every connector has to stand: the contract between Playa and a network of any kind.
import { createHash } from 'node:crypto';
import type { ActInput, ActName } from '@playa/core/model/acts.ts';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import type { NetworkKind } from '@playa/core/outlets/networks.ts';
import type { House } from './house.ts';

/** One act of a connector, as the contract tries it. */
export interface ContractAct<A extends ActName = ActName> {
  act: A;
  /** The outlet it is tried at, by name. */
  outlet: string;
  /** An input with these words. What it answers is made first. */
  input(house: House, words: string): Promise<ActInput<A>>;
  /** The words of everything of the sort that is at the network now, as its audience has it. */
  there(house: House): Promise<string[]>;
  /** The longest words that are taken, and ones that are too long; null when there is no limit. */
  longest: { fits: string; tooLong: string } | null;
  /** As many hashtags or names as are taken, and one more, where too many are refused. */
  crowded?: { fits: string; tooMany: string };
}

export interface Contract {
  kind: NetworkKind;
  /** What can be made to go wrong, by Lagoon's names. */
  writes: string;
  reads: string;
  outlets: { kind: OutletKind; some: string[] };
  acts: ContractAct[];
}

const picture = (house: House) => `${house.lagoon}/pages/pictures/contract.jpg`;
const wide = '🌊é漢字 ⁉ \u202eabc\u202c <b>&amp;</b> *_~ “quoted” 👩🏽‍🚒';
/** Words with everything in them that is easily broken on the way. */
export const UNICODE = `Olá: ${wide}`;

async function lastComment(house: House): Promise<string> {
  const id = await house.play({ do: 'comment', profile: 'ternbaylidos', by: 'Ana Prata', text: 'timetable?' });
  return `c${id}`;
}
/** Rooms read markdown: a backslash keeps the sign after it as it is (CommonMark section 2.4). */
const asShown = (text: string) => text.replace(/\\([!-/:-@[-`{-~])/g, '$1');
const words = (all: { body: { text?: string } }[]) => all.map((each) => each.body.text ?? '');

const publish = (
  outlet: string,
  there: ContractAct['there'],
  longest: ContractAct['longest'],
  more: (house: House) => Partial<ActInput<'publish'>> = () => ({}),
): ContractAct<'publish'> => ({
  act: 'publish',
  outlet,
  input: async (house, text) => ({ text, card: null, ...more(house) }),
  there,
  longest,
});

const x = (count: number) => 'x'.repeat(count);
/** Words with a sign before each: "#a0 #a1". */
const many = (sign: string, count: number) => Array.from({ length: count }, (_, index) => `${sign}a${index}`).join(' ');

/** Every network that can be reached over HTTP; mail and web hooks are tried on their own. */
export const CONTRACTS: Contract[] = [
  {
    kind: 'pages',
    writes: 'pages',
    reads: 'pages-read',
    outlets: { kind: 'page', some: ['Tern Bay Lidos', 'Old Quay pool'] },
    acts: [
      publish('Tern Bay Lidos', async (house) => (await house.posts()).map((post) => post.text), {
        fits: x(2000),
        tooLong: x(2001),
      }),
    ],
  },
  {
    kind: 'microblog',
    writes: 'microblog',
    reads: 'microblog-read',
    outlets: { kind: 'microblog', some: ['@ternbaylidos', '@moatthelido'] },
    acts: [
      {
        ...publish('@ternbaylidos', async (house) => words(await house.things('microblog', 'note')), {
          // Addresses weigh 24 and emoji two: 24 + 1 + 2 × 137 + 1 = 300.
          fits: `${'🌊'.repeat(137)}! https://lidos.example/${x(200)}`,
          tooLong: x(301),
        }),
        crowded: { fits: `${many('@', 10)} post@lidos.example`, tooMany: many('@', 11) },
      },
      {
        act: 'reply',
        outlet: '@ternbaylidos',
        input: async (house, text) => ({
          to: String(await house.play({ do: 'note', profile: 'harbourmaster', text: 'High water at noon.' })),
          text,
        }),
        there: async (house) => words(await house.things('microblog', 'note')),
        longest: { fits: x(300), tooLong: x(301) },
      },
    ],
  },
  {
    kind: 'photos',
    writes: 'photos',
    reads: 'photos-read',
    outlets: { kind: 'photos', some: ['@ternbaylidos', '@mo.okoro'] },
    acts: [
      {
        ...publish(
          '@ternbaylidos',
          async (house) =>
            (await house.things<{ caption: string }>('photos', 'photo')).map((each) => each.body.caption),
          { fits: x(2000), tooLong: x(2001) },
          (house) => ({ media: [{ type: 'picture', url: picture(house), alt: 'A pool' }] }),
        ),
        crowded: { fits: `${many('#', 20)} https://lidos.example/a#part`, tooMany: many('#', 21) },
      },
      {
        act: 'reply',
        outlet: '@ternbaylidos',
        input: async (house, text) => ({ to: await lastComment(house), text }),
        there: async (house) => words(await house.things('photos', 'comment')),
        longest: { fits: x(1000), tooLong: x(1001) },
      },
      {
        act: 'message',
        outlet: '@ternbaylidos',
        input: async (house, text) => {
          await lastComment(house);
          return { to: 'u3', text };
        },
        there: async (house) => words(await house.things('photos', 'message')),
        longest: { fits: x(1000), tooLong: x(1001) },
      },
    ],
  },
  {
    kind: 'boards',
    writes: 'boards',
    reads: 'boards-read',
    outlets: { kind: 'board', some: ['Swim lessons', 'Swim lessons · Beginners'] },
    acts: [
      publish(
        'Swim lessons · Beginners',
        async (house) =>
          (await house.things<{ description: string }>('boards', 'picture')).map((each) => each.body.description),
        { fits: x(500), tooLong: x(501) },
        (house) => ({ title: 'A lesson', media: [{ type: 'picture', url: picture(house), alt: '' }] }),
      ),
    ],
  },
  {
    kind: 'professional',
    writes: 'professional',
    reads: 'professional-read',
    outlets: { kind: 'professional', some: ['Tern Bay Lidos', 'Mo Okoro (own profile)'] },
    acts: [
      publish(
        'Tern Bay Lidos',
        async (house) =>
          (await house.things<{ commentary: string }>('professional', 'share')).map((each) => each.body.commentary),
        { fits: x(3000), tooLong: x(3001) },
      ),
    ],
  },
  {
    kind: 'rooms',
    writes: 'rooms',
    reads: 'rooms-read',
    outlets: { kind: 'room', some: ['#general · Tern Bay crew'] },
    acts: [
      publish('#general · Tern Bay crew', async (house) => words(await house.things('rooms', 'message')).map(asShown), {
        fits: x(2000),
        tooLong: x(2001),
      }),
    ],
  },
  {
    kind: 'broadcast',
    writes: 'broadcast',
    reads: 'broadcast-read',
    outlets: { kind: 'broadcast', some: [] },
    acts: [
      publish(
        'Tern Bay water',
        async (house) => (await house.things<{ words: string }>('broadcast', 'message')).map((each) => each.body.words),
        { fits: x(4000), tooLong: x(4001) },
      ),
    ],
  },
  {
    kind: 'listings',
    writes: 'listings',
    reads: 'listings-read',
    outlets: { kind: 'listing', some: ['Tern Bay Lido', 'Gannet Point Pool', 'Old Quay Pool'] },
    acts: [
      {
        act: 'reply',
        outlet: 'Tern Bay Lido',
        input: async (house, text) => ({ to: await newReview(house), text }),
        there: async (house) =>
          (await house.things<{ reply: { text: string } | null }>('listings', 'review')).flatMap(
            (each) => each.body.reply?.text ?? [],
          ),
        longest: { fits: x(1500), tooLong: x(1501) },
      },
    ],
  },
  {
    kind: 'bookings',
    writes: 'bookings',
    reads: 'bookings-read',
    outlets: { kind: 'classes', some: ['Sunrise swim'] },
    acts: [],
  },
  {
    kind: 'sheets',
    writes: 'sheets',
    reads: 'sheets-read',
    outlets: { kind: 'sheet', some: ['Marketing · Own posts'] },
    acts: [
      {
        act: 'record',
        outlet: 'Marketing · Own posts',
        input: async (_house, text) => ({ match: null, values: { Title: text } }),
        there: async (house) =>
          (await house.things<{ cells: { Title?: string } }>('sheets', 'row')).flatMap(
            (each) => each.body.cells.Title ?? [],
          ),
        longest: null,
      },
    ],
  },
  {
    kind: 'files',
    writes: 'files',
    reads: 'files-read',
    outlets: { kind: 'folder', some: ['Class pictures'] },
    acts: [],
  },
  {
    kind: 'text-model',
    writes: 'text-model',
    reads: 'text-model-read',
    outlets: { kind: 'model', some: ['Tide, small'] },
    acts: [],
  },
  {
    kind: 'helpdesk',
    writes: 'helpdesk',
    reads: 'helpdesk-read',
    outlets: { kind: 'queue', some: ['Pools'] },
    acts: [
      {
        act: 'reply',
        outlet: 'Pools',
        input: async (house, text) => {
          const id = await house.play({ do: 'record', queue: 'Pools', summary: 'A storm', priority: 'major' });
          return { to: `REC${String(id).padStart(7, '0')}`, text };
        },
        there: async (house) => words(await house.things('helpdesk', 'entry')),
        longest: { fits: x(4000), tooLong: x(4001) },
      },
    ],
  },
  {
    kind: 'video',
    writes: 'video',
    reads: 'video',
    outlets: { kind: 'channel', some: ['Tern Bay channel'] },
    acts: [
      {
        act: 'reply',
        outlet: 'Tern Bay channel',
        input: async (house, text) => {
          const film = await house.upload({ title: 'For comments' });
          return {
            to: String(await house.play({ do: 'film-comment', film, by: 'Ana Prata', text: 'Which goggles?' })),
            text,
          };
        },
        there: async (house) => words(await house.things('video', 'comment')),
        longest: { fits: x(1000), tooLong: x(1001) },
      },
    ],
  },
];

/** A review that nobody has answered, by the network's opaque id. */
async function newReview(house: House): Promise<string> {
  const id = await house.play({
    do: 'review',
    location: 'Tern Bay Lido',
    by: 'Ana Prata',
    stars: 4,
    text: 'Lovely water.',
  });
  return `${createHash('sha256').update(`review ${id}`).digest('base64url').slice(0, 16)}~${id}`;
}
