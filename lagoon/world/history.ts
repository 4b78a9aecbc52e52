// What went on at the listings before anybody came with a program: reviews over the last months, most of them answered by
// their owner, sooner or later.
import type { Lagoon } from '../base/lagoon.ts';
import { chanceFrom } from '../base/chance.ts';
import { Things } from '../base/things.ts';
import { answered, type Location, type Review } from '../listings/routes.ts';
import { Audience } from './audience.ts';
import { AUDIENCE } from './inhabitants.ts';
import { REVIEWS } from './week.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** Owners answer by hand up to this long ago; what is newer is left to whoever comes now. */
const BY_HAND_UNTIL = 8 * DAY;

const THANKS = [
  'Thank you for writing, and see you in the water.',
  'Thank you. We pass that on to the crew.',
  'Glad you came!',
];
const SORRY = ['We are sorry. We will look into it.', 'Thank you for telling us; that was not our best day.'];

/** Reviews of some weeks at every pool, without their answers. */
export async function fillReviews(lagoon: Lagoon, seed: string, from: number, to: number): Promise<void> {
  const chance = chanceFrom(seed);
  const audience = new Audience(lagoon);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance() * list.length)]!;
  for (let day = Math.floor(from / DAY) * DAY; day < to; day += DAY)
    for (const location of ['Tern Bay Lido', 'Gannet Point Pool', 'Old Quay Pool']) {
      const at = Math.floor(day + (10 + chance() * 12) * HOUR);
      const [stars, text] = pick(REVIEWS);
      const by = pick(AUDIENCE);
      if (chance() < 0.3 && at >= from && at < to) await audience.play({ do: 'review', location, by, stars, text }, at);
    }
}

/** Most reviews were answered by their owner, within hours or days; cross ones took longer. */
export async function answerByHand(lagoon: Lagoon, seed: string, now: number): Promise<void> {
  const chance = chanceFrom(seed);
  const reviews = new Things<Review>(lagoon, 'listings', 'review');
  const locations = await new Things<Location>(lagoon, 'listings', 'location').list({ most: 50 });
  const ours = new Set(
    locations.filter(({ body }) => body.name.includes('Pool') || body.name.includes('Lido')).map(({ id }) => id),
  );
  for (const { id, parent, body, createdAt } of await reviews.list({ order: 'oldest', most: 500 })) {
    const hours = (2 + chance() * 60) * (body.stars <= 3 ? 2 : 1);
    const at = Math.floor(createdAt + hours * HOUR);
    const answers = chance() < 0.85;
    const words = body.stars <= 3 ? SORRY : THANKS;
    const text = words[Math.floor(chance() * words.length)]!;
    if (!ours.has(parent ?? 0) || body.reply || !answers || at > now - BY_HAND_UNTIL) continue;
    await reviews.change(id, answered(body, 'hand', text, at), at);
  }
}
