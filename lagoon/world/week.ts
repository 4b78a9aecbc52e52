import type { Lagoon } from '../base/lagoon.ts';
import { Audience, type AudienceAct } from './audience.ts';
import { chanceFrom } from '../base/chance.ts';
import { AUDIENCE, PROFILES } from './inhabitants.ts';

const DAY = 86_400_000;

const CAPTIONS = [
  'First light on the steps. Eleven degrees and not a ripple. #seaswim #ternbay',
  'Gannet Point after the storm: the stones are where they were. #gannetpoint',
  'New lane ropes at Old Quay, thank you to the volunteers. #oldquay #volunteers',
  'Somebody left a very small towel. It is at the desk. #lostandfound',
  'Thirty beginners, thirty certificates. Well swum, all of you! #lessons #ternbay',
  'The café has soup again. #soup',
];
const COMMENTS = [
  'Lovely!',
  'See you there',
  '🌊🌊',
  'When does the café open?',
  'Could you send me the TIMETABLE please',
  'timetable?',
  'What a morning that was',
  'Is it warm enough for children?',
  '😍',
  'The time table please :)',
  'How much is a family ticket?',
  'I was there!',
  'Do you have lockers?',
  'Best pool on the coast',
];
const MESSAGES = [
  'Hello, can I have the timetable?',
  'Do you still have places in the beginners’ lesson?',
  'I left my goggles in the changing room.',
];
export const REVIEWS: [number, string | null][] = [
  [5, 'The water was clear and the staff could not have been kinder.'],
  [5, null],
  [4, 'Wonderful view, and the sauna is worth it. The showers could be warmer.'],
  [3, 'Fine, but the queue for the lockers was long.'],
  [2, 'The changing rooms were cold and the café was closed.'],
  [5, 'We come for the sunrise swim every week. The lifeguards know us by name.'],
  [4, null],
  [1, 'Closed when we came, and nobody had said so.'],
  [5, 'A água estava ótima, muito obrigado!'],
];
const NOTES = [
  'Low water at six, high at noon. Mind the steps.',
  'Line 7 runs every ten minutes to the pools today.',
  'The seal is back at Gannet Point. Please keep a hundred metres away.',
  'Minute book of 1951: “the boiler is a matter of opinion”.',
  'Fifteen of us this morning, and one dog.',
  'Wind north-west, five, later six. 🌬️',
];
const RECORDS: [string, string, string, 'minor' | 'normal' | 'major'][] = [
  ['Tap drips in the second shower', 'Since Tuesday.', 'Old Quay Pool', 'minor'],
  ['Lane rope torn', 'A float is missing.', 'Tern Bay Lido', 'normal'],
  [
    'Steps closed after the storm',
    'Two stones are loose. Nobody may go in from the north side.',
    'Gannet Point Pool',
    'major',
  ],
];

/**
 * Fills a stretch of time with believable activity; the same seed gives the same. What happened in the past is told
 * nobody.
 *
 * @returns how many things happened
 */
export async function fillWeek(lagoon: Lagoon, seed: string, from: number, to: number): Promise<number> {
  const chance = chanceFrom(seed);
  const audience = new Audience(lagoon);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance() * list.length)]!;
  const planned: { at: number; act: AudienceAct }[] = [];
  const plan = (day: number, hours: [number, number], act: AudienceAct) => {
    const at = day + (hours[0] + chance() * (hours[1] - hours[0])) * 3_600_000;
    if (at >= from && at < to) planned.push({ at: Math.floor(at), act });
  };
  let photo = Math.floor(chance() * CAPTIONS.length);
  for (let day = Math.floor(from / DAY) * DAY; day < to; day += DAY) {
    const origin = lagoon.config.origin;
    if (chance() < 0.45) {
      const picture = `${origin}/pages/pictures/photo-${seed}-${day / DAY}.jpg`;
      plan(day, [6, 9], {
        do: 'photo',
        profile: 'ternbaylidos',
        caption: CAPTIONS[photo++ % CAPTIONS.length]!,
        picture,
      });
    }
    for (let count = Math.floor(chance() * 4); count > 0; count--)
      plan(day, [9, 21], { do: 'comment', profile: 'ternbaylidos', by: pick(AUDIENCE), text: pick(COMMENTS) });
    if (chance() < 0.3)
      plan(day, [9, 20], { do: 'message', profile: 'ternbaylidos', by: pick(AUDIENCE), text: pick(MESSAGES) });
    for (const location of ['Tern Bay Lido', 'Gannet Point Pool', 'Old Quay Pool']) {
      if (chance() > 0.35) continue;
      const [stars, text] = pick(REVIEWS);
      plan(day, [10, 22], { do: 'review', location, by: pick(AUDIENCE), stars, text });
    }
    for (let count = Math.floor(chance() * 3); count > 0; count--)
      plan(day, [7, 22], {
        do: 'booking',
        type: pick(['Beginners’ lesson', 'Sunrise swim', 'Aqua class']),
        by: pick(AUDIENCE),
        startsIn: DAY * (1 + Math.floor(chance() * 9)),
        note: '',
      });
    for (const [handle] of PROFILES.slice(3)) {
      if (chance() > 0.4) continue;
      const sort = pick(['original', 'original', 'original', 'repost', 'quote', 'reply'] as const);
      plan(day, [6, 22], {
        do: 'note',
        profile: handle,
        text: sort === 'repost' ? '' : pick(NOTES),
        sort,
        of: pick(PROFILES)[0],
      });
    }
    if (chance() < 0.15) {
      const [summary, details, place, priority] = pick(RECORDS);
      plan(day, [6, 18], { do: 'record', queue: 'Pools', summary, details, place, priority });
    }
    for (const pool of ['Tern Bay Lido', 'Gannet Point Pool', 'Old Quay Pool'])
      plan(day, [6, 6.5], {
        do: 'row',
        tab: 'Water',
        cells: {
          Date: new Date(day).toISOString().slice(0, 10),
          Pool: pool,
          Degrees: Math.round((9 + chance() * 3) * 10) / 10,
          Note: '',
        },
      });
  }
  planned.sort((a, b) => a.at - b.at);
  let done = 0;
  for (const { at, act } of planned) {
    try {
      await audience.play(act, at);
      done++;
    } catch (error) {
      // Nobody can comment before there is a photo.
      if ((error as { status?: number }).status !== 404) throw error;
    }
  }
  return done;
}
