import type { Lagoon } from '../base/lagoon.ts';
import { Audience, type AudienceAct } from './audience.ts';
import { AUDIENCE } from './inhabitants.ts';

/** Things that happen in quick succession, to see what an application makes of them. */
export const SCENES: Record<string, { title: string; acts: () => AudienceAct[] }> = {
  comments: {
    title: 'Twenty comments in a minute',
    acts: () =>
      Array.from({ length: 20 }, (_, index) => ({
        do: 'comment',
        profile: 'ternbaylidos',
        by: AUDIENCE[index % AUDIENCE.length]!,
        text: ['timetable please', 'TIMETABLE', '🌊', 'Lovely!', 'the time table?'][index % 5]!,
      })),
  },
  reviews: {
    title: 'Six reviews at three pools',
    acts: () =>
      Array.from({ length: 6 }, (_, index) => ({
        do: 'review',
        location: ['Tern Bay Lido', 'Gannet Point Pool', 'Old Quay Pool'][index % 3]!,
        by: AUDIENCE[index]!,
        stars: [5, 4, 2][index % 3]!,
        text: ['The water was perfect.', null, 'The showers were cold.'][index % 3]!,
      })),
  },
  storm: {
    title: 'A storm closes a pool',
    acts: () => [
      {
        do: 'record',
        queue: 'Pools',
        summary: 'Gannet Point Pool closed: storm',
        details: 'Waves over the wall since six. Closed until further notice.',
        place: 'Gannet Point Pool',
        priority: 'major',
      },
      { do: 'note', profile: 'harbourmaster', text: 'Gale warning for the bay until midnight.', sort: 'original' },
    ],
  },
  bookings: {
    title: 'A busy hour of bookings',
    acts: () =>
      AUDIENCE.slice(0, 8).map((by, index) => ({
        do: 'booking',
        type: ['Sunrise swim', 'Beginners’ lesson', 'Aqua class'][index % 3]!,
        by,
        startsIn: 86_400_000 * (index + 1),
        note: '',
      })),
  },
};

/** Plays a scene over some seconds. Returns at once; what happens, happens in its own time. */
export function playScene(lagoon: Lagoon, name: string, seconds: number): boolean {
  const scene = SCENES[name];
  if (!scene) return false;
  const audience = new Audience(lagoon);
  const acts = scene.acts();
  acts.forEach((act, index) =>
    setTimeout(
      () => void audience.play(act).catch((error: unknown) => console.error('The scene stopped:', error)),
      (index * seconds * 1000) / acts.length,
    ),
  );
  return true;
}
