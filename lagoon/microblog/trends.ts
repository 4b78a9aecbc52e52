// What the coast talks about, day by day, as a JSON Feed (version 1.1).
import { chanceFrom } from '../base/chance.ts';

const DAY = 86_400_000;
const DAYS = 7;
const A_DAY = 4;
const TOPICS = [
  'Spring tide at the harbour',
  'The seal of Gannet Point',
  'First frost on the steps',
  'Line 7 runs late',
  'Bread queues at the dunes',
  'The old boiler',
  'Winter swimming',
  'Storm watch',
  'A lost paddle board',
  'Night swim with lanterns',
  'Tide gate repairs',
  'Sea temperature record',
  'The lifeguards’ choir',
  'Harbour lights',
] as const;

export function trendsFeed(base: string, now: number): object {
  const today = Math.floor(now / DAY) * DAY;
  const items = Array.from({ length: DAYS }, (_, back) => today - back * DAY).flatMap((day) => {
    const at = day + 6 * 3_600_000;
    if (at > now) return [];
    const chance = chanceFrom(`trends ${day}`);
    const topics = new Set<string>();
    while (topics.size < A_DAY) topics.add(TOPICS[Math.floor(chance() * TOPICS.length)]!);
    return [...topics].map((topic, index) => ({
      id: `${base}/trends/${day / DAY}-${index}`,
      url: `${base}/trends#${day / DAY}-${index}`,
      title: topic,
      content_text: `${20 + Math.floor(chance() * 200)} notes about it.`,
      date_published: new Date(at).toISOString(),
      tags: ['coast'],
    }));
  });
  return {
    version: 'https://jsonfeed.org/version/1.1',
    title: 'What the coast talks about',
    home_page_url: `${base}/trends`,
    feed_url: `${base}/trends.json`,
    items,
  };
}
